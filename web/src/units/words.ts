import type { Schemas } from "../api/client";

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

export const seedbeds: Record<Schemas["SeedbedSchool"], { name: string; why: string }> = {
  tilled: { name: "Tilled and firmed", why: "Lime worked in deep, weeds buried, a firm bed for small seed." },
  "no-till": { name: "No-till", why: "Keeps moisture and soil on slopes; into stubble or killed sod." },
  "tilled-then-no-till-drill": {
    name: "Tilled, then no-till drill",
    why: "The drill sets depth in a worked bed: for moist soil with no rain due.",
  },
};

export const stepNames: Record<Schemas["StepKind"], { pencil: string; ink: string }> = {
  "sample-soil": { pencil: "sample", ink: "sampled" },
  bioassay: { pencil: "bioassay", ink: "bioassay" },
  lime: { pencil: "lime", ink: "limed" },
  dress: { pencil: "dress", ink: "dressed" },
  "order-seed": { pencil: "order", ink: "ordered" },
  prepare: { pencil: "prepare", ink: "prepared" },
  calibrate: { pencil: "calibrate", ink: "calibrated" },
  sow: { pencil: "sow", ink: "sown" },
  "first-look": { pencil: "first look", ink: "first look" },
  count: { pencil: "count", ink: "counted" },
};

export const kinds: Record<string, string> = {
  choices: "Decision",
  step: "Step",
  "lot-tag": "Seed tag",
  "lot-report": "Laboratory report",
  note: "Note",
  strike: "Strike",
  site: "Site",
  "soil-test": "Soil test",
  "soil-sample": "Soil sample",
  spray: "Spray",
  "past-crop": "Past crop",
  bioassay: "Bioassay",
  dressing: "Dressing",
  cut: "Cut",
  "soil-temperature": "Soil temperature",
  "rain-gauge": "Rain gauge",
  irrigation: "Irrigation",
};

/** Verdicts of the site check, each with its sign: told by shape and word, not by colour alone. */
export const verdicts: Record<Schemas["Verdict"], { word: string; sign: string }> = {
  fit: { word: "fit", sign: "●" },
  unknown: { word: "not looked at", sign: "?" },
  "fit-with-work": { word: "with work", sign: "◐" },
  unfit: { word: "unfit", sign: "✕" },
};

export const limeMethods: Record<Schemas["LimeMethod"], string> = {
  smp: "SMP buffer",
  mehlich: "Mehlich acidity",
  "base-saturation": "base saturation",
  texture: "texture, rough",
};

export const nutrientSchools: Record<Schemas["School"], { name: string; why: string }> = {
  sufficiency: { name: "Sufficiency", why: "Feed the crop this year, by the class of the test." },
  "build-maintain": {
    name: "Build up and maintain",
    why: "To the critical level in four years, then keep it.",
  },
  replacement: { name: "Replacement", why: "Put back what the harvest carries off." },
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
      return "passed over";
    case "ready":
      return "ready";
    case "overdue":
      return "overdue";
    case "blocked":
      return `waits for ${state.by.map((kind) => stepNames[kind].pencil).join(", ")}`;
    case "waiting":
      return "not yet";
  }
}

export function originWords(origin: Schemas["Origin"]): { text: string; assumed: boolean } {
  switch (origin.from) {
    case "given":
      return { text: "entered here", assumed: false };
    case "measured":
      return { text: `read from ${origin.what}`, assumed: false };
    case "worked":
      return { text: `worked out in “${origin.part}”`, assumed: false };
    case "sourced":
      return { text: sourceWords(origin.source), assumed: false };
    case "assumed":
      return { text: `assumed; ${origin.replace_by} would replace it`, assumed: true };
  }
}

const classes: Record<Schemas["Class"], string> = {
  published: "published",
  "common-practice": "common practice, no source",
  "from-memory": "from memory",
};

export function sourceWords(source: Schemas["Source"]): string {
  const kind = classes[source.class];
  return source.citation.startsWith(kind) ? kind : `${source.citation} (${kind})`;
}
