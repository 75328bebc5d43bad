import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { standingOf, StepMark } from "../draw/marks";
import { percent } from "../draw/odds";
import { stepKey } from "../draw/Strip";
import { useFarm } from "../shell/farm";
import { Cautions } from "../ui/Cautions";
import { Empty } from "../ui/states";
import { dayText, yearOf } from "../units/format";
import { stateWord, titled } from "../units/words";
import type { StepToInk } from "./InkSheet";

/** What is overdue, ready, blocked or soon, and why. */
export function NextList({ next, onInk }: { next: Schemas["NextStep"][]; onInk: (step: StepToInk) => void }) {
  const farm = useFarm();
  return (
    <section aria-labelledby="next-title" className="w-full shrink-0 lg:w-66">
      <h2 id="next-title" className="pt-1 pb-2">
        Next
      </h2>
      {next.length === 0 && <Empty>Nothing is due in the coming three weeks.</Empty>}
      {/* A scrolling list has to be reachable with the keyboard. */}
      <ul
        tabIndex={0}
        aria-label="Next steps"
        className="overflow-y-auto pr-1 lg:max-h-[calc(100dvh-10.5rem)]"
      >
        {next.map(({ field, field_name, stand, step }) => (
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
                    of years{step.odds.limited_by && `; most often lacking: ${step.odds.limited_by}`}
                  </p>
                )}
                {step.state.is !== "waiting" && <Cautions cautions={step.cautions} />}
              </div>
              {farm.role !== "adviser" && (
                <button
                  type="button"
                  className="line-button shrink-0"
                  aria-label={`Ink: ${titled(step)}, ${field_name}`}
                  onClick={() => onInk({ field, stand, step })}
                >
                  Ink
                </button>
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
