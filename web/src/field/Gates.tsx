import { useState } from "react";
import type { Schemas } from "../api/client";
import { useGround } from "../api/queries";
import { Collapse } from "../kit/Collapse";
import type { Task } from "../outbox/waiting";
import { useOutbox } from "../outbox/useOutbox";
import { RecordSheet } from "../records/RecordSheet";
import { siteOf } from "../records/tasks";
import type { Farm } from "../shell/farm";
import { dayText, yearOf } from "../units/format";
import { gateStands } from "../units/words";

type Gate = Schemas["SowingGate"];

interface Props {
  farm: Farm;
  field: string;
  name: string;
  gates: readonly Gate[];
  plan: Schemas["Plan"];
  /** How a step is inked; nothing for who may not. */
  onInk: ((step: Schemas["Step"]) => void) | undefined;
}

/** What must be so before it is sown, each gate with its evidence and the way to more of it. */
export function Gates({ farm, field, name, gates, plan, onInk }: Props) {
  const [task, setTask] = useState<Task | null>(null);
  const waiting = useOutbox().filter(
    (item) => item.task.field === field && item.task.form === "seedbed-look",
  );
  const ground = useGround(farm.id, field);
  if (gates.length === 0) return null;
  const open = gates.filter((gate) => gate.stands === "open").length;
  const look = () => setTask({ form: "seedbed-look", title: "Check seedbed", where: name, field });
  const other = (kind: string, title: string) =>
    setTask({
      form: kind,
      title,
      where: name,
      field,
      with: kind === "site" ? siteOf(ground.data) : undefined,
    });
  const all = open === gates.length;
  const count = all ? "● All checks passed" : `${open} of ${gates.length} checks passed`;
  const list = (
    <>
      <ul className="border-t-2 border-ink">
        {gates.map((gate) => (
          <Row
            key={gate.key}
            gate={gate}
            today={farm.today}
            onTell={tell(gate, plan.steps, onInk, look, other)}
          />
        ))}
      </ul>
      {onInk && (
        <button type="button" className="line-button mt-2 no-print" onClick={look}>
          Check seedbed
        </button>
      )}
      {waiting.length > 0 && (
        <p className="text-sm text-pencil">
          {waiting.length === 1
            ? "1 check is waiting to send"
            : `${waiting.length} checks are waiting to send`}{" "}
          from this device; the results below do not include it.
        </p>
      )}
    </>
  );
  return (
    <section aria-label="Pre-sowing checks" data-open={open}>
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2>Pre-sowing checks</h2>
        <p className={all ? "font-semibold text-growth" : "text-pencil"}>{count}</p>
      </div>
      {soon(plan) ? list : <Collapse title="all checks">{list}</Collapse>}
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </section>
  );
}

/** Within four weeks of the sowing; before that most gates have nothing to tell. */
function soon(plan: Schemas["Plan"]): boolean {
  return Date.parse(plan.sown_on) - Date.parse(plan.today) <= 28 * 86_400_000;
}

/** What tells of a gate: the step that does it, or a record of its own. */
function tell(
  gate: Gate,
  steps: readonly Schemas["Step"][],
  onInk: Props["onInk"],
  look: () => void,
  other: (kind: string, title: string) => void,
): (() => void) | undefined {
  if (!onInk) return undefined;
  const step = steps.find((one) => one.step === gate.step && one.state.is !== "done");
  if (step) return () => onInk(step);
  switch (gate.record) {
    case "seedbed-look":
      return look;
    case "soil-temperature":
      return () => other("soil-temperature", "Soil temperature");
    case "soil-test":
      return () => other("soil-test", "Soil test");
    case "site":
      return gate.stands === "open" ? undefined : () => other("site", "Site walk");
    default:
      return undefined;
  }
}

function Row({ gate, today, onTell }: { gate: Gate; today: string; onTell: (() => void) | undefined }) {
  const { word, sign } = gateStands[gate.stands];
  const shut = gate.stands === "shut";
  return (
    <li
      className="grid grid-cols-[1.25rem_minmax(0,1fr)_auto] items-center gap-x-2 border-b border-rule py-1.5"
      data-gate={gate.key}
      data-stands={gate.stands}
    >
      <span
        aria-hidden
        className={gate.stands === "open" ? "text-growth" : shut ? "font-bold text-stop" : "text-pencil"}
      >
        {sign}
      </span>
      <span className="leading-snug">
        <span className="font-semibold">{gate.title}</span>{" "}
        <span className={`text-sm ${shut ? "text-stop" : "text-pencil"}`}>{word}</span>
        <span className="block text-sm">
          {gate.evidence}
          {gate.on && <span className="text-pencil">, {dayText(gate.on, yearOf(today))}</span>}
        </span>
        {gate.wants && gate.stands !== "open" && (
          <span className="block text-sm text-pencil">Needed: {gate.wants}.</span>
        )}
      </span>
      {onTell && (
        <button
          type="button"
          className="line-button no-print"
          aria-label={`${gate.stands === "open" ? "Check again" : "Record check"}: ${gate.title}`}
          onClick={onTell}
        >
          {gate.stands === "open" ? "Check again" : "Record check"}
        </button>
      )}
    </li>
  );
}
