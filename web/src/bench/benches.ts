/** The benches, in groups by the work and in the order of the year. */
export const benchGroups = [
  { work: "Soil", benches: ["lime", "nutrients", "manure", "blend", "seedbed"] },
  { work: "Seed and sowing", benches: ["seed", "drill", "spreader", "sowing"] },
  { work: "Spraying", benches: ["spray", "tank", "sprayer"] },
] as const;

export type Bench = (typeof benchGroups)[number]["benches"][number];
export const benches: readonly Bench[] = benchGroups.flatMap((group): readonly Bench[] => group.benches);

/** What each is called. */
export const benchNames: Record<Bench, string> = {
  lime: "Lime",
  nutrients: "Nutrients",
  manure: "Manure",
  blend: "Blend",
  seedbed: "Seedbed",
  seed: "Seed",
  drill: "Drill",
  spreader: "Spreader",
  sowing: "Sowing day",
  spray: "Label check",
  tank: "Tank",
  sprayer: "Sprayer",
};

export interface BenchSearch {
  at?: Bench | undefined;
  field?: string | undefined;
}
