import type { Schemas } from "../api/client";

/** Numbers as people write them one after another: with spaces, commas or lines between. */
export function numbersOf(text: string): number[] {
  return text
    .split(/[\s,;]+/)
    .filter((part) => part !== "")
    .map(Number);
}

interface Amount {
  value: number;
  unit: string;
}

type Counted = Schemas["RecordedCounted"];

/** What was counted, in the shape of the ledger. */
export function countedOf(
  by: string,
  counts: number[],
  of: number[],
  frame: Amount | undefined,
  row?: { length: Amount | undefined; spacing: Amount | undefined },
): Counted {
  switch (by) {
    case "plants":
    case "stems":
      return { by: "frame", frame: (frame ?? { value: 0, unit: "m2" }) as Schemas["Area"], counts };
    case "row":
      return {
        by: "row",
        length: (row?.length ?? { value: 0, unit: "m" }) as Schemas["Length"],
        row_spacing: (row?.spacing ?? { value: 0, unit: "cm" }) as Schemas["Length"],
        counts,
      };
    case "alive":
      return { by: "alive", alive: counts, stations: counts.map((_, at) => of[at] ?? of[0] ?? 0) };
    case "points":
      return { by: "points", points: of[0] ?? 0, hits: counts };
    default:
      return { by: "grid", cells: of[0] ?? 0, hits: counts };
  }
}
