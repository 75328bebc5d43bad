import { useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useMachines, useReckoning, useSeason } from "../api/queries";
import { useSignal } from "../api/signal";
import { Collapse } from "../kit/Collapse";
import { useDraft } from "../kit/draft";
import { Page } from "../kit/Page";
import { Pick } from "../kit/Pick";
import { Empty, NotYet, Trouble } from "../kit/states";
import type { Task } from "../outbox/waiting";
import type { CountSearch } from "../pages";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { useUnits } from "../units/useUnits";
import {
  begun,
  countedSoFar,
  countWays,
  forRecord,
  here,
  next,
  pending,
  undone,
  type CountBy,
  type Counting,
} from "./count";
import { Beside } from "./Beside";
import { CountBar, Decision } from "./Decision";
import { Enough, InMoney, Looked, type Money } from "./HowCounted";
import { Tally, Toss } from "./Tapping";
import { Where } from "./Where";

/** Count a stand, place by place, with one thumb. */
export function CountPage() {
  const farm = useFarm();
  const { stand: id }: CountSearch = useSearch({ strict: false });
  const season = useSeason(farm.id);
  const crops = useCrops();
  if (season.data === undefined || crops.data === undefined)
    return <NotYet what="Loading stand" of={[season, crops]} />;
  const strip = season.data.strips.find((one) => one.stands.some((stand) => stand.id === id));
  const stand = strip?.stands.find((one) => one.id === id);
  if (!strip || !stand)
    return (
      <Page title="Count stand">
        <Empty>Open a field and choose Count stand.</Empty>
      </Page>
    );
  const names = stand.crops
    .map((one) => crops.data.find((crop) => crop.id === one))
    .filter((one) => one != null);
  return <Chosen key={stand.id} field={strip.field} stand={stand} crops={names} />;
}

interface Props {
  field: Schemas["Strip"]["field"];
  stand: Schemas["StandView"];
  crops: readonly Schemas["Crop"][];
}

/** What is counted, and of which crop. */
interface Which {
  crop: string;
  by: CountBy;
}

/** Each crop and each way has a count of its own: going from one to another loses none. */
function Chosen(props: Props) {
  const first = props.crops[0];
  const { now, change } = useDraft<Which>(`count.${props.stand.id}`, {
    crop: first?.id ?? "",
    by: usual(first),
  });
  return <Counted key={`${now.crop}.${now.by}`} {...props} which={now} onWhich={change} />;
}

interface CountedProps extends Props {
  which: Which;
  onWhich: (which: Partial<Which>) => void;
}

/** A way that fits the crop to begin with. */
function usual(crop: Schemas["Crop"] | undefined): CountBy {
  if (crop?.planting) return "alive";
  return crop?.id === "alfalfa" ? "plants" : "grid";
}

function Counted({ field, stand, crops, which, onWhich }: CountedProps) {
  const farm = useFarm();
  const units = useUnits();
  const signal = useSignal();
  const machines = useMachines(farm.id);
  const [task, setTask] = useState<Task | null>(null);
  const us = units.system === "us";
  const drills = (machines.data?.machines ?? []).filter(
    ({ facts }) => facts.machine === "drill" && !facts.gone,
  );
  const { now, change, forget } = useDraft<Counting>(
    `count.${stand.id}.${which.crop}.${which.by}`,
    begun(which.crop, which.by, {
      frame: { value: us ? 1 : 0.1, unit: units.frame },
      length: us ? { value: 3, unit: "ft" } : { value: 1, unit: "m" },
      spacing: stand.row_spacing ?? drills[0]?.facts.row_spacing ?? null,
    }),
  );
  const sown = stand.plan.sown_on;
  const counted = countedSoFar(now);
  const many = now.places.length;
  const money = useDraft<Money>(`money.${farm.id}`, { price: null, thicken: null, start_over: null });
  const { price, thicken, start_over } = money.now;
  const request = {
    crop: now.crop,
    sown_on: sown,
    today: farm.today,
    counted,
    stems: now.by === "stems",
    ...(now.full ? { full: now.full } : {}),
    ...(now.thin ? { thin: now.thin } : {}),
    ...(price ? { price } : {}),
    ...(thicken ? { thicken_cost: thicken } : {}),
    ...(start_over ? { start_over_cost: start_over } : {}),
  };
  const told = useReckoning(
    "stand.decide",
    [units.system, request],
    () => answered(api.POST("/api/reckon/stand.decide", { body: request as Schemas["DecideRequest"] })),
    counted !== null && signal,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || counted === null ? undefined : told.data;
  // Told at its field: no more than a question.
  const asksEnough = refused?.at("/full") ?? refused?.at("/thin");
  const step = (to: Counting) => change(to);
  const enough = answer?.value.count.enough;
  const may = farm.role !== "adviser";
  const of = crops.length > 1 ? crops.find((crop) => crop.id === now.crop) : undefined;
  // Said once: afterwards the places want the room on the screen.
  const how = (
    <div className="grid grid-cols-2 gap-x-4">
      <Pick<CountBy>
        label="Count method"
        value={now.by}
        options={(Object.entries(countWays) as [CountBy, string][]).map(([value, text]) => ({
          value,
          text,
        }))}
        onChange={(by) => by && onWhich({ by })}
      />
      {crops.length > 1 && (
        <Pick
          label="Species"
          value={now.crop}
          options={crops.map((crop) => ({ value: crop.id, text: crop.name }))}
          onChange={(crop) => crop && onWhich({ crop })}
        />
      )}
      <Looked now={now} change={change} />
    </div>
  );
  return (
    <Page
      title={`Count: ${field.name}`}
      about={<p>{stand.cover}</p>}
      aside={<Where field={field} many={many} />}
    >
      <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[24rem_minmax(0,1fr)]">
        <section aria-label="This sample point" className="max-w-md">
          {many === 0 || (now.by === "row" && counted === null) ? (
            how
          ) : (
            <Collapse title={`${countWays[now.by]}${of ? `, ${of.name}` : ""}`}>{how}</Collapse>
          )}
          <p className="flex items-baseline justify-between pt-3">
            <span className="text-xl font-bold" data-place={many + 1}>
              Point {many + 1}
              {now.by === "grid" && now.tosses > 1 && (
                <span className="font-normal text-pencil">
                  , toss {now.toss} of {now.tosses}
                </span>
              )}
            </span>
            <span className="text-3xl font-bold" aria-live="polite" data-here={here(now)}>
              {here(now)}
            </span>
          </p>
          {now.by === "grid" ? (
            <Toss cells={now.cells} onCells={(cells) => change({ cells })} />
          ) : (
            <Tally value={now.tally} onChange={(tally) => change({ tally })} />
          )}
          <div className="grid grid-cols-[2fr_1fr] gap-3 pt-3">
            <button
              type="button"
              className="ink-button min-h-16 justify-center text-lg"
              onClick={() => step(next(now))}
            >
              {now.by === "grid" && now.toss < now.tosses ? "Next toss" : "Next point"}
            </button>
            <button
              type="button"
              className="min-h-16 rounded-sm border-2 border-ink text-lg font-semibold disabled:border-rule disabled:text-pencil"
              disabled={!pending(now) && many === 0}
              onClick={() => step(undone(now))}
            >
              Undo
            </button>
          </div>
        </section>
        <section aria-label="Results so far" aria-live="polite" className="min-w-0 space-y-3">
          {many === 0 && (
            <p className="text-pencil">
              Walk to the mark, or zigzag to the far end with the same number of steps. Count where your foot
              lands, even where nothing grows.
            </p>
          )}
          {enough && (
            <p className="text-xl font-bold" data-enough={enough}>
              {enoughWords[enough]}
              {answer.value.count.more != null && enough !== "enough" && (
                <span className="font-normal text-pencil"> about {answer.value.count.more} more points</span>
              )}
            </p>
          )}
          {many > 0 && counted === null && (
            <p className="font-semibold">Enter the row length counted and the row spacing.</p>
          )}
          {many > 0 && !signal && (
            <p data-mean-here>
              {many} {many === 1 ? "point" : "points"}, average{" "}
              {(now.places.reduce((a, b) => a + b, 0) / many).toFixed(1)}. Saved on this device; the verdict
              appears when there is signal.
            </p>
          )}
          {refused && !asksEnough && <Trouble error={refused} />}
          {(refused || now.full || now.thin) && counted && signal && (
            <Enough now={now} change={change} refused={refused} />
          )}
          {refused && counted && signal && <Plain counted={counted} />}
          {answer && signal && <Decision answer={answer} />}
          {answer && <InMoney now={money.now} change={money.change} refused={refused} />}
          <Beside stand={stand.id} crop={now.crop} unit={answer?.value.count.mean.unit} />
          {many > 0 && <p className="text-sm text-pencil">Points: {now.places.join(" · ")}</p>}
          {many > 0 && may && (
            <p className="flex flex-wrap items-baseline gap-x-5">
              {now.inked === many && <span data-inked>● Recorded.</span>}
              <button
                type="button"
                className="ink-button max-sm:min-h-12"
                disabled={now.inked === many}
                onClick={() =>
                  setTask({
                    form: "stand-count",
                    title: "Count stand",
                    where: field.name,
                    field: field.id,
                    stand: stand.id,
                    with: { ...forRecord(now), prices: { dry_matter: price, thicken, start_over } },
                  })
                }
              >
                Record count
              </button>
              <button type="button" className="line-button" onClick={forget}>
                Clear count
              </button>
            </p>
          )}
        </section>
      </div>
      {task && (
        <RecordSheet task={task} onDone={() => setTask(null)} onInked={() => change({ inked: many })} />
      )}
    </Page>
  );
}

const enoughWords: Record<Schemas["CountEnough"], string> = {
  "too-few": "○ Too few points:",
  "go-on": "◐ Keep counting:",
  enough: "● Enough points",
  open: "◐ Too close to call: wait and recount",
};

/** The count alone, where nobody has told how much is enough. */
function Plain({ counted }: { counted: Schemas["Counted"] }) {
  const units = useUnits();
  const told = useReckoning("count.interval", [units.system, counted], () =>
    answered(api.POST("/api/reckon/count.interval", { body: { counted } })),
  );
  return told.data && !told.isError ? <CountBar count={told.data.value} /> : null;
}
