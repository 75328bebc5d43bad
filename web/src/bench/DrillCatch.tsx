import type { Refused } from "../api/client";
import { Choice } from "../kit/Choice";
import { NumberBox } from "../kit/NumberBox";
import { QuantityField } from "../kit/Quantity";
import { useUnits } from "../units/useUnits";
import type { Written } from "./drill";

interface WayProps {
  now: Written;
  change: (part: Partial<Written>) => void;
  refused: Refused | undefined;
}

export function Way({ now, change, refused }: WayProps) {
  const units = useUnits();
  return (
    <>
      <p className="pt-2 text-sm font-semibold">Distance by</p>
      <Choice
        label="Distance by"
        value={now.way}
        options={[
          { value: "measured", text: "measured course" },
          { value: "turns", text: "wheel turns" },
        ]}
        onChange={(way) => change({ way })}
      />
      {now.way === "measured" ? (
        <QuantityField
          label="Test course length"
          bare={units.course}
          value={now.course}
          onChange={(course) => change({ course })}
          error={refused?.at("/course/length")}
        />
      ) : (
        <div className="grid grid-cols-2 gap-x-4">
          <NumberBox
            label="Wheel turns"
            value={now.turns}
            onChange={(turns) => change({ turns })}
            error={refused?.at("/course/turns")}
          />
          <QuantityField
            label="Wheel circumference"
            bare={units.course}
            value={now.circumference}
            onChange={(circumference) => change({ circumference })}
            error={refused?.at("/course/circumference")}
          />
          <QuantityField
            label="Wheel slip in the field"
            bare="%"
            value={now.skid}
            onChange={(skid) => change({ skid })}
            error={refused?.at("/course/skid")}
            hint="Leave blank for none."
          />
          <div className="pt-2">
            <p className="text-sm font-semibold">Circumference measured with wheel</p>
            <Choice
              label="Circumference measured with wheel"
              value={now.lifted ? "lifted" : "loaded"}
              options={[
                { value: "lifted", text: "lifted" },
                { value: "loaded", text: "on the ground" },
              ]}
              onChange={(how) => change({ lifted: how === "lifted" })}
            />
          </div>
        </div>
      )}
    </>
  );
}

/** A box for each row; the last one filled brings the next. */
export function Rows({
  rows,
  unit,
  onRows,
}: {
  rows: string[];
  unit: string;
  onRows: (rows: string[]) => void;
}) {
  return (
    <>
      <div className="grid grid-cols-4 gap-x-3">
        {rows.map((text, at) => (
          <NumberBox
            key={at}
            label={`Row ${at + 1}`}
            value={text}
            onChange={(next) => onRows(rows.map((one, index) => (index === at ? next : one)))}
          />
        ))}
      </div>
      <p className="text-sm text-pencil">In {unit}. Enter 0 for a row that dropped no seed.</p>
      <button
        type="button"
        className="line-button"
        disabled={rows.length >= 60}
        onClick={() => onRows([...rows, ""])}
      >
        Add row
      </button>
      <button
        type="button"
        className="line-button"
        disabled={rows.length <= 1}
        onClick={() => onRows(rows.slice(0, -1))}
      >
        Remove row
      </button>
    </>
  );
}

/** Seeds counted along rows, or on a sheet or tray laid in the way: by hand it is sown on one, too. */
export function Seeds({ now, change, refused }: WayProps) {
  const units = useUnits();
  const ground = now.on === "ground";
  return (
    <>
      <Choice<Written["on"]>
        label="Count seeds"
        value={now.on}
        options={[
          { value: "row", text: "along a row" },
          { value: "ground", text: "on sheets or trays" },
        ]}
        onChange={(on) => change({ on })}
      />
      <div className="grid grid-cols-2 gap-x-4">
        <NumberBox
          label="Seeds in each count"
          value={now.seeds}
          onChange={(seeds) => change({ seeds })}
          hint="e.g. several counts separated by spaces"
          error={refused?.at("/seen/counts")}
          words
        />
        {ground ? (
          <QuantityField
            label="Sheet or tray area"
            bare={units.frame}
            value={now.patch}
            onChange={(patch) => change({ patch })}
            error={refused?.at("/seen/patch")}
          />
        ) : (
          <QuantityField
            label="Row length per count"
            bare={units.course}
            value={now.along}
            onChange={(along) => change({ along })}
            error={refused?.at("/seen/length")}
          />
        )}
      </div>
    </>
  );
}
