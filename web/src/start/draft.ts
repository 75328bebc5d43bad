import { useCallback, useEffect, useState } from "react";
import { z } from "zod";
import type { Schemas } from "../api/client";
import { useLive, type Change as ChangeOf } from "../kit/live";
import type { Quantity } from "../units/format";
import { goals } from "../units/words";

export type Change = ChangeOf<Draft>;

const quantity = z.object({ value: z.number(), unit: z.string() });
const day = z.string();

/** The shape of a draft: what was kept by another version is held against it, part by part. */
export const draftShape = z.object({
  field: z.string(),
  goal: z.enum(Object.keys(goals) as [Schemas["Goal"], ...Schemas["Goal"][]]),
  by: z.enum(["mass", "live-seeds", "full-rate"]),
  members: z.array(z.object({ crop: z.string(), amount: quantity.nullable() })),
  total: quantity.nullable(),
  plants: z.string().nullable(),
  pieces: z.number().int().min(1).max(10),
  // Drafts of before have neither.
  rows: quantity.nullish().transform((rows) => rows ?? null),
  inRow: quantity.nullish().transform((inRow) => inRow ?? null),
  conditions: z.object({
    method: z.enum(["drill", "broadcast"]),
    seedbed: z.enum(["good", "fair", "poor"]),
    late: z.boolean(),
    // Drafts of before have none.
    broadcast: z
      .enum(["factor", "top-of-range", "as-given"])
      .nullish()
      .transform((by) => by ?? "factor"),
  }),
  dormant: z.enum(["usual", "counts", "left-out"]),
  practice: z.string(),
  /** Key of the regime; empty while it is not decided. */
  regime: z.string(),
  /** Empty while the proposed day stands. */
  sowOn: day,
  /** Key of the way of timing; empty for whichever is likeliest. */
  timing: z.string(),
  spare: quantity,
  lots: z.array(z.string()),
  lime: z
    .looseObject({ method: z.string(), target_ph: z.number(), material: z.looseObject({ name: z.string() }) })
    .nullable(),
  nutrients: z
    .object({
      school: z.string(),
      goal: quantity.nullable(),
      // Drafts of before have none.
      potash: z
        .enum(["once", "two", "three"])
        .nullish()
        .transform((split) => split ?? null),
    })
    .nullable(),
});

/** What has been put down for a stand so far. Kept in the browser until the stand is started. */
export type Draft = Omit<
  z.infer<typeof draftShape>,
  "lime" | "nutrients" | "members" | "total" | "spare" | "rows" | "inRow"
> & {
  /** Between rows; the drill's or the crop's usual spacing while it is empty. */
  rows: Quantity | null;
  /** Between plants in the row, likewise. */
  inRow: Quantity | null;
  members: DraftMember[];
  total: Quantity | null;
  spare: Quantity;
  lime: Schemas["LimeChoice"] | null;
  nutrients: {
    school: Schemas["School"];
    goal: Quantity | null;
    potash: Schemas["PotashSplit"] | null;
  } | null;
};

export interface DraftMember {
  crop: string;
  amount: Quantity | null;
}

export function emptyDraft(): Draft {
  return {
    field: "",
    goal: "hay",
    by: "mass",
    members: [],
    total: null,
    plants: null,
    pieces: 1,
    rows: null,
    inRow: null,
    conditions: { method: "drill", seedbed: "good", late: false, broadcast: "factor" },
    dormant: "usual",
    practice: "tilled",
    regime: "",
    // Nothing: then the first sound day is proposed.
    sowOn: "",
    timing: "",
    spare: { value: 5, unit: "%" },
    lots: [],
    lime: null,
    nutrients: null,
  };
}

/** The mix of a draft as it would be kept, without what a lot's tag adds; nothing while a part is missing. */
export function recordedMix({ plants, members, by, total }: Draft): Schemas["RecordedMix"] | undefined {
  if (plants || members.length === 0 || members.some(({ amount }) => !amount)) return undefined;
  const kept = members.map(({ crop, amount }): Schemas["RecordedMember"] =>
    by === "mass"
      ? { crop, rate: amount as Schemas["MassPerArea"] }
      : { crop, share: amount as Schemas["Fraction"] },
  );
  return {
    by,
    members: kept,
    ...(by === "live-seeds" && total ? { total: total as Schemas["CountPerArea"] } : {}),
  };
}

/** The choices a draft amounts to on a day, or nothing while a part is missing. */
export function choicesOf(
  draft: Draft,
  lots: Schemas["LotView"][],
  sowOn = draft.sowOn,
): Schemas["Choices"] | undefined {
  const shared = {
    goal: draft.goal,
    practice: draft.practice,
    ...(draft.regime ? { regime: draft.regime } : {}),
    sow_on: sowOn,
    ...(draft.timing ? { timing: draft.timing } : {}),
    spare: draft.spare as Schemas["Fraction"],
    ...(draft.lime ? { lime: draft.lime } : {}),
    ...(draft.nutrients?.goal
      ? {
          nutrients: {
            school: draft.nutrients.school,
            yield_goal: draft.nutrients.goal as Schemas["MassPerArea"],
            ...(draft.nutrients.potash ? { potash: draft.nutrients.potash } : {}),
          },
        }
      : {}),
  };
  if (!sowOn) return undefined;
  if (draft.plants) {
    return {
      ...shared,
      cover: {
        as: "plants",
        plants: {
          crop: draft.plants,
          pieces_per_station: draft.pieces,
          ...(draft.rows ? { row_spacing: draft.rows as Schemas["Length"] } : {}),
          ...(draft.inRow ? { in_row: draft.inRow as Schemas["Length"] } : {}),
        },
      },
    };
  }
  if (draft.members.length === 0 || draft.members.some((member) => !member.amount)) return undefined;
  const chosen = draft.lots.map((id) => lots.find((lot) => lot.id === id)).filter((lot) => lot !== undefined);
  const members = draft.members.map(({ crop, amount }): Schemas["RecordedMember"] => {
    // The lot's own seeds per mass, when its tag tells them.
    const seeds = chosen.find((lot) => lot.crop === crop)?.tag?.seeds_per_mass;
    const part =
      draft.by === "mass"
        ? { rate: amount as Schemas["MassPerArea"] }
        : { share: amount as Schemas["Fraction"] };
    return { crop, ...part, ...(seeds ? { seeds_per_mass: seeds } : {}) };
  });
  const mix: Schemas["RecordedMix"] = { by: draft.by, members, conditions: draft.conditions };
  if (draft.by === "live-seeds" && draft.total) mix.total = draft.total as Schemas["CountPerArea"];
  const crops = new Set(draft.members.map((member) => member.crop));
  return {
    ...shared,
    ...(draft.rows && draft.conditions.method === "drill"
      ? { row_spacing: draft.rows as Schemas["Length"] }
      : {}),
    cover: {
      as: "seed",
      mix,
      dormant_seed: draft.dormant === "usual" ? null : draft.dormant,
      lots: chosen.filter((lot) => crops.has(lot.crop)).map((lot) => ({ lot: lot.id })),
    },
  };
}

/** What was kept, as far as it still has the shape of a draft; and whether a part had to be left out. */
export function keptDraft(text: string | null): { draft: Draft; lost: boolean } {
  const empty = emptyDraft();
  if (text === null) return { draft: empty, lost: false };
  let kept: unknown;
  try {
    kept = JSON.parse(text);
  } catch {
    return { draft: empty, lost: true };
  }
  if (typeof kept !== "object" || kept === null || Array.isArray(kept)) return { draft: empty, lost: true };
  const shape = draftShape.shape as Record<string, z.ZodType>;
  const fits = Object.entries(kept).filter(([name, value]) => shape[name]?.safeParse(value).success);
  return {
    draft: { ...empty, ...(Object.fromEntries(fits) as Partial<Draft>) },
    lost: fits.length < Object.keys(kept).length,
  };
}

const keyOf = (farm: string) => `ink-draft-${farm}`;

function read(farm: string): string | null {
  try {
    return localStorage.getItem(keyOf(farm));
  } catch {
    // A browser that keeps nothing: the draft lives as long as the page.
    return null;
  }
}

/** A draft that survives leaving the page, closing the browser, and a refusal. */
export function useDraft(farm: string, given: Partial<Draft>) {
  const [kept] = useState(() => keptDraft(read(farm)));
  const { now: draft, change } = useLive<Draft>({ ...kept.draft, ...given });
  useEffect(() => {
    try {
      localStorage.setItem(keyOf(farm), JSON.stringify(draft));
    } catch {
      // Full or forbidden: it stays on the page.
    }
  }, [farm, draft]);
  const forget = useCallback(() => {
    try {
      localStorage.removeItem(keyOf(farm));
    } catch {
      // Nothing was kept.
    }
  }, [farm]);
  return { draft, change, forget, lost: kept.lost };
}
