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
