import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Collapse } from "../kit/Collapse";
import { Figure } from "../kit/Figure";
import type { Task } from "../outbox/waiting";
import { RecordSheet } from "../records/RecordSheet";
import type { Farm } from "../shell/farm";
import { dayText, plain, yearOf } from "../units/format";
import { emergenceStates, youngBars } from "../units/words";
import { Decision } from "./Decision";

interface Props {
  farm: Farm;
  field: string;
  name: string;
  stand: string;
  young: Schemas["Young"];
  may: boolean;
}

/** A stand in its first two years: when it comes up, what to look at, what the last count says. */
export function YoungStand({ farm, field, name, stand, young, may }: Props) {
  const [task, setTask] = useState<Task | null>(null);
  const now = young.watch.filter((one) => one.now);
  const soon = young.watch.filter((one) => !one.now);
  const look = () => setTask({ form: "stand-look", title: "Stand check", where: name, field, stand });
  const photo = () => setTask({ form: "photo", title: "Add photo", where: name, field, stand });
  const odd = () => setTask({ form: "odd-spot", title: "Mark odd spot", where: name, field });
  return (
    <section aria-label="New stand" className="space-y-3">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2>{young.days > 730 ? "Stand" : "New stand"}</h2>
        <p className="text-pencil">{ageText(young.days)} after sowing</p>
      </div>
      {alike(young.coming).map((group) => (
        <ComingUp
          key={group[0].crop}
          coming={group[0]}
          names={group.length < young.coming.length ? namesOf(group) : null}
          today={farm.today}
        />
      ))}
      {young.counted && (
        <div>
          <h3>Counted {dayText(young.counted.on, yearOf(farm.today))}</h3>
          {young.counted.decision ? (
            <Decision answer={young.counted.decision} />
          ) : (
            <p className="text-pencil">{young.counted.untold}</p>
          )}
        </div>
      )}
      {may && (
        <p className="flex flex-wrap gap-x-5 no-print">
          <Link to="/farms/$farm/count" params={{ farm: farm.id }} search={{ stand }} className="line-button">
            Count stand
          </Link>
          <button type="button" className="line-button" onClick={look}>
            Record stand check
          </button>
          <button type="button" className="line-button" onClick={photo}>
            Add photo
          </button>
          <button type="button" className="line-button" onClick={odd}>
            Mark odd spot
          </button>
        </p>
      )}
      {now.length > 0 && (
        <>
          <h3>Scout now</h3>
          <WatchList list={now} today={farm.today} />
        </>
      )}
      {soon.length > 0 && (
        <Collapse title="coming up">
          <WatchList list={soon} today={farm.today} />
        </Collapse>
      )}
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </section>
  );
}

const ageText = (days: number) =>
  days === 1 ? "1 day" : days < 730 ? `${days} days` : `${Math.floor(days / 365)} years`;

type Coming = Schemas["ComingUp"];

/** Members of a mix that are expected alike are told together. */
function alike(coming: readonly Coming[]): [Coming, ...Coming[]][] {
  const groups: [Coming, ...Coming[]][] = [];
  const mark = ({ told: { value } }: Coming) =>
    JSON.stringify([value.state, value.warmth_needed, value.half]);
  for (const one of coming) {
    const group = groups.find(([first]) => mark(first) === mark(one));
    if (group) group.push(one);
    else groups.push([one]);
  }
  return groups;
}

const namesOf = (group: readonly Coming[]) => group.map(({ name }) => name).join(", ");

interface ComingProps {
  coming: Coming;
  /** Whose it is, where not all of the mix are alike. */
  names: string | null;
  today: string;
}

function ComingUp({ coming, names, today }: ComingProps) {
  const { value } = coming.told;
  const { word, sign } = emergenceStates[value.state];
  const year = yearOf(today);
  const late = value.state === "late" || value.state === "gone";
  const [early, middle, last] = value.half;
  return (
    <div data-coming={coming.crop} data-state={value.state} className="border-t-2 border-ink pt-2">
      <p className="text-xl font-bold">
        <span aria-hidden className={late ? "text-stop" : value.state === "up" ? "text-growth" : ""}>
          {sign}
        </span>{" "}
        {names && `${names}: `}
        {word}
      </p>
      {value.state !== "up" && (
        <>
          <p>{value.why}</p>
          <Warmth share={value.of_need.value / 100} />
          <p className="text-sm text-pencil">
            <Figure quantity={value.warmth_so_far} explains={coming.told} label="Heat units so far" /> of{" "}
            {plain(value.warmth_needed)} heat units in moist soil
            {value.dry_days > 0 &&
              `, ${value.dry_days} dry ${value.dry_days === 1 ? "day" : "days"} not counted`}
            .
            {middle && (
              <>
                {" "}
                Half up {dayText(early ?? middle, year)} to {dayText(last ?? middle, year)}, most likely{" "}
                {dayText(middle, year)}.
              </>
            )}
          </p>
          {value.still && value.state !== "too-soon" && (
            <p className="text-sm">
              If nothing is up today, the chance it still emerges is <strong>{plain(value.still)}</strong>
              {value.wait_until && <>; waiting beats reseeding until {dayText(value.wait_until, year)}</>}.
            </p>
          )}
        </>
      )}
    </div>
  );
}

/** So much of the warmth it needs; where it should be showing is hatched. */
function Warmth({ share }: { share: number }) {
  const most = 1.7;
  const at = (of: number) => `${(100 * Math.min(of, most)) / most}%`;
  return (
    <div className="relative my-1 h-4 bg-sunk" aria-hidden>
      <div
        className="absolute inset-y-0 border-x border-straw"
        style={{
          left: at(0.75),
          width: `${(100 * 0.5) / most}%`,
          background: "repeating-linear-gradient(45deg, var(--straw) 0 1.5px, transparent 1.5px 6px)",
        }}
      />
      <div className="absolute inset-y-0 left-0 bg-growth" style={{ width: at(share) }} />
    </div>
  );
}

function WatchList({ list, today }: { list: readonly Schemas["Watch"][]; today: string }) {
  const year = yearOf(today);
  return (
    <ul className="border-t border-rule">
      {list.map((one) => (
        <li key={one.key} data-watch={one.key} className="border-b border-rule py-1.5 leading-snug">
          <span className="font-semibold">{one.title}</span>{" "}
          <span className="text-sm text-pencil">
            {one.now ? `until ${dayText(one.to, year)}` : `from ${dayText(one.from, year)}`}
            {one.next && `, next ${dayText(one.next, year)}`}
          </span>
          {one.bars.length > 0 && (
            <span className="text-sm font-semibold text-stop">
              {" "}
              ✕ {one.bars.map((bar) => youngBars[bar]).join(", ")}
            </span>
          )}
          <span className="block text-sm">{one.text}</span>
        </li>
      ))}
    </ul>
  );
}
