import { useShelf } from "../api/queries";
import type { Schemas } from "../api/client";
import { titled } from "../units/words";
import type { Task } from "../outbox/waiting";
import { hasForm } from "./registry";

export interface RecordKind {
  kind: string;
  /** How it is offered. */
  title: string;
}

/** Kinds that can be recorded about a field by hand: those of the shelf that have a form. */
export function useFieldKinds(): RecordKind[] {
  const shelf = useShelf();
  return (shelf.data?.kinds ?? [])
    .filter(
      (one) =>
        hasForm(one.kind) && one.by != null && one.needs.includes("field") && !one.needs.includes("stand"),
    )
    .map(({ kind, deed }) => ({ kind, title: deed }));
}

/** What is known of the ground already, for the form of the site. */
export function siteOf(view: Schemas["GroundView"] | undefined): Task["with"] {
  if (!view) return undefined;
  const { facts, history_known } = view.ground;
  return { facts, history_known, looked: view.looked };
}

export interface StepToInk {
  field: string;
  field_name: string;
  stand: string;
  step: Schemas["Step"];
}

/** The record that inks a step: of its own kind where it has a form, else the step itself. */
export function taskOf({ field, field_name, stand, step }: StepToInk, planned?: Schemas["Dressing"]): Task {
  const own = step.record !== "step" && hasForm(step.record);
  const shared = { title: `Ink: ${titled(step)}`, where: field_name, field };
  if (!own)
    return {
      ...shared,
      form: "step",
      stand,
      with: {
        operation: step.look.operation,
        step: step.step,
        occurrence: step.occurrence,
        asks: step.asks,
      },
    };
  return {
    ...shared,
    form: step.record,
    // Work on the ground serves whatever stands there; the rest is this stand's own.
    stand: step.on_ground ? undefined : stand,
    with: planned ? { planned } : undefined,
  };
}

/** Whether a record that waits on this device inks a step. */
export function inks(task: Task, { stand, step }: { stand: string; step: Schemas["Step"] }): boolean {
  if (task.form !== "step") return task.title === `Ink: ${titled(step)}` && task.form === step.record;
  return (
    task.stand === stand && task.with?.["step"] === step.step && task.with["occurrence"] === step.occurrence
  );
}
