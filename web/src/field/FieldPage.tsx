import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useEntries, useField, useGround, useSeason } from "../api/queries";
import { Axis, timeScale } from "../draw/Axis";
import { FieldShape } from "../draw/FieldShape";
import { StripDrawing, type Placed } from "../draw/Strip";
import { useSpan } from "../draw/span";
import { useWidth } from "../draw/useWidth";
import { FieldGround } from "../ground/FieldGround";
import { oddPlaces } from "../ground/odd";
import { recentWeeds } from "../ground/weeds";
import { useOutbox } from "../outbox/useOutbox";
import type { StepToInk } from "../records/tasks";
import { EntrySheet, InkSheet } from "../records/sheets";
import { SpanControls } from "../season/SpanControls";
import { useFarm } from "../shell/farm";
import { CorrectField } from "./CorrectField";
import { FieldHistory } from "./FieldHistory";
import { roomsOf, type Room } from "./rooms";
import { StandRoom } from "./StandRoom";
import { StandingSheet } from "../start/StandingSheet";
import { Figure } from "../kit/Figure";
import { Page } from "../kit/Page";
import { Tab, TabNames, Tabs } from "../kit/Tabs";
import { Empty, NotYet } from "../kit/states";
import { dayText, yearOf } from "../units/format";
import { goals, titled } from "../units/words";

/** One field's whole story. */
export function FieldPage() {
  const farm = useFarm();
  const { field: id = "" } = useParams({ strict: false });
  const field = useField(farm.id, id);
  const season = useSeason(farm.id);
  if (field.data === undefined || season.data === undefined)
    return <NotYet what="Loading field" of={[field, season]} />;
  const strip = season.data.strips.find((one) => one.field.id === id);
  return <Story key={id} detail={field.data} stands={strip?.stands ?? []} />;
}

function Story({ detail, stands }: { detail: Schemas["FieldDetail"]; stands: Schemas["StandView"][] }) {
  const farm = useFarm();
  const { field, areas } = detail;
  const current = stands.at(-1);
  const [width, ref] = useWidth();
  const { span } = useSpan();
  const scale = timeScale(span, width);
  const [inking, setInking] = useState<StepToInk | null>(null);
  const [reading, setReading] = useState<string | null>(null);
  // A mark is inked on the stand it is drawn for, which need not be the current one.
  const ink = (stand: string, step: Schemas["Step"]) =>
    setInking({ field: field.id, field_name: field.name, stand, step });
  const pick = (mark: Placed) => {
    if (mark.entry) setReading(mark.entry);
    else if (mark.step) ink(mark.stand.id, mark.step);
  };
  const ground = useGround(farm.id, field.id);
  const spots = recentWeeds(ground.data, farm.today).flatMap((weed) => (weed.what.at ? [weed.what.at] : []));
  const may = farm.role !== "adviser";
  const next = current?.plan.steps
    .filter(({ state }) => state.is !== "done" && state.is !== "passed")
    // What follows another on the same days, as a dressing its cut, is not before it.
    .sort((a, b) => a.from.localeCompare(b.from) || a.to.localeCompare(b.to))[0];
  const { rooms, first } = roomsOf(current);
  const [picked, setRoom] = useState<Room | null>(null);
  const room = rooms.find(({ value }) => value === picked)?.value ?? first;
  return (
    <Page
      title={field.name}
      aside={<Inked field={field.id} onRead={setReading} />}
      about={
        <div className="flex flex-wrap gap-x-5">
          <p className="text-ink">
            <Figure
              quantity={field.sown_area}
              explains={areas ?? undefined}
              label="Sown area"
              className="font-semibold"
            />{" "}
            <span className="text-pencil">{areas ? "sowable of" : "sowable (not drawn)"}</span>{" "}
            {areas && <Figure quantity={field.area} explains={areas} label="Area" />}
          </p>
          {field.retired && <p className="font-semibold text-pencil">no longer farmed</p>}
          {current && (
            <p className="text-pencil">
              {current.cover}, {goals[current.goal].toLowerCase()}
              {current.plan.sown && `, sown ${dayText(current.plan.sown_on, yearOf(farm.today))}`}
            </p>
          )}
          {next && (
            <p className="text-pencil">
              next: <span className="text-ink">{titled(next).toLowerCase()}</span>,{" "}
              {dayText(next.from, yearOf(farm.today))} to {dayText(next.to, yearOf(farm.today))}
            </p>
          )}
        </div>
      }
    >
      <div className="flex gap-3 max-sm:flex-col">
        <div className="w-47 shrink-0 pt-1">
          {areas ? (
            <>
              <FieldShape
                boundary={field.boundary}
                inside={detail.inside}
                spots={spots}
                odd={oddPlaces(ground.data)}
                size={176}
                height={140}
              />
              <p className="text-sm text-pencil">
                Setback <Figure quantity={field.setback} /> (dashed)
              </p>
            </>
          ) : (
            <Empty>Not drawn.</Empty>
          )}
          {farm.role === "manager" && <CorrectField field={field} />}
        </div>
        <div className="min-w-0 flex-1">
          <SpanControls />
          <div ref={ref}>
            <Axis scale={scale} width={width} today={farm.today} />
            <div className="border-y-2 border-t-ink border-b-rule">
              {width > 0 && (
                <StripDrawing
                  stands={stands}
                  scale={scale}
                  width={width}
                  height={64}
                  today={farm.today}
                  {...(may ? { onPick: pick } : {})}
                />
              )}
            </div>
          </div>
        </div>
      </div>
      <Tabs value={room} onChange={setRoom}>
        <div className="pt-2">
          <TabNames label="View" names={rooms} />
        </div>
        <Tab value="ground">
          {!current && <FirstStand field={field} />}
          <FieldGround farm={farm} field={field.id} name={field.name} sowOn={current?.plan.sown_on} />
        </Tab>
        <Tab value="history">
          <FieldHistory
            stands={stands}
            made={!rooms.some(({ value }) => value === "plan" || value === "young")}
          />
        </Tab>
        {current &&
          (["plan", "young", "use"] as const).map((value) => (
            <Tab key={value} value={value}>
              <StandRoom
                room={value}
                stand={current}
                name={field.name}
                onInk={may ? (step) => ink(current.id, step) : undefined}
              />
            </Tab>
          ))}
      </Tabs>
      {inking && <InkSheet farm={farm} step={inking} onDone={() => setInking(null)} />}
      {reading && <EntrySheet farm={farm} entry={reading} onDone={() => setReading(null)} />}
    </Page>
  );
}

/** No stand is known here: one is started, or one that is there already is added. */
function FirstStand({ field }: { field: Schemas["FieldView"] }) {
  const farm = useFarm();
  const [adding, setAdding] = useState(false);
  if (farm.role !== "manager") return null;
  return (
    <p className="flex flex-wrap gap-x-5 pb-2 no-print">
      <Link
        to="/farms/$farm/start"
        params={{ farm: farm.id }}
        search={{ field: field.id }}
        className="line-button"
      >
        Start stand
      </Link>
      <button type="button" className="line-button" onClick={() => setAdding(true)}>
        Add existing stand
      </button>
      {adding && (
        <StandingSheet farm={farm} field={field.id} name={field.name} onDone={() => setAdding(false)} />
      )}
    </p>
  );
}

function Inked({ field, onRead }: { field: string; onRead: (entry: string) => void }) {
  const farm = useFarm();
  const entries = useEntries(farm.id, { field });
  const waiting = useOutbox().filter((item) => item.task.field === field);
  return (
    <section aria-labelledby="inked-title">
      <h2 id="inked-title" className="flex min-h-11 items-center">
        Recorded
      </h2>
      {waiting.length > 0 && (
        <ul
          aria-label="On this device, waiting to send"
          className="border-l border-dashed border-pencil pb-2 pl-3"
        >
          {waiting.map((item) => (
            <li key={item.id} className="py-1 leading-snug text-pencil">
              <span className="block text-sm">{dayText(item.on, 0)}, on this device</span>
              {item.task.title}
              {item.refused && <span className="text-stop">: to fix</span>}
            </li>
          ))}
        </ul>
      )}
      {entries.data?.total === 0 && <Empty>No records yet.</Empty>}
      <ul className="divide-y divide-rule border-t border-rule">
        {entries.data?.entries.map((entry) => (
          <li key={entry.id} className="py-1.5 leading-snug">
            <button type="button" className="text-left hover:underline" onClick={() => onRead(entry.id)}>
              <span className="block text-sm text-pencil">{dayText(entry.occurred_on, 0)}</span>
              <span className={entry.struck_by ? "struck" : ""}>{entry.says}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
