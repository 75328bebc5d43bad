import { useQuery } from "@tanstack/react-query";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useGround, useReckoning } from "../api/queries";
import { Choice } from "../kit/Choice";
import { Figure } from "../kit/Figure";
import { useLive } from "../kit/live";
import { optionsOf, Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { NotYet, Trouble } from "../kit/states";
import { Tick } from "../kit/Tick";
import { useFarm } from "../shell/farm";
import { plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { shelved, textures, bootMarks, bootSchools, surfaces } from "../units/words";
import { FieldPick } from "./FieldPick";

interface Props {
  field: string;
  onField: (field: string) => void;
}

const verdicts: Record<Schemas["Firmness"], string> = {
  ready: "● Ready to sow",
  "roll-again": "◐ Too loose: roll again, then retest",
  "too-hard": "◐ Too hard: loosen the surface, then retest",
  "work-again": "✕ Too cloddy: break clods, roll, then retest",
};

/** Is it firm enough, and what would tillage cost the slope? */
export function SeedbedBench({ field, onField }: Props) {
  const farm = useFarm();
  const ground = useGround(farm.id, field);
  const climate = useQuery({
    queryKey: ["farm", farm.id, "climate", useUnits().system],
    queryFn: () => answered(api.GET("/api/farms/{farm}/climate", { params: { path: { farm: farm.id } } })),
  });
  if (climate.data === undefined || (field && ground.data === undefined && !ground.isError))
    return <NotYet what="Loading seedbed bench" of={[climate]} />;
  const facts = ground.data?.ground.facts;
  return (
    <div className="grid gap-x-12 gap-y-8 border-t-2 border-ink pt-3 lg:grid-cols-2">
      <section aria-label="Seedbed firmness">
        <Firm texture={facts?.texture ?? null} />
      </section>
      <section aria-label="Soil loss on slope">
        <Loss
          key={field}
          field={field}
          onField={onField}
          slope={facts?.slope ?? null}
          rain={facts?.rain ?? climate.data.rain ?? null}
          texture={facts?.texture ?? null}
        />
      </section>
    </div>
  );
}

interface Boot {
  crop: string;
  school: Schemas["BootSchool"];
  sunk: Quantity | null;
  most: Quantity | null;
  mark: Schemas["BootMark"] | "";
  surface: Schemas["BedSurface"] | "";
}

function Firm({ texture }: { texture: Schemas["Texture"] | null }) {
  const units = useUnits();
  const crops = useCrops();
  const { now, change } = useLive<Boot>({
    crop: "alfalfa",
    school: "depth",
    sunk: null,
    most: null,
    mark: "",
    surface: "",
  });
  const { crop, school, sunk, most, mark, surface } = now;
  const seen = school === "depth" ? sunk !== null : mark !== "";
  const request = {
    crop,
    school,
    ...(sunk ? { sunk: sunk as Schemas["Length"] } : {}),
    ...(most ? { most: most as Schemas["Length"] } : {}),
    ...(mark ? { mark } : {}),
    ...(surface ? { surface } : {}),
    ...(texture ? { texture } : {}),
  };
  const told = useReckoning(
    "seedbed.firmness",
    [units.system, request],
    () => answered(api.POST("/api/reckon/seedbed.firmness", { body: request })),
    seen,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !seen ? undefined : told.data;
  return (
    <>
      <h2>Seedbed firmness</h2>
      <form aria-label="Boot test" onSubmit={(event) => event.preventDefault()}>
        <Pick
          label="Crop"
          value={crop}
          options={shelved((crops.data ?? []).filter((one) => one.seed))}
          onChange={(crop) => crop && change({ crop })}
        />
        <p className="pt-1 text-sm font-semibold">Boot test method</p>
        <Choice
          label="Boot test method"
          value={school}
          options={optionsOf(bootSchools)}
          onChange={(school) => change({ school })}
        />
        <div className="grid grid-cols-2 gap-x-4">
          <QuantityField
            label="Boot sinks"
            bare={units.depth}
            value={sunk}
            onChange={(sunk) => change({ sunk })}
            error={refused?.at("/sunk")}
          />
          <QuantityField
            label="Maximum depth"
            bare={units.depth}
            value={most}
            onChange={(most) => change({ most })}
            error={refused?.at("/most")}
            hint="Leave blank to use the crop’s limit."
          />
          <Pick<Schemas["BootMark"]>
            label="Boot print"
            value={mark}
            empty="not checked"
            clears
            options={optionsOf(bootMarks)}
            onChange={(mark) => change({ mark })}
          />
          <Pick<Schemas["BedSurface"]>
            label="Surface"
            value={surface}
            empty="not checked"
            clears
            options={optionsOf(surfaces)}
            onChange={(surface) => change({ surface })}
          />
        </div>
      </form>
      <div aria-live="polite" className="pt-2">
        {!seen && <p className="text-pencil">Step on the seedbed and enter what you see.</p>}
        {answer && (
          <>
            <p className="text-2xl font-bold">{verdicts[answer.value.verdict]}</p>
            <p>{answer.value.reason}</p>
            <p className="text-sm text-pencil">
              Limit <Figure quantity={answer.value.most} explains={answer} label="Maximum depth" />
            </p>
            <ul className="text-sm text-pencil">
              {answer.value.mind.map((one) => (
                <li key={one}>{one}</li>
              ))}
            </ul>
          </>
        )}
      </div>
    </>
  );
}

interface LossProps extends Props {
  slope: Quantity | null;
  rain: Quantity | null;
  texture: Schemas["Texture"] | null;
}

interface Slope {
  slope: Quantity | null;
  length: Quantity | null;
  rain: Quantity | null;
  texture: Schemas["Texture"];
  across: boolean;
}

function Loss({ field, onField, ...first }: LossProps) {
  const units = useUnits();
  const { now, change } = useLive<Slope>({
    slope: first.slope ?? { value: 6, unit: "%" },
    length: units.system === "us" ? { value: 300, unit: "ft" } : { value: 100, unit: "m" },
    rain: first.rain,
    texture: first.texture ?? "loam",
    across: false,
  });
  const { slope, length, rain, texture, across } = now;
  const ready = slope !== null && length !== null && rain !== null;
  const request = {
    slope: slope as Schemas["Fraction"],
    slope_length: length as Schemas["Length"],
    rain: rain as Schemas["Length"],
    texture,
    across,
  };
  const told = useReckoning(
    "soil.loss",
    [units.system, request],
    () => answered(api.POST("/api/reckon/soil.loss", { body: request })),
    ready,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  return (
    <>
      <h2>Soil loss on slope</h2>
      <form aria-label="Slope" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} hint="Fills in slope and texture." />
        <div className="grid grid-cols-2 gap-x-4">
          <QuantityField
            label="Slope"
            bare="%"
            value={slope}
            onChange={(slope) => change({ slope })}
            error={refused?.at("/slope")}
          />
          <QuantityField
            label="Slope length"
            bare={units.course}
            value={length}
            onChange={(length) => change({ length })}
            error={refused?.at("/slope_length")}
            hint="From where runoff starts to where it collects."
          />
          <QuantityField
            label="Annual rainfall"
            bare={units.rain}
            value={rain}
            onChange={(rain) => change({ rain })}
            error={refused?.at("/rain")}
          />
          <Pick<Schemas["Texture"]>
            label="Texture"
            value={texture}
            options={optionsOf(textures)}
            onChange={(texture) => texture && change({ texture })}
          />
        </div>
        <Tick checked={across} onChange={(across) => change({ across })}>
          Tilled and sown on the contour
        </Tick>
      </form>
      <div aria-live="polite" className="pt-2">
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p className="pb-2">{answer.value.says}</p>
            <ul>
              {answer.value.covers.map((cover) => (
                <li key={cover.key} className="pb-2" data-cover={cover.key}>
                  {cover.name}:{" "}
                  <strong>
                    <Figure quantity={cover.low} />–<Figure quantity={cover.high} explains={answer} />
                  </strong>{" "}
                  a year{cover.too_much && <span className="font-semibold text-stop"> ✕ over the limit</span>}
                  <div className="relative h-2 bg-sunk" aria-hidden>
                    <div
                      className="absolute inset-y-0 bg-straw"
                      style={{
                        left: `${100 * cover.begins}%`,
                        width: `max(2px, ${100 * (cover.ends - cover.begins)}%)`,
                      }}
                    />
                  </div>
                </li>
              ))}
            </ul>
            <p className="text-sm text-pencil">
              Most soils tolerate {plain(answer.value.bearable)} a year long term.
            </p>
          </>
        )}
      </div>
    </>
  );
}
