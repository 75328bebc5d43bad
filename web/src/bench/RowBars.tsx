import type { Schemas } from "../api/client";
import { inBase, turned } from "../units/base";
import { plain, type Quantity } from "../units/format";

const words: Record<Schemas["DrillRowState"], string> = {
  even: "",
  high: "✕ too much",
  low: "✕ too little",
  nothing: "✕ no seed",
};

interface Props {
  found: Schemas["DrillRows"];
  /** What the rows were weighed in: told so again, whichever unit reads best elsewhere. */
  unit: string;
}

/** A bar for each row of the drill, the middle one marked; rows out of line named. */
export function RowBars({ found, unit }: Props) {
  const weight = (mass: Quantity) => {
    const { value } = turned(mass, unit);
    return plain({ value: Number(value.toPrecision(3)), unit });
  };
  const most = Math.max(...found.rows.map((row) => inBase(row.caught)), 1e-9);
  const middle = (100 * inBase(found.median)) / most;
  return (
    <figure aria-label="Rows of the drill">
      <ol className="border-t-2 border-ink">
        {found.rows.map((row) => (
          <li
            key={row.row}
            data-row={row.row}
            data-state={row.state}
            className="grid grid-cols-[2rem_minmax(0,1fr)_9rem] items-center gap-x-2 border-b border-rule py-1 text-sm"
          >
            <span className="text-right text-pencil">{row.row}</span>
            <span className="relative block h-4 bg-sunk" aria-hidden>
              <span
                className={`absolute inset-y-0 left-0 ${row.state === "even" ? "bg-growth" : "bg-stop"}`}
                style={{ width: `${(100 * inBase(row.caught)) / most}%` }}
              />
              <span className="absolute inset-y-[-3px] w-0.5 bg-ink" style={{ left: `${middle}%` }} />
            </span>
            <span className={row.state === "even" ? "" : "font-semibold text-stop"}>
              {row.state !== "nothing" && `${weight(row.caught)} `}
              {words[row.state]}
            </span>
          </li>
        ))}
      </ol>
      <figcaption className="pt-1 text-sm text-pencil">
        Line: median row {weight(found.median)}
        {found.variation && `; variation between rows ${plain(found.variation)}`}.
      </figcaption>
    </figure>
  );
}
