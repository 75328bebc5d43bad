import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useGround, useLots, useReckoning, useSeason } from "../api/queries";
import { Choice } from "../kit/Choice";
import { useDraft } from "../kit/draft";
import { Figure } from "../kit/Figure";
import { NumberBox } from "../kit/NumberBox";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { NotYet, Trouble } from "../kit/states";
import type { Task } from "../outbox/waiting";
import { numberOf, numbersIn } from "../records/amounts";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { shelved } from "../units/words";
import { FieldPick } from "./FieldPick";

interface Props {
  field: string;
  onField: (field: string) => void;
}

/** While it is sown: does the seed lie right, and will it last? */
export function SowingBench({ field, onField }: Props) {
  const farm = useFarm();
  const season = useSeason(farm.id);
  const ground = useGround(farm.id, field);
  const lots = useLots(farm.id);
  if (season.data === undefined || (field && ground.data === undefined && !ground.isError))
    return <NotYet what="Walking behind the drill" of={[season]} />;
  const strip = season.data.strips.find((one) => one.field.id === field);
  const own = {
    field,
    name: strip?.field.name ?? "",
    stand: strip?.stands.at(-1),
    may: farm.role !== "adviser",
  };
  const lot = lots.data?.find((one) => own.stand?.crops.includes(one.crop) && one.on_hand);
  return (
    <div className="border-t-2 border-ink pt-3">
      <div className="max-w-md">
        <FieldPick value={field} onChange={onField} hint="brings what is sown there" />
      </div>
      <div className="grid gap-x-12 gap-y-8 pt-3 lg:grid-cols-2">
        <section aria-label="Halfway">
          <Halfway
            key={field}
            {...own}
            area={(strip?.field.sown_area as Quantity | undefined) ?? null}
            left={lot?.on_hand ?? null}
          />
        </section>
        <section aria-label="How deep it lies">
          <Depth
            key={field}
            {...own}
            texture={ground.data?.ground.facts.texture ?? "loam"}
            crop={own.stand?.crops[0] ?? "alfalfa"}
          />
        </section>
      </div>
    </div>
  );
}

interface Own {
  field: string;
  name: string;
  stand: Schemas["StandView"] | undefined;
  may: boolean;
}

interface Half {
  done: Quantity | null;
  used: Quantity | null;
  aim: Quantity | null;
  area_left: Quantity | null;
  seed_left: Quantity | null;
  /** Sown so far when seed of it was last recorded: what was sown since is nobody's guess. */
  recorded: Quantity | null;
}

const goOn: Record<Schemas["ProgressVerdict"], string> = {
  "go-on": "● Go on",
  adjust: "◐ Set it a little",
  stop: "✕ Stop and set it",
};

function Halfway({
  field,
  name,
  stand,
  may,
  area,
  left,
}: Own & { area: Quantity | null; left: Quantity | null }) {
  const farm = useFarm();
  const units = useUnits();
  const [task, setTask] = useState<Task | null>(null);
  const { now, change, forget } = useDraft<Half>(`halfway.${farm.id}.${field}`, {
    done: null,
    used: null,
    aim: null,
    area_left: null,
    seed_left: left,
    recorded: null,
  });
  const { done, used, aim, area_left, seed_left, recorded } = now;
  const ready = done && used && aim && area_left && seed_left;
  const request = {
    area_done: done as Schemas["Area"],
    seed_used: used as Schemas["Mass"],
    aim: aim as Schemas["MassPerArea"],
    area_left: area_left as Schemas["Area"],
    seed_left: seed_left as Schemas["Mass"],
  };
  const told = useReckoning(
    "sowing.progress",
    [units.system, request],
    () => answered(api.POST("/api/reckon/sowing.progress", { body: request })),
    Boolean(ready),
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  return (
    <>
      <h2>Halfway: will it last?</h2>
      <form aria-label="So far" onSubmit={(event) => event.preventDefault()}>
        <div className="grid grid-cols-2 gap-x-4">
          <QuantityField
            label="Sown so far"
            bare={units.area}
            value={done}
            onChange={(done) => change({ done })}
            error={refused?.at("/area_done")}
          />
          <QuantityField
            label="Still to sow"
            bare={units.area}
            value={area_left}
            onChange={(area_left) => change({ area_left })}
            error={refused?.at("/area_left")}
            hint={area ? `of ${plain(area)} in all` : undefined}
          />
          <QuantityField
            label="Seed used"
            bare={units.mass}
            value={used}
            onChange={(used) => change({ used })}
            error={refused?.at("/seed_used")}
          />
          <QuantityField
            label="Seed left"
            bare={units.mass}
            value={seed_left}
            onChange={(seed_left) => change({ seed_left })}
            error={refused?.at("/seed_left")}
            hint="in the box and in bags"
          />
          <QuantityField
            label="Aim"
            bare={units.rate}
            value={aim}
            onChange={(aim) => change({ aim })}
            error={refused?.at("/aim")}
            hint="out of the bag"
          />
        </div>
      </form>
      <div aria-live="polite" className="space-y-2 pt-2">
        {!ready && <p className="text-pencil">Say what is done and used, and what is left of both.</p>}
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p className="text-2xl font-bold" data-verdict={answer.value.verdict}>
              {goOn[answer.value.verdict]}
            </p>
            <p>
              <Figure
                quantity={answer.value.rate}
                explains={answer}
                label="So far"
                className="text-3xl font-bold"
              />
              <span className="block text-sm text-pencil">
                so far, {plain({ ...answer.value.off_aim, value: Math.abs(answer.value.off_aim.value) })}{" "}
                {answer.value.off_aim.value < 0 ? "under" : "over"} the aim
              </span>
            </p>
            {answer.value.short_area && answer.value.short_seed ? (
              <p className="font-semibold text-stop" data-lasts="no">
                ✕ The seed will not last: it reaches for {plain(answer.value.lasts)}, and{" "}
                {plain(answer.value.short_area)} stay without. {plain(answer.value.short_seed)} are wanting
                {answer.value.rate_that_lasts && <>, or set it to {plain(answer.value.rate_that_lasts)}</>}.
              </p>
            ) : (
              <p data-lasts="yes">● The seed lasts: it reaches for {plain(answer.value.lasts)}.</p>
            )}
          </>
        )}
        {may && stand && (
          <p className="flex flex-wrap gap-x-4">
            <button
              type="button"
              className="ink-button max-sm:min-h-12"
              onClick={() =>
                setTask({
                  form: "seed-sown",
                  title: "Seed that was sown",
                  where: name,
                  field,
                  stand: stand.id,
                  with: { crops: stand.crops, ...(done && !recorded ? { area: done } : {}) },
                })
              }
            >
              Record seed that was sown
            </button>
            <button type="button" className="line-button" onClick={forget}>
              Begin anew
            </button>
          </p>
        )}
      </div>
      {task && (
        <RecordSheet task={task} onDone={() => setTask(null)} onInked={() => change({ recorded: done })} />
      )}
    </>
  );
}

interface Dug {
  crop: string;
  depths: string;
  surface: string;
  unit: string;
}

const deep: Record<Schemas["DepthVerdict"], string> = {
  "carry-on": "● Carry on",
  raise: "✕ Raise the openers",
  lower: "✕ Lower the openers",
  "look-at-more": "◐ Dig up more",
};

function Depth({
  field,
  name,
  stand,
  may,
  texture,
  crop: first,
}: Own & { texture: Schemas["Texture"]; crop: string }) {
  const farm = useFarm();
  const units = useUnits();
  const crops = useCrops();
  const [task, setTask] = useState<Task | null>(null);
  const seeded = crops.data?.some((one) => one.id === first && one.sowing) ? first : "alfalfa";
  const { now, change, forget } = useDraft<Dug>(`depth.${farm.id}.${field}`, {
    crop: seeded,
    depths: "",
    surface: "",
    unit: units.depth,
  });
  const depths = numbersIn(now.depths.split(/[\s,;]+/));
  const surface = numberOf(now.surface) ?? 0;
  const ready = depths !== null || surface > 0;
  const request = {
    crop: now.crop,
    texture,
    depths: (depths ?? []).map((value) => ({ value, unit: now.unit })) as Schemas["Length"][],
    on_surface: Number.isFinite(surface) ? Math.max(0, Math.round(surface)) : 0,
  };
  const told = useReckoning(
    "depth.check",
    [units.system, request],
    () => answered(api.POST("/api/reckon/depth.check", { body: request })),
    ready,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  return (
    <>
      <h2>How deep it lies</h2>
      <form aria-label="Seed that was dug up" onSubmit={(event) => event.preventDefault()}>
        <Pick
          label="Seed of"
          value={now.crop}
          options={shelved((crops.data ?? []).filter((one) => one.sowing))}
          onChange={(crop) => crop && change({ crop })}
        />
        <div className="flex items-baseline justify-between pt-2">
          <p className="text-sm font-semibold">Measured in</p>
          <Choice
            label="Measured in"
            value={now.unit}
            options={["in", "mm", "cm"].map((value) => ({ value, text: value }))}
            onChange={(unit) => change({ unit })}
          />
        </div>
        <div className="grid grid-cols-2 gap-x-4">
          <NumberBox
            label="Each seed’s depth"
            value={now.depths}
            onChange={(depths) => change({ depths })}
            hint="ten of them, with spaces"
            error={refused?.at("/depths")}
            words
          />
          <NumberBox
            label="On the surface"
            value={now.surface}
            onChange={(surface) => change({ surface })}
            hint="seeds, besides"
          />
        </div>
      </form>
      <div aria-live="polite" className="space-y-2 pt-2">
        {!ready && <p className="text-pencil">Dig up ten seeds in several rows.</p>}
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p className="text-2xl font-bold" data-verdict={answer.value.verdict}>
              {deep[answer.value.verdict]}
            </p>
            <p>{answer.value.why}</p>
            <p className="text-sm text-pencil">
              <Figure quantity={answer.value.mean} explains={answer} label="On average" /> on average;{" "}
              {plain(answer.value.wanted[0] as Quantity)} to {plain(answer.value.wanted[1] as Quantity)} is
              wanted in this soil; {plain(answer.value.too_deep)} lie deeper.
            </p>
          </>
        )}
        {may && stand && answer && (
          <p className="flex flex-wrap gap-x-4">
            <button
              type="button"
              className="ink-button max-sm:min-h-12"
              onClick={() =>
                setTask({
                  form: "depth-check",
                  title: "Seed depth",
                  where: name,
                  field,
                  stand: stand.id,
                  with: {
                    crop: now.crop,
                    depths: depths ?? [],
                    on_surface: request.on_surface,
                    unit: now.unit,
                  },
                })
              }
            >
              Keep this look
            </button>
            <button type="button" className="line-button" onClick={forget}>
              Begin anew
            </button>
          </p>
        )}
      </div>
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </>
  );
}
