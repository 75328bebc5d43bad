/** The benches, in the order of the work. */
export const benches = [
  "seed",
  "lime",
  "nutrients",
  "manure",
  "blend",
  "seedbed",
  "spray",
  "sprayer",
  "tank",
  "drill",
  "spreader",
  "sowing",
] as const;
export type Bench = (typeof benches)[number];

export interface BenchSearch {
  at?: Bench | undefined;
  field?: string | undefined;
}
