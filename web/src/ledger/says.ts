import type { Schemas } from "../api/client";
import { dayText, plain } from "../units/format";
import { goals, stepNames } from "../units/words";

/** What an entry says, in one line. */
export function says(entry: Schemas["EntryView"]): string {
  const { payload } = entry;
  switch (payload.kind) {
    case "choices": {
      const { goal, sow_on, cover } = payload.choices;
      const crops =
        cover.as === "seed" ? cover.mix.members.map((member) => member.crop) : [cover.plants.crop];
      return `Decided: ${goals[goal].toLowerCase()} from ${crops.join(", ").replaceAll("-", " ")}, to sow ${dayText(sow_on, 0)}`;
    }
    case "step": {
      const { step, area, bulk_rate, depth, setting, note } = payload.done;
      const word = stepNames[step].ink;
      const details = [
        area && plain(area),
        bulk_rate && `${plain(bulk_rate)} out of the bag`,
        depth && `${plain(depth)} deep`,
        setting && `setting ${setting}`,
      ].filter(Boolean);
      const head = word.charAt(0).toUpperCase() + word.slice(1);
      return [[head, ...details].join(", "), note].filter(Boolean).join(". ");
    }
    case "lot-tag":
      return `Tag: purity ${plain(payload.tag.purity)}, germination ${plain(payload.tag.germination)}`;
    case "lot-report":
      return `${payload.report.laboratory}: purity ${plain(payload.report.purity)}, germination ${plain(payload.report.germination)} of ${payload.report.seeds_tested} seeds`;
    case "note":
      return payload.text;
    case "strike":
      return `Struck: ${payload.reason}`;
  }
}
