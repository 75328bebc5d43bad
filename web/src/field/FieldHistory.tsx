import type { Schemas } from "../api/client";
import { Empty } from "../kit/states";
import { MakingSteps, PastSeasons } from "../start/StepList";
import { dayText } from "../units/format";
import { goals } from "../units/words";

interface Props {
  /** Those that stood here, the current one last. */
  stands: readonly Schemas["StandView"][];
  /** The current one is established: how it was is over, too. */
  made: boolean;
}

/** What is over on a field: past seasons of its stand, how that was established, and the stands before it. */
export function FieldHistory({ stands, made }: Props) {
  const current = stands.at(-1);
  const past = stands.slice(0, -1).reverse();
  const seasons =
    current?.plan.steps.some((step) => step.season != null && step.state.is === "done") ?? false;
  if (!seasons && past.length === 0 && !made)
    return (
      <div className="pt-4">
        <Empty>Past seasons and past stands of this field appear here.</Empty>
      </div>
    );
  return (
    <div className="grid grid-cols-1 gap-x-10 gap-y-6 pt-5 xl:grid-cols-2">
      {current && (
        <section aria-labelledby="over-title">
          <h2 id="over-title">{current.cover}</h2>
          <PastSeasons plan={current.plan} />
          {made && (
            <>
              <h3 className="pt-3">Establishment</h3>
              <MakingSteps plan={current.plan} />
            </>
          )}
        </section>
      )}
      {past.length > 0 && (
        <section aria-labelledby="past-title">
          <h2 id="past-title">Past stands</h2>
          <ul className="divide-y divide-rule border-t border-rule">
            {past.map((stand) => (
              <li key={stand.id} className="py-1.5">
                <span className="font-semibold">{stand.cover}</span>
                <span className="block text-sm text-pencil">
                  {goals[stand.goal]}, sown {dayText(stand.plan.sown_on, 0)}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
