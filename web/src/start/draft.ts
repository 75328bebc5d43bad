import { useCallback, useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import type { Quantity } from "../units/format";

/** A change of the draft; as a function of the draft when it builds on what stands there. */
export type Change = (part: Partial<Draft> | ((old: Draft) => Partial<Draft>)) => void;

/** What has been put down for a stand so far. Kept in the browser until the stand is started. */
export interface Draft {
  field: string;
  goal: Schemas["Goal"];
  by: Schemas["MixView"];
  members: DraftMember[];
  total: Quantity | null;
  plants: string | null;
  pieces: number;
  conditions: Schemas["Conditions"];
  dormant: "usual" | Schemas["DormantSeed"];
  practice: string;
  sowOn: string;
  /** Key of the way of timing; empty for whichever is likeliest. */
  timing: string;
  spare: Quantity;
  lots: string[];
  lime: Schemas["LimeChoice"] | null;
  nutrients: { school: Schemas["School"]; goal: Quantity | null } | null;
}

export interface DraftMember {
  crop: string;
  amount: Quantity | null;
}

export function emptyDraft(today: string): Draft {
  return {
    field: "",
    goal: "hay",
    by: "mass",
    members: [],
    total: null,
    plants: null,
    pieces: 1,
    conditions: { method: "drill", seedbed: "good", late: false },
    dormant: "usual",
    practice: "tilled",
    sowOn: today,
    timing: "",
    spare: { value: 5, unit: "%" },
    lots: [],
    lime: null,
    nutrients: null,
  };
}

/** The choices a draft amounts to, or nothing while a part is missing. */
export function choicesOf(draft: Draft, lots: Schemas["LotView"][]): Schemas["Choices"] | undefined {
  const shared = {
    goal: draft.goal,
    practice: draft.practice,
    sow_on: draft.sowOn,
    ...(draft.timing ? { timing: draft.timing } : {}),
    spare: draft.spare as Schemas["Fraction"],
    ...(draft.lime ? { lime: draft.lime } : {}),
    ...(draft.nutrients?.goal
      ? {
          nutrients: {
            school: draft.nutrients.school,
            yield_goal: draft.nutrients.goal as Schemas["MassPerArea"],
          },
        }
      : {}),
  };
  if (!draft.sowOn) return undefined;
  if (draft.plants) {
    return {
      ...shared,
      cover: { as: "plants", plants: { crop: draft.plants, pieces_per_station: draft.pieces } },
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
    cover: {
      as: "seed",
      mix,
      dormant_seed: draft.dormant === "usual" ? null : draft.dormant,
      lots: chosen.filter((lot) => crops.has(lot.crop)).map((lot) => ({ lot: lot.id })),
    },
  };
}

/** What was kept, as far as it still has the shape of a draft: a part of an older shape is left out. */
function keptDraft(key: string, today: string): Draft {
  const empty = emptyDraft(today);
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key) ?? "{}");
    if (typeof kept !== "object" || kept === null || Array.isArray(kept)) return empty;
    const alike = Object.entries(kept).filter(([name, value]) => {
      const usual: unknown = empty[name as keyof Draft];
      if (!(name in empty)) return false;
      if (usual === null || value === null) return usual === null || usual === value;
      return typeof usual === typeof value && Array.isArray(usual) === Array.isArray(value);
    });
    return { ...empty, ...(Object.fromEntries(alike) as Partial<Draft>) };
  } catch {
    return empty;
  }
}

/** A draft that survives leaving the page, closing the browser, and a refusal. */
export function useDraft(farm: string, today: string, given: Partial<Draft>) {
  const key = `ink-draft-${farm}`;
  const [draft, setDraft] = useState<Draft>(() => ({ ...keptDraft(key, today), ...given }));
  useEffect(() => localStorage.setItem(key, JSON.stringify(draft)), [key, draft]);
  const change = useCallback<Change>(
    (part) => setDraft((old) => ({ ...old, ...(typeof part === "function" ? part(old) : part) })),
    [],
  );
  const forget = useCallback(() => {
    localStorage.removeItem(key);
  }, [key]);
  return { draft, change, forget };
}
