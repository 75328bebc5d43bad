import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useEntries, useSeason } from "../api/queries";
import { Empty, NotYet } from "../kit/states";
import { Page } from "../kit/Page";
import { useOutbox } from "../outbox/useOutbox";
import { EntrySheet, InkSheet } from "../records/sheets";
import { inks, type StepToInk } from "../records/tasks";
import { NextList } from "../season/NextList";
import { useFarm } from "../shell/farm";
import { dayText } from "../units/format";
import { AirToday } from "./AirToday";
import { FirstThing } from "./FirstThing";

/** The day's work, read in gloves: the first thing large, what comes next below it, what was recorded today. */
export function TodayPage() {
  const farm = useFarm();
  const season = useSeason(farm.id);
  const waiting = useOutbox();
  const [inking, setInking] = useState<StepToInk | null>(null);
  const [reading, setReading] = useState<string | null>(null);
  if (season.data === undefined) return <NotYet what="Loading today's work" of={[season]} />;
  const { next, strips } = season.data;
  const isOnDevice = (one: Schemas["NextStep"]) =>
    waiting.some((item) => item.task.field === one.field && inks(item.task, one));
  const first = next.find((one) => canBeDone(one.step) && !isOnDevice(one));
  const rest = next.filter((one) => one !== first);
  return (
    <Page title="Today" about={dayText(farm.today, 0)} aside={<RecordedToday onRead={setReading} />}>
      <AirToday farm={farm} />
      {first ? (
        <FirstThing
          farm={farm}
          first={first}
          field={strips.find((strip) => strip.field.id === first.field)?.field}
          onInk={setInking}
        />
      ) : (
        <NoWork fields={strips.length} next={next.length} />
      )}
      {rest.length > 0 && (
        <NextList scrolls={false} title={first ? "After that" : "Coming up"} next={rest} onInk={setInking} />
      )}
      {inking && <InkSheet farm={farm} step={inking} onDone={() => setInking(null)} />}
      {reading && <EntrySheet farm={farm} entry={reading} onDone={() => setReading(null)} />}
    </Page>
  );
}

const canBeDone = ({ state }: Schemas["Step"]) => state.is === "ready" || state.is === "overdue";

function NoWork({ fields, next }: { fields: number; next: number }) {
  const farm = useFarm();
  if (fields === 0)
    return (
      <Empty>
        The day's work appears here once a field has a stand in plan.{" "}
        <Link to="/farms/$farm/fields" params={{ farm: farm.id }} className="underline">
          Add first field
        </Link>
        .
      </Empty>
    );
  return (
    <Empty>
      {next > 0 ? "Nothing can be done today." : "Nothing is due in the next three weeks."}{" "}
      <Link to="/farms/$farm/season" params={{ farm: farm.id }} className="underline">
        See the season
      </Link>
      .
    </Empty>
  );
}

function RecordedToday({ onRead }: { onRead: (entry: string) => void }) {
  const farm = useFarm();
  const entries = useEntries(farm.id, {});
  const waiting = useOutbox();
  const today = entries.data?.entries.filter((entry) => entry.occurred_on === farm.today) ?? [];
  return (
    <section aria-labelledby="recorded-today">
      <h2 id="recorded-today" className="flex min-h-11 items-center">
        Recorded today
      </h2>
      {waiting.length > 0 && (
        <p className="pb-1 text-sm text-pencil">
          {waiting.length === 1 ? "1 record is" : `${waiting.length} records are`} on this device, waiting to
          send.
        </p>
      )}
      {today.length === 0 && waiting.length === 0 && <Empty>No records yet today.</Empty>}
      <ul className="divide-y divide-rule border-t border-rule">
        {today.map((entry) => (
          <li key={entry.id}>
            <button
              type="button"
              className={`min-h-11 py-1.5 text-left leading-snug hover:underline ${entry.struck_by ? "struck" : ""}`}
              onClick={() => onRead(entry.id)}
            >
              {entry.says}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
