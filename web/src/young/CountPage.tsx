import { useQuery } from "@tanstack/react-query";
import { useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useField, useGround, useMachines, useReckoning, useSeason } from "../api/queries";
import { useSignal } from "../api/signal";
import { FieldShape } from "../draw/FieldShape";
import { Choice } from "../kit/Choice";
import { Collapse } from "../kit/Collapse";
import { useDraft } from "../kit/draft";
import { NumberBox } from "../kit/NumberBox";
import { Page } from "../kit/Page";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { Empty, NotYet, Trouble } from "../kit/states";
import type { Task } from "../outbox/waiting";
import type { CountSearch } from "../pages";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { oddPlaces } from "../ground/odd";
import { fieldAt } from "../shell/place";
import { usePlace } from "../shell/usePlace";
import { plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { oddSpots } from "../units/words";
import { away } from "./away";
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

/** Count a stand, place by place, with one thumb. */
export function CountPage() {
  const farm = useFarm();
  const { stand: id }: CountSearch = useSearch({ strict: false });
  const season = useSeason(farm.id);
  const crops = useCrops();
  if (season.data === undefined || crops.data === undefined)
    return <NotYet what="Fetching the stand" of={[season, crops]} />;
  const strip = season.data.strips.find((one) => one.stands.some((stand) => stand.id === id));
  const stand = strip?.stands.find((one) => one.id === id);
  if (!strip || !stand)
    return (
      <Page title="Count a stand">
        <Empty>Choose a stand on its field’s page, and count it from there.</Empty>
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
      spacing: drills[0]?.facts.row_spacing ?? null,
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
        label="Counted"
        value={now.by}
        options={(Object.entries(countWays) as [CountBy, string][]).map(([value, text]) => ({
          value,
          text,
        }))}
        onChange={(by) => by && onWhich({ by })}
      />
      {crops.length > 1 && (
        <Pick
          label="Of"
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
        <section aria-label="This place" className="max-w-md">
          {many === 0 || (now.by === "row" && counted === null) ? (
            how
          ) : (
            <Collapse title={`${countWays[now.by]}${of ? `, ${of.name}` : ""}`}>{how}</Collapse>
          )}
          <p className="flex items-baseline justify-between pt-3">
            <span className="text-xl font-bold" data-place={many + 1}>
              Place {many + 1}
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
              {now.by === "grid" && now.toss < now.tosses ? "Next toss" : "Next place"}
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
        <section aria-label="So far" aria-live="polite" className="min-w-0 space-y-3">
          {many === 0 && (
            <p className="text-pencil">
              Go where the list says, or in a zigzag with the same number of steps; count where your foot
              falls, also where nothing grows.
            </p>
          )}
          {enough && (
            <p className="text-xl font-bold" data-enough={enough}>
              {enoughWords[enough]}
              {answer.value.count.more != null && enough !== "enough" && (
                <span className="font-normal text-pencil"> about {answer.value.count.more} more</span>
              )}
            </p>
          )}
          {many > 0 && counted === null && (
            <p className="font-semibold">Say how much of a row is looked at, and how far rows lie apart.</p>
          )}
          {many > 0 && !signal && (
            <p data-mean-here>
              {many} {many === 1 ? "place" : "places"},{" "}
              {(now.places.reduce((a, b) => a + b, 0) / many).toFixed(1)} on average. Kept on this device;
              whether it is enough is told when there is signal.
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
          {many > 0 && <p className="text-sm text-pencil">Places: {now.places.join(" · ")}</p>}
          {many > 0 && may && (
            <p className="flex flex-wrap items-baseline gap-x-5">
              {now.inked === many && <span data-inked>● Inked.</span>}
              <button
                type="button"
                className="ink-button max-sm:min-h-12"
                disabled={now.inked === many}
                onClick={() =>
                  setTask({
                    form: "stand-count",
                    title: "Count the stand",
                    where: field.name,
                    field: field.id,
                    stand: stand.id,
                    with: { ...forRecord(now), prices: { dry_matter: price, thicken, start_over } },
                  })
                }
              >
                Ink this count
              </button>
              <button type="button" className="line-button" onClick={forget}>
                Begin anew
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

interface EnoughProps {
  now: Counting;
  change: (part: Partial<Counting>) => void;
  refused: Refused | undefined;
}

/** How much is enough, where nobody has told it: whoever counts may know it. */
function Enough({ now, change, refused }: EnoughProps) {
  const units = useUnits();
  const bare = now.by === "plants" || now.by === "stems" || now.by === "row" ? units.seeds : "%";
  return (
    <div className="grid grid-cols-2 gap-x-4">
      <QuantityField
        label="Enough from"
        bare={bare}
        value={now.full}
        onChange={(full) => change({ full })}
        error={refused?.at("/full")}
      />
      <QuantityField
        label="Thin below"
        bare={bare}
        value={now.thin}
        onChange={(thin) => change({ thin })}
        error={refused?.at("/thin")}
      />
    </div>
  );
}

interface Money {
  price: Quantity | null;
  thicken: Quantity | null;
  start_over: Quantity | null;
}

interface MoneyProps {
  now: Money;
  change: (part: Partial<Money>) => void;
  refused: Refused | undefined;
}

/** What mending costs and feed is worth: the ways are then told by what is left. */
function InMoney({ now, change, refused }: MoneyProps) {
  const units = useUnits();
  return (
    <Collapse title="in money">
      <div className="grid grid-cols-2 gap-x-4 sm:grid-cols-3">
        <QuantityField
          label="Dry matter is worth"
          bare={units.tonPrice}
          value={now.price}
          onChange={(price) => change({ price })}
          error={refused?.at("/price")}
        />
        <QuantityField
          label="To thicken costs"
          bare={units.areaPrice}
          value={now.thicken}
          onChange={(thicken) => change({ thicken })}
          error={refused?.at("/thicken_cost")}
        />
        <QuantityField
          label="To start over costs"
          bare={units.areaPrice}
          value={now.start_over}
          onChange={(start_over) => change({ start_over })}
          error={refused?.at("/start_over_cost")}
        />
      </div>
    </Collapse>
  );
}

const enoughWords: Record<Schemas["CountEnough"], string> = {
  "too-few": "○ Too few places yet:",
  "go-on": "◐ Go on:",
  enough: "● Enough now",
  open: "◐ As near as can be told: wait, and count again",
};

/** What is looked at in a place. */
function Looked({ now, change }: { now: Counting; change: (part: Partial<Counting>) => void }) {
  const units = useUnits();
  if (now.by === "grid")
    return (
      <div className="pt-2">
        <p className="text-sm font-semibold">Tosses in a place</p>
        <Choice
          label="Tosses in a place"
          value={String(now.tosses)}
          options={["1", "2", "4"].map((value) => ({ value, text: value }))}
          onChange={(tosses) =>
            now.places.length === 0 && now.toss === 1 && change({ tosses: Number(tosses) })
          }
        />
      </div>
    );
  if (now.by === "plants" || now.by === "stems")
    return (
      <NumberBox
        label={`Frame, ${now.frame.unit === "ft2" ? "ft²" : "m²"}`}
        value={String(now.frame.value)}
        onChange={(text) => {
          const value = Number(text.replace(",", "."));
          if (Number.isFinite(value)) change({ frame: { ...now.frame, value } });
        }}
      />
    );
  if (now.by === "row")
    return (
      <>
        <QuantityField
          label="Row looked at"
          bare={units.course}
          value={now.length}
          onChange={(length) => change({ length })}
          hint="in a place"
        />
        <QuantityField
          label="Between rows"
          bare={units.spacing}
          value={now.spacing}
          onChange={(spacing) => change({ spacing })}
        />
      </>
    );
  return (
    <NumberBox
      label={now.by === "alive" ? "Set in a place" : "Points in a place"}
      value={now.of}
      onChange={(of) => change({ of })}
    />
  );
}

/** A toss of the grid as it lies on the ground: a tap for each cell with a plant. */
function Toss({ cells, onCells }: { cells: boolean[]; onCells: (cells: boolean[]) => void }) {
  return (
    <div role="group" aria-label="Cells with a plant" className="grid grid-cols-5 gap-1 pt-2">
      {cells.map((on, at) => (
        <button
          key={at}
          type="button"
          aria-pressed={on}
          aria-label={`Row ${Math.floor(at / 5) + 1}, cell ${(at % 5) + 1}`}
          className={`aspect-square min-h-14 border-2 ${on ? "border-growth bg-growth text-paper" : "border-rule bg-sunk"}`}
          onClick={() => onCells(cells.map((one, index) => (index === at ? !one : one)))}
        >
          <span aria-hidden className="text-xl">
            {on ? "●" : ""}
          </span>
        </button>
      ))}
    </div>
  );
}

/** More and less, as large as a thumb. */
function Tally({ value, onChange }: { value: number; onChange: (value: number) => void }) {
  return (
    <div className="grid grid-cols-[1fr_2fr] gap-3 pt-2">
      <button
        type="button"
        aria-label="One less"
        className="min-h-28 rounded-sm border-2 border-ink text-5xl disabled:border-rule disabled:text-pencil"
        disabled={value === 0}
        onClick={() => onChange(Math.max(0, value - 1))}
      >
        −
      </button>
      <button
        type="button"
        aria-label="One more"
        className="min-h-28 rounded-sm bg-growth text-5xl text-paper"
        onClick={() => onChange(value + 1)}
      >
        +
      </button>
    </div>
  );
}

/** The count alone, where nobody has told how much is enough. */
function Plain({ counted }: { counted: Schemas["Counted"] }) {
  const units = useUnits();
  const told = useReckoning("count.interval", [units.system, counted], () =>
    answered(api.POST("/api/reckon/count.interval", { body: { counted } })),
  );
  return told.data && !told.isError ? <CountBar count={told.data.value} /> : null;
}

/** Where to go: places drawn by lot over the field, and the way to the next. */
function Where({ field, many }: { field: Schemas["Strip"]["field"]; many: number }) {
  const farm = useFarm();
  const detail = useField(farm.id, field.id);
  const boundary = detail.data?.field.boundary as Record<string, unknown> | null | undefined;
  const ground = useGround(farm.id, field.id);
  const odd = oddPlaces(ground.data);
  const apart = odd.map(({ longitude, latitude, radius }) => ({ longitude, latitude, radius }));
  const plan = useQuery({
    queryKey: ["farm", farm.id, "places", field.id, farm.today, apart],
    enabled: boundary != null && !ground.isPending,
    queryFn: () =>
      answered(
        api.POST("/api/reckon/count.plan", {
          body: {
            boundary: boundary as never,
            places: 20,
            within: { value: 8, unit: "%" },
            draw: drawOf(farm.today),
            odd: apart as Schemas["OddSpot"][],
          },
        }),
      ),
    retry: false,
  });
  const place = usePlace({ follow: true });
  const units = useUnits();
  const spots = plan.data?.value.spots ?? [];
  const goal = spots[many % Math.max(spots.length, 1)];
  const off = place && goal ? away(place, goal) : null;
  const outside = place && boundary && !fieldAt([{ boundary }], place);
  const unlike = odd[goal?.odd ?? -1];
  const small = (plan.data?.value.in_odd ?? []).flatMap((many, at) => (many === 0 ? (odd[at] ?? []) : []));
  const far = (metres: number) =>
    plain(units.system === "us" ? { value: metres / 0.3048, unit: "ft" } : { value: metres, unit: "m" });
  if (spots.length === 0) return null;
  return (
    <section aria-label="Where to count">
      <h2 className="flex min-h-11 items-center">Where</h2>
      <FieldShape
        boundary={boundary}
        inside={[]}
        spots={goal ? [goal] : []}
        odd={odd}
        size={220}
        height={180}
      />
      {off && (
        <p className="font-semibold">
          Place {many + 1}: {far(off.metres)} to the {off.towards}
        </p>
      )}
      {outside && <p className="font-semibold text-stop">✕ You stand outside this field.</p>}
      {unlike && <p>It lies in a spot unlike the rest: {oddSpots[unlike.odd]}.</p>}
      <p className="text-sm text-pencil">
        Drawn by lot over the whole field, in the order of a walk; the mark is the next.
        {odd.length > small.length && " Odd spots have their share of the places."}
        {small.length > 0 &&
          ` Too small for a place of its own, look at it apart: ${small.map((one) => oddSpots[one.odd]).join(", ")}.`}
      </p>
    </section>
  );
}

/** The same places all day. */
const drawOf = (today: string) => Number(today.replaceAll("-", ""));
