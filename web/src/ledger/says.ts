import type { Schemas } from "../api/client";
import { dayText, plain } from "../units/format";
import { drainages, goals, pMethods, stepNames, textures } from "../units/words";

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
    case "site": {
      const { drainage, slope, texture, perennial_weeds } = payload.facts;
      const seen = [
        drainage && drainages[drainage],
        slope && `slope ${plain(slope)}`,
        texture && textures[texture],
        perennial_weeds && `weeds: ${perennial_weeds}`,
      ].filter(Boolean);
      return `Walked: ${seen.join(", ") || "nothing noted"}${payload.history_known ? "; history told" : ""}`;
    }
    case "soil-test": {
      const top = payload.test.layers[0];
      const figures = [
        top && `pH ${top.ph}`,
        top?.acidity?.by === "smp" && `buffer ${top.acidity.buffer_ph}`,
        top?.p && `P ${plain(top.p.value)} ${pMethods[top.p.method]}`,
        top?.k && `K ${plain(top.k)}`,
      ].filter(Boolean);
      return `${payload.test.laboratory}: ${figures.join(", ")}`;
    }
    case "soil-sample":
      return `Sample sent to ${payload.laboratory}, due ${dayText(payload.due_on, 0)}`;
    case "spray":
      return [
        `Sprayed ${payload.active}`,
        payload.rate,
        payload.label_months != null && `label: ${payload.label_months} months`,
      ]
        .filter(Boolean)
        .join(", ");
    case "past-crop":
      return `${payload.crop.charAt(0).toUpperCase()}${payload.crop.slice(1)} ended${payload.years ? ` after ${payload.years} years` : ""}`;
    case "bioassay":
      return [payload.passed ? "Bioassay: grew as in clean soil" : "Bioassay: failed", payload.note]
        .filter(Boolean)
        .join(". ");
    case "dressing": {
      const { what, product, rate } = payload.dressing;
      return `${what === "lime" ? "Limed" : what === "manure" ? "Manured" : "Dressed"}: ${plain(rate)} of ${product}`;
    }
    case "soil-temperature":
      return `Soil ${plain(payload.temperature)} in the morning at ${plain(payload.depth)}`;
    case "rain-gauge":
      return `Rain gauge: ${plain(payload.rain)}`;
    case "irrigation":
      return `Watered: ${plain(payload.depth)}`;
    case "cut": {
      const { harvested, moisture, crop } = payload.cut;
      return `Cut: ${plain(harvested)} of ${crop.replaceAll("-", " ")}${moisture ? ` at ${plain(moisture)} moisture` : ""}`;
    }
  }
}
