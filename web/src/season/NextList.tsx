import { ofSuchYears } from "../when/years";
import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { standingOf, StepMark } from "../draw/marks";
import { percent } from "../draw/odds";
import { stepKey } from "../draw/Strip";
import { useFarm } from "../shell/farm";
import { Cautions } from "../kit/Cautions";
import { Empty } from "../kit/states";
import { dayText, yearOf } from "../units/format";
import { partDone, stateWord, titled } from "../units/words";
import { useOutbox } from "../outbox/useOutbox";
import { inks, type StepToInk } from "../records/tasks";

/** What is overdue, ready, blocked or soon, and why. */
export function NextList({
  title = "Next",
  scrolls = true,
  next,
  onInk,
}: {
  title?: string;
  /** Within a height of its own, beside what one looks at. */
  scrolls?: boolean;
  next: Schemas["NextStep"][];
  onInk: (step: StepToInk) => void;
}) {
  const farm = useFarm();
  const waiting = useOutbox();
  const recorded = (one: Schemas["NextStep"]) =>
    waiting.some((item) => item.task.field === one.field && inks(item.task, one));
  return (
    <section aria-labelledby="next-title">
      <h2 id="next-title" className="flex min-h-11 items-center">
        {title}
      </h2>
      {next.length === 0 && <Empty>Nothing due in the next three weeks.</Empty>}
      {/* A scrolling list has to be reachable with the keyboard. */}
      <ul
        tabIndex={scrolls ? 0 : undefined}
        aria-label="Next steps"
        className={scrolls ? "overflow-y-auto pr-1 lg:max-h-[calc(100dvh-8.5rem)]" : ""}
      >
        {next.map((one) => {
          const { field, field_name, stand, step } = one;
          return (
            <li key={stand + stepKey(step)} className="border-b border-rule py-2.5">
              <div className="flex items-start gap-2.5">
                <span className="pt-1">
                  <StepMark mark={step.look.mark} standing={standingOf(step.state)} />
                </span>
                <div className="min-w-0 flex-1">
                  <p className="leading-snug font-semibold">
                    {titled(step)},{" "}
                    <Link
                      to="/farms/$farm/fields/$field"
                      params={{ farm: farm.id, field }}
                      className="underline"
                    >
                      {field_name}
                    </Link>
                  </p>
                  <p
                    className={`text-sm ${step.state.is === "overdue" ? "font-semibold text-stop" : "text-pencil"}`}
                  >
                    {dayText(step.from, yearOf(farm.today))} to {dayText(step.to, yearOf(farm.today))}:{" "}
                    {stateWord(step.state)}
                  </p>
                  {step.part && <p className="text-sm">{partDone(step.part)}</p>}
                  {step.odds && (
                    <p className="text-sm">
                      <Link
                        to="/farms/$farm/when"
                        params={{ farm: farm.id }}
                        search={{ stand }}
                        className="font-semibold underline decoration-dotted"
                      >
                        {percent(step.odds.odds)}
                      </Link>{" "}
                      {ofSuchYears(step.odds.basis)}
                      {step.odds.limited_by && `. Main limit: ${step.odds.limited_by}`}
                    </p>
                  )}
                  {step.state.is !== "waiting" && <Cautions cautions={step.cautions} />}
                </div>
                {farm.role !== "adviser" &&
                  (recorded(one) ? (
                    <span className="shrink-0 text-sm text-pencil italic">waiting to send</span>
                  ) : (
                    <button
                      type="button"
                      className="line-button shrink-0"
                      aria-label={`Ink: ${titled(step)}, ${field_name}`}
                      onClick={() => onInk({ field, field_name, stand, step })}
                    >
                      Ink
                    </button>
                  ))}
              </div>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
