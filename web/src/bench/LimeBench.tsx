import { useState } from "react";
import { Link } from "@tanstack/react-router";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useField, useGround, useMaterials, useReckoning } from "../api/queries";
import { PhPathDrawing } from "../draw/PhPath";
import { LimeAnswer } from "../ground/LimeAnswer";
import { LimeFields, PhSlider } from "../ground/LimeFields";
import { useFarm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { useLive } from "../kit/live";
import { optionsOf, Pick } from "../kit/Pick";
import { NotYet, Trouble } from "../kit/states";
import { Table } from "../kit/Table";
import { useUnits } from "../units/useUnits";
import { buffers, textures } from "../units/words";
import { FieldPick } from "./FieldPick";
import { Whose } from "./Whose";

interface Props {
  field: string;
  onField: (field: string) => void;
}

/** Lime: how much of what, and what becomes of the soil. */
export function LimeBench({ field, onField }: Props) {
  const farm = useFarm();
  const ground = useGround(farm.id, field || undefined);
  const materials = useMaterials(farm.id);
  if (materials.data === undefined || (field && ground.data === undefined && !ground.isError))
    return <NotYet what="Working out lime" of={[materials]} />;
  return (
    <Worked
      key={`${field} ${ground.data?.ground.tests.at(-1)?.entry}`}
      field={field}
      onField={onField}
      ground={field ? ground.data : undefined}
      materials={materials.data.lime.map((one) => one.material)}
      own={materials.data.own_lime}
    />
  );
}

const isBuffer = (method: Schemas["LimeMethod"]): method is Schemas["Buffer"] => method in buffers;

const given = { ph: 5.8 };

/** Where a soil in want of lime usually stands in each buffer; they start at 7.5 (SMP, Sikora) and 8.0. */
const usual: Record<Schemas["Buffer"], number> = { smp: 6.5, sikora: 6.5, "adams-evans": 7.7 };

interface Written {
  ph: number;
  /** As read; none until it is moved. */
  buffer: number | null;
  texture: Schemas["Texture"];
  lime: Schemas["LimeChoice"];
}

function Worked({
  field,
  onField,
  ground,
  materials,
  own,
}: Props & {
  ground: Schemas["GroundView"] | undefined;
  materials: Schemas["Material"][];
  own: boolean;
}) {
  const farm = useFarm();
  const units = useUnits();
  const detail = useField(farm.id, field);
  const test = ground?.ground.tests.at(-1);
  const top = test?.what.layers[0];
  const acidity = top?.acidity;
  const methods: Schemas["LimeMethod"][] = top
    ? (ground?.lime_methods ?? [])
    : ["smp", "sikora", "adams-evans", "texture"];
  // What is on offer may come anew while the bench is open: until another was chosen or its price written, the first
  // of it is weighed as it now is.
  const first = materials[0] as Schemas["Material"];
  const [begun] = useState(() => JSON.stringify(first));
  const { now, change } = useLive<Written>({
    ph: top?.ph ?? given.ph,
    buffer: acidity && "buffer_ph" in acidity ? acidity.buffer_ph : null,
    texture: ground?.ground.facts.texture ?? "silt-loam",
    lime: {
      method: methods[0] ?? "texture",
      target_ph: 6.5,
      placement: "incorporated",
      material: first,
    },
  });
  const { ph, texture } = now;
  const lime = JSON.stringify(now.lime.material) === begun ? { ...now.lime, material: first } : now.lime;
  const buffer = now.buffer ?? (isBuffer(lime.method) ? usual[lime.method] : 0);
  const school = schoolOf(lime.method, { top, buffer, texture });
  const request: Schemas["LimeRequest"] = {
    school,
    ph,
    target_ph: lime.target_ph,
    placement: lime.placement,
    material: lime.material,
    ...(lime.depth ? { depth: lime.depth } : {}),
    ...(detail.data ? { area: detail.data.field.sown_area } : {}),
  };
  const need = useReckoning("lime.requirement", [units.system, request], () =>
    answered(api.POST("/api/reckon/lime.requirement", { body: request })),
  );
  const refused = need.error instanceof Refused ? need.error : undefined;
  const answer = refused ? undefined : need.data;
  const errorAt = (pointer: string) =>
    refused?.at(
      pointer
        .replace("/lime/material", "/material")
        .replace("/lime/method", "/school")
        .replace("/lime/", "/"),
    );
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[24rem_minmax(0,1fr)]">
      <form aria-label="Lime" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} />
        <PhSlider label="Soil pH" value={ph} onChange={(ph) => change({ ph })} error={refused?.at("/ph")} />
        {isBuffer(lime.method) && (
          <PhSlider
            label={`${buffers[lime.method]} buffer pH`}
            value={buffer}
            onChange={(buffer) => change({ buffer })}
            error={refused?.at("/school/buffer_ph")}
          />
        )}
        {lime.method === "texture" && (
          <Pick
            label="Texture"
            value={texture}
            onChange={(texture) => texture && change({ texture })}
            options={optionsOf(textures)}
          />
        )}
        <LimeFields
          value={lime}
          onChange={(lime) => change({ lime })}
          methods={methods}
          materials={materials}
          errorAt={errorAt}
        />
      </form>
      <div className="min-w-0 space-y-5">
        {refused && <Trouble error={refused} />}
        {answer && <LimeAnswer answer={answer} material={lime.material.name} />}
        {answer?.value.per_ph_unit && answer.value.rate && (
          <Path
            ph={ph}
            need={answer.value}
            target={lime.target_ph}
            today={farm.today}
            floor={ground?.floor ?? 6}
          />
        )}
        {farm.role === "manager" && field && (
          <Link to="/farms/$farm/start" params={{ farm: farm.id }} search={{ field }} className="line-button">
            Start stand on this field
          </Link>
        )}
        <Materials need={answer?.value.effective} materials={materials} own={own} />
      </div>
    </div>
  );
}

function schoolOf(
  method: Schemas["LimeMethod"],
  {
    top,
    buffer,
    texture,
  }: { top: Schemas["Layer"] | undefined; buffer: number; texture: Schemas["Texture"] },
): Schemas["LimeSchool"] {
  if (isBuffer(method)) return { by: method, buffer_ph: buffer };
  if (method === "mehlich" && top?.acidity?.by === "mehlich")
    return { by: "mehlich", acidity: top.acidity.acidity };
  if (method === "base-saturation" && top?.cec && top.base_saturation)
    return {
      by: "base-saturation",
      cec: top.cec,
      base_saturation: top.base_saturation,
      aim: { value: 80, unit: "%" },
    };
  return { by: "texture", texture, ...(top?.organic_matter ? { organic_matter: top.organic_matter } : {}) };
}

interface PathProps {
  ph: number;
  need: Schemas["LimeNeed"];
  target: number;
  today: string;
  floor: number;
}

/** What becomes of pH when this lime is spread today; nothing harvested is counted here. */
function Path({ ph, need, target, today, floor }: PathProps) {
  const units = useUnits();
  const request: Schemas["PathRequest"] = {
    ph,
    per_ph_unit: need.per_ph_unit as Schemas["MassPerArea"],
    months: 36,
    doses: need.fast && need.slow ? [{ month: 0, fast: need.fast, slow: need.slow }] : [],
    floor,
  };
  const path = useReckoning("lime.path", [units.system, request], () =>
    answered(api.POST("/api/reckon/lime.path", { body: request })),
  );
  if (!path.data || path.error) return null;
  return (
    <section aria-label="pH path">
      <h2>pH if spread today</h2>
      <PhPathDrawing
        path={path.data.value}
        from={today}
        today={today}
        floor={floor}
        target={target}
        tests={[{ on: today, ph }]}
        dressings={[]}
        height={180}
      />
    </section>
  );
}

/** Materials by the cost of what reacts. */
function Materials({
  need,
  materials,
  own,
}: {
  need: Schemas["MassPerArea"] | undefined;
  materials: Schemas["Material"][];
  own: boolean;
}) {
  const units = useUnits();
  const request: Schemas["MaterialRequest"] = {
    materials,
    ...(need && need.value > 0 ? { effective_need: need } : {}),
  };
  const compared = useReckoning("lime.material", [units.system, request], () =>
    answered(api.POST("/api/reckon/lime.material", { body: request })),
  );
  if (!compared.data || compared.error) return null;
  return (
    <section aria-label="Materials">
      <h2>Materials by effective value</h2>
      <Whose own={own} />
      <Table
        label="Liming materials"
        className="w-full min-w-110"
        rows={compared.data.value.materials}
        rowKey={(row) => row.name}
        rowProps={(row) => ({ "data-material": row.name })}
        columns={[
          {
            key: "material",
            head: "Material",
            names: true,
            cell: (row) => (
              <>
                <span className="font-semibold">{row.name}</span>
                {row.cheapest && <span className="block text-sm">lowest cost</span>}
              </>
            ),
          },
          {
            key: "effective",
            head: "Effective value",
            figures: true,
            cell: (row) => (
              <Figure
                quantity={row.effective_value}
                explains={compared.data}
                label={`${row.name}, effective value`}
              />
            ),
          },
          {
            key: "price",
            head: "Price per effective ton or tonne",
            figures: true,
            cell: (row) => <Figure quantity={row.price_of_effective} />,
          },
          { key: "rate", head: "Rate", figures: true, cell: (row) => <Figure quantity={row.rate} /> },
          {
            key: "cost",
            head: "Cost",
            figures: true,
            className: "font-semibold",
            cell: (row) => <Figure quantity={row.cost} />,
          },
        ]}
      />
    </section>
  );
}
