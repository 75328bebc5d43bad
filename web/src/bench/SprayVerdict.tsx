import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useReckoning } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Pick } from "../kit/Pick";
import { Trouble } from "../kit/states";
import { useFarm } from "../shell/farm";
import { dayText } from "../units/format";
import { useUnits } from "../units/useUnits";

type Ask = Schemas["SprayCheckRequest"];

export const heldWords: Record<Schemas["LabelHeld"], { sign: string; word: string }> = {
  within: { sign: "●", word: "within the label" },
  "not-read": { sign: "?", word: "not entered from the label" },
  against: { sign: "✕", word: "off label" },
};

const things: Record<Schemas["Unfree"], string> = {
  cutting: "Cutting",
  grazing: "Grazing",
  sowing: "Sowing",
};

/** A label of the shed, as the check asks for it. */
export function labelOf(nature: Schemas["Nature"]): Schemas["SprayLabel"] | null {
  if (nature.is !== "spray") return null;
  const { ingredients, lowest, highest, over, re_entry_hours, harvest_days, grazing_days, ...rest } = nature;
  return {
    ingredients: ingredients.map(({ name }) => name),
    lowest: lowest as Schemas["Quantity"] | undefined,
    highest: highest as Schemas["Quantity"] | undefined,
    over: over ?? [],
    re_entry_hours,
    harvest_days,
    grazing_days,
    plant_back: rest.plant_back ?? [],
    buffer: rest.buffer,
    most_wind: rest.most_wind,
    coolest: rest.coolest,
    hottest: rest.hottest,
  };
}

/** The variety of a crop that stands there, and what it tolerates. */
interface Chosen {
  crop: string;
  variety: string;
  tolerates: string[];
}

/** Of an ordinary variety: it tolerates nothing. */
const ORDINARY = "ordinary";

/** Ingredients in the words of a variety's record. */
export function toleratedIn(words: string | null | undefined): string[] {
  return (
    (words ?? "")
      // The comma of 2,4-D is no end of a word.
      .split(/,(?!\d)|[;/]|\band\b/)
      .map((one) => one.trim())
      .filter((one) => one !== "")
      .slice(0, 12)
  );
}

/** A spray held against its label and against what stands or is to stand there. */
export function SprayVerdict({ ask: asked }: { ask: Ask | null }) {
  const units = useUnits();
  const crops = useCrops();
  const [chosen, setChosen] = useState<readonly Chosen[]>([]);
  const ask = asked && {
    ...asked,
    varieties: chosen
      .filter(({ crop }) => asked.over?.includes(crop))
      .map(({ crop, tolerates }) => ({ crop, tolerates })),
  };
  const told = useReckoning(
    "spray.check",
    [units.system, ask],
    () => answered(api.POST("/api/reckon/spray.check", { body: ask as Ask })),
    ask !== null,
  );
  if (ask === null) return null;
  if (told.error instanceof Refused && told.error.status === 422) return <Trouble error={told.error} />;
  if (told.error || !told.data) return null;
  const { held, findings, free, re_entry_hours } = told.data.value;
  const { sign, word } = heldWords[held];
  const name = (id: string) => crops.data?.find((crop) => crop.id === id)?.name ?? id;
  return (
    <section aria-label="Label check" data-held={held}>
      <p className={`text-lg font-semibold ${held === "against" ? "text-stop" : ""}`}>
        <span aria-hidden>{sign} </span>
        {held === "against" ? "Off label" : word[0]?.toUpperCase() + word.slice(1)}
      </p>
      <ul className="border-t border-rule">
        {findings.map((one) => (
          <li
            key={`${one.key}-${one.crop ?? ""}`}
            data-finding={one.key}
            data-held={one.held}
            className="grid grid-cols-[1.25rem_minmax(0,1fr)] gap-x-2 border-b border-rule py-1.5 text-sm"
          >
            <span aria-hidden className={one.held === "against" ? "font-bold text-stop" : "text-pencil"}>
              {heldWords[one.held].sign}
            </span>
            <span>
              <span className="sr-only">{heldWords[one.held].word}: </span>
              {one.reason}
            </span>
          </li>
        ))}
      </ul>
      {findings
        .filter((one) => one.by_variety && one.crop != null)
        .map(({ crop }) => (
          <WhichVariety
            key={crop}
            crop={String(crop)}
            name={name(String(crop))}
            value={chosen.find((one) => one.crop === crop)?.variety ?? ""}
            onChange={(variety, tolerates) =>
              setChosen((before) => [
                ...before.filter((one) => one.crop !== crop),
                ...(tolerates ? [{ crop: String(crop), variety, tolerates }] : []),
              ])
            }
          />
        ))}
      <ul className="pt-2 text-sm">
        {re_entry_hours != null && <li>Re-entry interval: {re_entry_hours} hours.</li>}
        {free.map((one) => (
          <li key={`${one.what}-${one.crop ?? ""}`}>
            {things[one.what]}
            {one.crop ? ` ${name(one.crop)}` : ""} allowed from {dayText(one.on, 0)}.
          </li>
        ))}
      </ul>
      <Cautions cautions={told.data.cautions} />
    </section>
  );
}

interface WhichVarietyProps {
  crop: string;
  name: string;
  value: string;
  /** Which, and what it tolerates; nothing where that is not known. */
  onChange: (variety: string, tolerates: string[] | null) => void;
}

/** Which variety of a crop stands there: one of the farm's own, or one that tolerates no herbicide. */
function WhichVariety({ crop, name, value, onChange }: WhichVarietyProps) {
  const farm = useFarm();
  const varieties = useQuery({
    queryKey: ["farm", farm.id, "varieties", crop],
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/varieties", { params: { path: { farm: farm.id }, query: { crop } } }),
      ),
  });
  const own = varieties.data?.own ?? [];
  const choose = (id: string) => {
    if (id === "") onChange(id, null);
    else if (id === ORDINARY) onChange(id, []);
    else onChange(id, toleratedIn(own.find((one) => one.id === id)?.facts.bears));
  };
  return (
    <Pick
      label={`Variety of ${name} standing here`}
      value={value}
      onChange={choose}
      empty="not known"
      clears
      options={[
        ...own.map(({ id, facts }) => ({
          value: id,
          text: facts.bears ? `${facts.name}, tolerates ${facts.bears}` : facts.name,
        })),
        { value: ORDINARY, text: "another variety, not herbicide-tolerant" },
      ]}
    />
  );
}
