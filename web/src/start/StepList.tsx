import type { Schemas } from "../api/client";
import { StepMark, standingOf } from "../draw/marks";
import { stepKey } from "../draw/Strip";
import { Cautions } from "../kit/Cautions";
import { Collapse } from "../kit/Collapse";
import { dayText, plain, yearOf } from "../units/format";
import { partDone, seasonWord, sourceWords, stateWord, titled } from "../units/words";

type Plan = Schemas["Plan"];
type Step = Schemas["Step"];
type OnInk = ((step: Step) => void) | undefined;

/** The steps of one season, or of the making of a stand. */
interface Group {
  season: number | null;
  steps: Step[];
}

/** In the order in which they matter: what the stand is used for now, by its days, how it was made, and what is over. */
export function groupsOf(plan: Plan): { now: Group[]; making: Step[]; over: Group[] } {
  const ahead = new Set(plan.seasons.map(({ season }) => season));
  // A harvest of late winter is still open when the next season has begun.
  const open = ({ season, steps }: Group) =>
    ahead.has(season ?? NaN) || steps.some((step) => !isClosed(step));
  const seasons = [...new Set(plan.steps.flatMap(({ season }) => (season == null ? [] : [season])))];
  const groups = seasons
    .sort((a, b) => a - b)
    .map((season) => ({
      season,
      steps: plan.steps.filter((step) => step.season === season).sort((a, b) => a.from.localeCompare(b.from)),
    }));
  return {
    now: groups.filter(open),
    making: plan.steps.filter(({ season }) => season == null),
    over: groups.filter((group) => !open(group)).reverse(),
  };
}

interface Props {
  plan: Plan;
  onInk?: OnInk;
}

/** The whole plan: how the stand is made, then how it is used. */
export function StepList({ plan, onInk }: Props) {
  const { now } = groupsOf(plan);
  return (
    <section aria-label="Plan">
      <h2>Plan</h2>
      <Undated plan={plan} />
      {now.length > 0 && <h3 className="pt-3">Establishment</h3>}
      <MakingSteps plan={plan} onInk={onInk} />
      <Seasons plan={plan} groups={now} onInk={onInk} />
      <Assumed plan={plan} />
    </section>
  );
}

/** What establishes the stand. */
export function MakingSteps({ plan, onInk }: Props) {
  return <Steps plan={plan} steps={groupsOf(plan).making} onInk={onInk} />;
}

/** What comes again, this season and those ahead. */
export function SeasonSteps({ plan, onInk }: Props) {
  return <Seasons plan={plan} groups={groupsOf(plan).now} onInk={onInk} />;
}

/** The seasons that are over, the last one first. */
export function PastSeasons({ plan }: { plan: Plan }) {
  return <Seasons plan={plan} groups={groupsOf(plan).over} onInk={undefined} />;
}

/** Steps that could not be dated, and why. */
export function Undated({ plan }: { plan: Plan }) {
  return plan.undated.map(({ step, title, why }) => (
    <p key={step} className="border-l-3 border-straw pl-3 text-sm" data-undated={step}>
      {title} has no dates. {why}
    </p>
  ));
}

/** What was assumed for want of a record. */
export function Assumed({ plan }: { plan: Plan }) {
  return (
    <ul className="pt-2 text-sm text-pencil italic">
      {plan.assumed.map((sentence) => (
        <li key={sentence}>{sentence}</li>
      ))}
    </ul>
  );
}

function Seasons({ plan, groups, onInk }: { plan: Plan; groups: Group[]; onInk: OnInk }) {
  const begins = plan.seasons[0]?.begins ?? plan.today;
  return groups.map(({ season, steps }) => {
    if (season === null) return null;
    const name = plan.seasons.find((one) => one.season === season)?.name;
    const words = ["Season " + seasonWord(season, begins), name?.toLowerCase()].filter(Boolean).join(": ");
    const list = <Steps plan={plan} steps={steps} onInk={onInk} />;
    return (
      <div key={season} data-season={season} className="pt-3">
        {season <= (plan.seasons[0]?.season ?? season) && steps.some((step) => !isClosed(step)) ? (
          <>
            <h3>{words}</h3>
            {list}
          </>
        ) : (
          <Collapse title={`${words}, ${counted(steps)}`}>{list}</Collapse>
        )}
      </div>
    );
  });
}

/** How often what comes: "4 × cut, 4 × dress". */
function counted(steps: Step[]): string {
  const titles = [...new Set(steps.map(({ title }) => title))];
  const times = (title: string) => steps.filter((step) => step.title === title).length;
  return titles.map((title) => `${times(title)} × ${title.toLowerCase()}`).join(", ");
}

const isClosed = ({ state }: Step) => state.is === "done" || state.is === "passed";

/** What comes again is inked one after the other: only its next time has a button. */
export function isNext(step: Step, steps: Step[]): boolean {
  if (step.season == null) return true;
  return !steps.some(
    (other) => other.step === step.step && other.occurrence < step.occurrence && !isClosed(other),
  );
}

function Steps({ plan, steps, onInk }: { plan: Plan; steps: Step[]; onInk: OnInk }) {
  return (
    <ol>
      {steps.map((step) => (
        <StepLine
          key={stepKey(step)}
          step={step}
          year={yearOf(plan.today)}
          onInk={isNext(step, steps) ? onInk : undefined}
        />
      ))}
    </ol>
  );
}

function StepLine({ step, year, onInk }: { step: Step; year: number; onInk: OnInk }) {
  const done = step.state.is === "done" ? step.state : null;
  const closed = isClosed(step);
  return (
    <li
      data-step={step.step}
      data-occurrence={step.occurrence}
      data-state={step.state.is}
      className="border-b border-rule py-1.5"
    >
      <div className="flex items-center gap-x-2.5 max-sm:flex-wrap">
        <StepMark mark={step.look.mark} standing={standingOf(step.state)} />
        <span className={`flex-1 ${done ? "font-semibold" : closed ? "text-pencil" : ""}`}>
          {titled(step)}
          {step.part && <span className="text-pencil">: {partDone(step.part)}</span>}
          {step.amounts.length > 0 && (
            <span className="text-pencil">
              : {step.amounts.map((one) => `${plain(one.amount)} ${one.of}`).join(", ")}
            </span>
          )}
        </span>
        <span
          className={`text-sm max-sm:order-last max-sm:basis-full max-sm:pl-6 ${step.state.is === "overdue" ? "font-semibold text-stop" : "text-pencil"}`}
        >
          {done
            ? `recorded ${dayText(done.on, year)}`
            : closed
              ? stateWord(step.state)
              : `${dayText(step.from, year)} to ${dayText(step.to, year)}: ${stateWord(step.state)}`}
        </span>
        {onInk && !closed && (
          <button
            type="button"
            className="line-button no-print"
            aria-label={`Ink: ${titled(step)}`}
            onClick={() => onInk(step)}
          >
            Ink
          </button>
        )}
      </div>
      {!closed && step.from_where === "finding" && (
        <div className="pl-6 text-sm">
          {step.reasons[0]?.text}
          <Cautions cautions={step.cautions} />
        </div>
      )}
      {!closed && step.from_where !== "finding" && (
        <Collapse className="pl-6 text-sm text-pencil" title="Why these dates?">
          {step.reasons.map((reason) => (
            <p key={reason.text} className="pb-1">
              {reason.text} <span className="italic">{sourceWords(reason.source)}</span>
            </p>
          ))}
          <Cautions cautions={step.cautions} />
        </Collapse>
      )}
    </li>
  );
}
