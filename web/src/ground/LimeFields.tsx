import { Slider } from "radix-ui";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Choice } from "../kit/Choice";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { useUnits } from "../units/useUnits";
import { limeMethods } from "../units/words";

type Lime = Schemas["LimeChoice"];

interface Props {
  value: Lime;
  onChange: (lime: Lime) => void;
  methods: Schemas["LimeMethod"][];
  materials: Schemas["Material"][];
  errorAt: (pointer: string) => string | undefined;
}

/** School, target, depth, material: what a lime rate is reckoned from. */
export function LimeFields({ value, onChange, methods, materials, errorAt }: Props) {
  const units = useUnits();
  const set = (part: Partial<Lime>) => onChange({ ...value, ...part });
  return (
    <div>
      <Choice
        label="Lime method"
        value={value.method}
        onChange={(method) => set({ method })}
        options={methods.map((method) => ({ value: method, text: limeMethods[method] }))}
      />
      {errorAt("/lime/method") && (
        <p className="text-sm font-semibold text-stop">✕ {errorAt("/lime/method")}</p>
      )}
      <PhSlider
        label="Target pH"
        value={value.target_ph}
        onChange={(target_ph) => set({ target_ph })}
        error={errorAt("/lime/target_ph")}
      />
      <div className="grid grid-cols-2 gap-4">
        <Pick
          label="Material"
          value={value.material.name}
          onChange={(name) => {
            const material = materials.find((one) => one.name === name);
            if (material) set({ material });
          }}
          options={materials.map((material) => ({ value: material.name, text: material.name }))}
          error={errorAt("/lime/material")}
        />
        <QuantityField
          label="Incorporation depth"
          bare={units.layer}
          value={value.depth ?? null}
          onChange={(depth) => set({ depth: (depth as Schemas["Length"]) ?? null })}
          error={errorAt("/lime/depth")}
          hint="Leave blank to use the method’s depth."
        />
        <QuantityField
          label="Price, spread"
          bare={units.tonPrice}
          value={value.material.price ?? null}
          onChange={(price) =>
            set({ material: { ...value.material, price: price as Schemas["MoneyPerMass"] | null } })
          }
          error={errorAt("/lime/material/price")}
        />
        <QuantityField
          label="CCE"
          bare="%"
          value={value.material.cce}
          onChange={(cce) => cce && set({ material: { ...value.material, cce: cce as Schemas["Fraction"] } })}
          error={errorAt("/lime/material/cce")}
        />
      </div>
      <Choice
        label="Placement"
        value={value.placement ?? "incorporated"}
        onChange={(placement) => set({ placement })}
        options={[
          { value: "incorporated", text: "incorporated" },
          { value: "surface", text: "surface-applied" },
        ]}
      />
    </div>
  );
}

interface PhProps {
  label: string;
  value: number;
  onChange: (ph: number) => void;
  error?: string | undefined;
}

/** A pH, dragged or stepped with the arrow keys; answers while it moves. */
export function PhSlider({ label, value, onChange, error }: PhProps) {
  const [low, high] = [5, 7.5];
  return (
    <div className="pt-1 pb-2">
      <div className="flex items-baseline justify-between">
        <span className="text-sm font-semibold">{label}</span>
        <span className="text-lg font-bold" data-ph>
          {value.toFixed(1)}
        </span>
      </div>
      <Slider.Root
        value={[value]}
        min={low}
        max={high}
        step={0.1}
        onValueChange={([next]) => next !== undefined && onChange(Math.round(next * 10) / 10)}
        className="relative flex h-8 touch-none items-center select-none"
      >
        <Slider.Track className="relative h-px w-full bg-ink">
          <Slider.Range className="absolute h-px bg-ink" />
        </Slider.Track>
        <Slider.Thumb
          aria-label={label}
          className="block h-7 w-3 cursor-ew-resize border-2 border-ink bg-paper"
        />
      </Slider.Root>
      {error && <p className="text-sm font-semibold text-stop">✕ {error}</p>}
    </div>
  );
}

/** A lime choice to begin with: what the test allows, the fussiest crop's aim, ground limestone. */
export function useFirstLime(
  methods: Schemas["LimeMethod"][],
  target: number | null | undefined,
  materials: Schemas["Material"][],
) {
  const [remembered, remember] = useState<Lime | null>(null);
  const material = materials[0];
  const method = methods[0];
  const first: Lime | null =
    material && method
      ? { method, target_ph: Math.min(target ?? 6.5, 6.8), placement: "incorporated", material }
      : null;
  return { first: remembered ?? first, remember };
}
