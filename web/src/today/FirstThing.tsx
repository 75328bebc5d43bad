import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { useEntries, useStand } from "../api/queries";
import { FieldShape } from "../draw/FieldShape";
import { isSowing } from "../draw/Strip";
import { percent } from "../draw/odds";
import { Cautions } from "../kit/Cautions";
import { Figure } from "../kit/Figure";
import type { StepToInk } from "../records/tasks";
import type { Farm } from "../shell/farm";
import { dayText, plain, yearOf } from "../units/format";
import { gateStands, partDone, titled } from "../units/words";
import { ofSuchYears } from "../when/years";

interface Props {
  farm: Farm;
  first: Schemas["NextStep"];
  field: Schemas["FieldView"] | undefined;
  onInk: (step: StepToInk) => void;
}

/** What to do first: what, where, how much, with which setting, and whether it is fit to start. */
export function FirstThing({ farm, first, field, onInk }: Props) {
  const { step, stand } = first;
  const overdue = step.state.is === "overdue";
  const year = yearOf(farm.today);
  return (
    <section aria-labelledby="first-title" data-first={step.step} className="border-y-2 border-ink py-3">
      <div className="flex gap-4">
        {field && <FieldShape boundary={field.boundary} size={72} height={72} />}
        <div className="min-w-0 flex-1">
          <h2 id="first-title" className="text-2xl leading-tight">
            {titled(step)}
          </h2>
          <p className="text-xl leading-snug">
            <Link
              to="/farms/$farm/fields/$field"
              params={{ farm: farm.id, field: first.field }}
              className="underline decoration-2 underline-offset-4"
            >
              {first.field_name}
            </Link>
            {field && (
              <span className="text-pencil">
                {" "}
                <Figure quantity={field.sown_area} />
              </span>
            )}
          </p>
          <p className={overdue ? "font-semibold text-stop" : "text-pencil"}>
            {overdue
              ? `Overdue since ${dayText(step.to, year)}`
              : step.to === farm.today
                ? "Due today"
                : `Due by ${dayText(step.to, year)}`}
          </p>
        </div>
      </div>
      {step.part && <p className="pt-2 text-lg">{partDone(step.part)}</p>}
      {step.amounts.length > 0 && (
        <ul className="pt-2 text-lg">
          {step.amounts.map((one) => (
            <li key={one.of}>
              <span className="font-semibold">{plain(one.amount)}</span> {one.of}
            </li>
          ))}
        </ul>
      )}
      {isSowing(step) && <SowingDay farm={farm} stand={stand} />}
      {step.odds && (
        <p className="pt-2">
          <span className="font-semibold">{percent(step.odds.odds)}</span> {ofSuchYears(step.odds.basis)}
          {step.odds.limited_by && `. Main limit: ${step.odds.limited_by}`}
        </p>
      )}
      <Cautions cautions={step.cautions} />
      {farm.role !== "adviser" && (
        <button
          type="button"
          className="ink-button mt-3 !min-h-12 justify-center !text-base max-sm:w-full"
          aria-label={`Ink: ${titled(step)}, ${first.field_name}`}
          onClick={() => onInk({ field: first.field, field_name: first.field_name, stand, step })}
        >
          Ink: {titled(step)}
        </button>
      )}
    </section>
  );
}

/** On the sowing day: the drill's setting for this seed, and what still keeps it from being sown. */
function SowingDay({ farm, stand }: { farm: Farm; stand: string }) {
  const detail = useStand(farm.id, stand);
  const settings = useEntries(farm.id, { stand, kind: "drill-set" });
  const setting = settings.data?.entries.find((entry) => !entry.struck_by);
  const gates = detail.data?.implied.gates ?? [];
  const missing = gates.filter((gate) => gate.stands !== "open");
  return (
    <div className="pt-2">
      <p>
        {setting ? (
          <span className="font-semibold">{setting.says}</span>
        ) : (
          <>
            <span className="text-pencil">No drill setting recorded.</span>{" "}
            <Link
              to="/farms/$farm/bench"
              params={{ farm: farm.id }}
              search={{ at: "drill" }}
              className="underline"
            >
              Calibrate
            </Link>
          </>
        )}
      </p>
      {gates.length > 0 && missing.length === 0 && (
        <p className="font-semibold text-growth">● All checks passed</p>
      )}
      {missing.length > 0 && (
        <>
          <p className="font-semibold">
            {gates.length - missing.length} of {gates.length} checks passed
          </p>
          <ul>
            {missing.map((gate) => (
              <li key={gate.key} className={gate.stands === "shut" ? "text-stop" : "text-pencil"}>
                {gateStands[gate.stands].sign} {gate.title}: {gate.evidence}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
