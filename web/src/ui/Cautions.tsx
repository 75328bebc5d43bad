import type { Schemas } from "../api/client";

/** Short cautions, always reachable, never a wall of text. */
export function Cautions({ cautions }: { cautions: Schemas["Caution"][] }) {
  if (cautions.length === 0) return null;
  return (
    <details className="mt-3 border-l-3 border-stop pl-3 text-sm">
      <summary className="min-h-6 font-semibold">
        {cautions.length === 1 ? "One caution" : `${cautions.length} cautions`}
      </summary>
      <ul className="space-y-2 pt-1">
        {cautions.map((caution) => (
          <li key={caution.key}>
            {caution.text} <span className="text-pencil">{caution.defer}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
