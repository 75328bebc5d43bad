import type { Schemas } from "../api/client";
import { plain, shown } from "./format";

/** Words for the codes of the API: the only place they are spelled. */

export const goals: Record<Schemas["Goal"], string> = {
  hay: "Hay",
  silage: "Silage",
  grazing: "Grazing",
  "hay-and-grazing": "Hay and grazing",
  biomass: "Biomass",
  bedding: "Bedding",
  wildlife: "Wildlife",
};

/** Verdicts of the site check, each with its sign: told by shape and word, not by colour alone. */
export const verdicts: Record<Schemas["Verdict"], { word: string; sign: string }> = {
  fit: { word: "suitable", sign: "●" },
  unknown: { word: "not checked", sign: "?" },
  "fit-with-work": { word: "suitable with work", sign: "◐" },
  unfit: { word: "not suitable", sign: "✕" },
};

export const bootSchools: Record<Schemas["BootSchool"], string> = {
  depth: "depth of sinking",
  "heel-alone": "heel print only",
  "heel-and-sole": "heel and sole print",
};

export const bootMarks: Record<Schemas["BootMark"], string> = {
  none: "no print",
  heel: "heel print",
  "heel-and-sole": "heel and sole print",
  arch: "whole boot print",
};

export const surfaces: Record<Schemas["BedSurface"], string> = {
  "small-clods": "crumbs and small clods",
  "large-clods": "large clods",
  powder: "powder",
};

export const feels: Record<Schemas["Feel"], string> = {
  dry: "dry: crumbles apart",
  moist: "moist: holds together",
  wet: "wet: smears",
};

export const sownAreas: Record<Schemas["SownAreaBy"], string> = {
  boundary: "whole field",
  walked: "walked boundary",
  hours: "by hours worked",
};

export const forageForms: Record<Schemas["ForageForm"], string> = {
  "small-bales": "small square bales",
  "large-bales": "large square bales",
  "round-bales": "round bales",
  "wrapped-bales": "wrapped bales (baleage)",
  loose: "loose hay",
  chopped: "chopped silage",
  green: "green forage, fed fresh",
};

export const moistureMethods: Record<Schemas["MoistureBy"], string> = {
  probe: "moisture probe",
  oven: "oven",
  microwave: "microwave",
  laboratory: "laboratory",
  estimate: "estimate",
};

export const pestKinds: Record<Schemas["PestKind"], string> = {
  insect: "insect",
  mite: "mite",
  disease: "disease",
  nematode: "nematode",
  slug: "slug",
  rodent: "rodent",
  deficiency: "nutrient deficiency",
  other: "other",
};

export const pestsPer: Record<Schemas["PestsPer"], string> = {
  sweep: "per sweep",
  stem: "per stem",
  plant: "per plant",
  trap: "per trap",
};

export const sprayKinds: Record<Schemas["SprayKind"], string> = {
  herbicide: "Herbicide",
  insecticide: "Insecticide",
  fungicide: "Fungicide",
  other: "Other",
};

export const sprayWays: Record<Schemas["SprayWay"], string> = {
  broadcast: "broadcast",
  band: "banded over the row",
  spot: "spot spray",
  wiped: "wiped on",
  "strips-left": "broadcast, with strips left unsprayed",
};

export const placements: Record<Schemas["DressingPlacement"], string> = {
  broadcast: "broadcast",
  incorporated: "broadcast and worked in",
  banded: "banded",
  "with-seed": "with the seed",
  injected: "injected",
  foliar: "foliar",
};

export const nitrateForms: Record<Schemas["RecordedNitrateForm"], string> = {
  "nitrate-nitrogen": "nitrate nitrogen (NO₃-N)",
  nitrate: "nitrate (NO₃)",
  "potassium-nitrate": "potassium nitrate (KNO₃)",
};

export const growings: Record<Schemas["Growing"], string> = {
  nothing: "no print",
  seedlings: "weed seedlings",
  standing: "established weeds or sod",
};

export const seedBoxes: Record<Schemas["SeedBox"], string> = {
  small: "Small-seed box",
  main: "Main box",
  fluffy: "Agitated box",
};

export const emergenceStates: Record<Schemas["EmergenceState"], { word: string; sign: string }> = {
  up: { word: "emerged", sign: "●" },
  "too-soon": { word: "too early", sign: "○" },
  dry: { word: "dry seedbed, wait", sign: "◐" },
  due: { word: "due now", sign: "◐" },
  late: { word: "late, dig and check", sign: "✕" },
  gone: { word: "unlikely to emerge", sign: "✕" },
};

export const standWays: Record<Schemas["StandWay"], string> = {
  keep: "Keep stand",
  "count-more": "Count more points",
  wait: "Wait and recount",
  thicken: "Thicken stand",
  "start-over": "Reseed",
};

export const youngBars: Record<Schemas["Bar"], string> = {
  cut: "do not cut",
  graze: "do not graze",
  nitrogen: "do not apply nitrogen",
  spray: "do not spray over it yet",
};

export const pieceMoistures: Record<Schemas["PieceMoisture"], string> = {
  moist: "moist",
  drying: "surface dry",
  dry: "dry, snaps",
};

export const pieceLies: Record<Schemas["PieceLies"], string> = {
  upright: "upright",
  slanted: "slanted",
  flat: "flat",
};

export const oddSpots: Record<Schemas["OddSpotKind"], string> = {
  wet: "wet",
  dry: "droughty",
  hump: "knoll",
  stony: "stony",
  "salt-lick": "salt lick or feeder",
  "old-heap": "old manure or hay heap",
  packed: "compacted",
  washed: "washed out or silted over",
  missed: "skip or overlap",
  other: "other (describe)",
};

export const weedKinds: Record<Schemas["WeedKind"], string> = {
  "summer-broadleaf": "summer broadleaf",
  "summer-grass": "summer grass",
  "winter-annual": "winter annual",
  biennial: "biennial",
  perennial: "perennial",
  woody: "brush",
};

export const weedStages: Record<Schemas["WeedStage"], string> = {
  seedling: "seedling",
  rosette: "rosette",
  growing: "growing",
  budding: "budding",
  seeding: "setting seed",
};

/** How a gate before the sowing stands. */
export const gateStands: Record<Schemas["GateStands"], { word: string; sign: string }> = {
  open: { word: "passed", sign: "●" },
  shut: { word: "failed", sign: "✕" },
  unknown: { word: "not checked", sign: "?" },
};

export const natures: Record<Schemas["Nature"]["is"], string> = {
  fertiliser: "Fertilizer",
  lime: "Lime",
  manure: "Manure or compost",
  inoculant: "Inoculant",
  binding: "Twine, net or wrap",
  spray: "Spray product",
};

export const limeKinds: Record<Schemas["LimeKind"], string> = {
  calcitic: "calcitic limestone",
  dolomitic: "dolomitic limestone",
  hydrated: "hydrated lime",
  burnt: "burnt lime",
  "wood-ash": "wood ash",
  pelleted: "pelleted lime",
  marl: "marl",
};

export const limeMethods: Record<Schemas["LimeMethod"], string> = {
  smp: "SMP buffer",
  sikora: "Sikora buffer",
  "adams-evans": "Adams–Evans buffer",
  mehlich: "Mehlich acidity",
  "base-saturation": "base saturation",
  texture: "soil texture (rough)",
};

export const nutrientSchools: Record<Schemas["School"], { name: string; why: string }> = {
  sufficiency: {
    name: "Sufficiency",
    why: "Applies what this crop needs this year, from the soil-test class.",
  },
  "build-maintain": {
    name: "Build up and maintain",
    why: "Raises the soil test to the critical level in four years, then holds it.",
  },
  replacement: { name: "Replacement", why: "Replaces what the harvest removes." },
};

/** How a rate is raised for seed that is broadcast. */
export const broadcastRates: Record<Schemas["BroadcastRate"], string> = {
  factor: "drilled rate × factor",
  "top-of-range": "top of the range",
  "as-given": "stated for broadcasting",
};

/** In how many dressings an established stand gets its potash. */
export const potashSplits: Record<Schemas["PotashSplit"], string> = {
  once: "One dressing",
  two: "Two dressings",
  three: "Three dressings",
};

export const nutrients: Record<string, string> = {
  n: "N",
  p2o5: "P₂O₅",
  k2o: "K₂O",
  ca: "Ca",
  mg: "Mg",
  s: "S",
  b: "B",
  zn: "Zn",
  mn: "Mn",
  cu: "Cu",
  mo: "Mo",
};

export const textures: Record<Schemas["Texture"], string> = {
  sand: "sand",
  "sandy-loam": "sandy loam",
  loam: "loam",
  "silt-loam": "silt loam",
  "clay-loam": "clay loam",
  clay: "clay",
};

export const drainages: Record<Schemas["Drainage"], string> = {
  well: "well drained",
  moderate: "moderately drained",
  "somewhat-poor": "somewhat poorly drained",
  poor: "poorly drained",
};

export const residues: Record<Schemas["Residue"], string> = {
  bare: "bare",
  "bean-stubble": "bean stubble",
  "cereal-stubble": "cereal stubble",
  "heavy-maize": "heavy maize or sorghum",
  sod: "sod",
};

/** Whose manure it is. */
export const manures: Record<Schemas["ManureKind"], string> = {
  cattle: "cattle",
  swine: "swine",
  poultry: "poultry",
  horse: "horses",
  sheep: "sheep or goats",
  compost: "compost",
};

/** Buffers that a laboratory reads a pH of. */
export const buffers: Record<Schemas["Buffer"], string> = {
  smp: "SMP",
  sikora: "Sikora",
  "adams-evans": "Adams–Evans",
};

export const pMethods: Record<Schemas["PMethod"], string> = {
  "bray-p1": "Bray P1",
  mehlich3: "Mehlich-3",
  olsen: "Olsen",
};

export function stateWord(state: Schemas["State"]): string {
  switch (state.is) {
    case "done":
      return "done";
    case "passed":
      return "skipped";
    case "ready":
      return "ready";
    case "overdue":
      return "overdue";
    case "blocked":
      return `waiting on ${state.by.map((one) => one.words).join(", ")}`;
    case "waiting":
      return "upcoming";
  }
}

/** "7.2 of 16.2 ac done". */
export const partDone = ({ done, of }: Schemas["PartDone"]) => `${shown(done).number} of ${plain(of)} done`;

export function originWords(origin: Schemas["Origin"]): { text: string; assumed: boolean } {
  switch (origin.from) {
    case "given":
      return { text: "entered on this page", assumed: false };
    case "measured":
      return { text: `from ${origin.what}`, assumed: false };
    case "worked":
      return { text: `calculated in “${origin.part}”`, assumed: false };
    case "sourced":
      return { text: sourceWords(origin.source), assumed: false };
    case "assumed":
      return { text: `assumed; replace with ${origin.replace_by}`, assumed: true };
  }
}

const classes: Record<Schemas["Class"], string> = {
  published: "published",
  "common-practice": "common practice",
  "from-memory": "from memory",
};

export function sourceWords(source: Schemas["Source"]): string {
  const kind = classes[source.class];
  return source.citation.startsWith(kind) ? kind : `${source.citation} (${kind})`;
}

/** What to do, and which time of several: "Spray, 2 of 3". */
/** A season as people write it: 2026, or 2026/27 where it runs over the turn of the year. */
export function seasonWord(season: number, begins: string): string {
  const next = String((season + 1) % 100).padStart(2, "0");
  return begins.slice(5) === "01-01" ? String(season) : `${season}/${next}`;
}

export function titled(step: Schemas["Step"]): string {
  return step.times > 1 ? `${step.title} (${step.occurrence} of ${step.times})` : step.title;
}

/** The thing of a kind that an entry is about. */
export function subjectOf(entry: Schemas["EntryView"], kind: Schemas["SubjectKind"]): string | undefined {
  return entry.about.find((subject) => subject.kind === kind)?.id;
}

/** Kinds of crop, as shelves of the library. */
export const shelves = [
  ["legume", "Legumes"],
  ["grass", "Grasses"],
  ["forb", "Herbs and flowers"],
  ["brassica", "Brassicas"],
] as const satisfies readonly (readonly [Schemas["Kind"], string])[];

/** Crops to choose from, by shelf and name. */
export const shelved = (crops: readonly Schemas["Crop"][]) =>
  shelves
    .map(([kind, heading]) => ({
      heading,
      options: crops
        .filter((crop) => crop.kind === kind)
        .map((crop) => ({ value: crop.id, text: crop.name }))
        .sort((a, b) => a.text.localeCompare(b.text)),
    }))
    .filter(({ options }) => options.length > 0);
