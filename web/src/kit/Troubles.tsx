import type { Schemas } from "../api/client";

/** Parts that can't be reckoned, and why: beside what can, never instead of it. */
export function Troubles({ troubles }: { troubles: Schemas["Trouble"][] }) {
  if (troubles.length === 0) return null;
  return (
    <ul aria-label="Missing data" className="space-y-1 py-1">
      {troubles.map((trouble) => (
        <li
          key={trouble.part + trouble.pointer}
          data-trouble={trouble.part}
          className="border-l-3 border-stop pl-3 text-sm"
        >
          <strong className="font-semibold">{parts[trouble.part]}:</strong> {trouble.detail}
        </li>
      ))}
    </ul>
  );
}

const parts: Record<Schemas["Part"], string> = {
  readiness: "Field suitability",
  window: "Sowing window",
  lime: "Lime",
  path: "pH path",
  nutrients: "Nutrients",
  mix: "Mix",
  plants: "Plants",
  seed: "Seed",
  order: "Seed order",
};
