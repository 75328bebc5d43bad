import type { Schemas } from "../api/client";
import { Collapse } from "./Collapse";

/** Short cautions, always reachable, never a wall of text. */
export function Cautions({ cautions }: { cautions: Schemas["Caution"][] }) {
  if (cautions.length === 0) return null;
  return (
    <Collapse
      className="mt-3 border-l-3 border-stop pl-3 text-sm"
      titleClass="font-semibold"
      title={cautions.length === 1 ? "1 caution" : `${cautions.length} cautions`}
    >
      <ul className="space-y-2 pt-1">
        {cautions.map((caution) => (
          <li key={caution.key}>
            {caution.text} <span className="text-pencil">{caution.defer}</span>
          </li>
        ))}
      </ul>
    </Collapse>
  );
}
