import { z } from "zod";
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

/**
 * The record that inks a step: of its own kind where it has a form, else the step itself. A form of its own begins with what
 * is known of it.
 */
export function taskOf({ field, field_name, stand, step }: StepToInk, begins?: Task["with"]): Task {
  const own = step.record !== "step" && hasForm(step.record);
  return {
    title: `Ink: ${titled(step)}`,
    where: field_name,
    field,
    form: own ? step.record : "step",
    // Work on the ground serves whatever stands there; the rest is this stand's own.
    stand: own && step.on_ground ? undefined : stand,
    closes: closesOf({ stand, step }),
    with: own ? begins : { operation: step.look.operation, asks: step.asks },
  };
}

function closesOf({ stand, step }: Pick<StepToInk, "stand" | "step">): Schemas["Closes"] {
  const { season, occurrence } = step;
  return { stand, step: step.step, ...(season == null ? {} : { season }), occurrence };
}

const before = z.object({ step: z.string(), occurrence: z.number() });

/** What a task closes; of one that has waited on the device since before tasks said so, what its form began with. */
export function closedBy(task: Task): Schemas["Closes"] | undefined {
  if (task.closes || task.form !== "step" || !task.stand) return task.closes;
  const said = before.safeParse(task.with);
  return said.success ? { stand: task.stand, ...said.data } : undefined;
}

/** Whether a record that waits on this device inks a step. */
export function inks(task: Task, inked: Pick<StepToInk, "stand" | "step">): boolean {
  const [said, meant] = [closedBy(task), closesOf(inked)];
  return (
    said !== undefined &&
    said.stand === meant.stand &&
    said.step === meant.step &&
    (said.season ?? null) === (meant.season ?? null) &&
    said.occurrence === meant.occurrence
  );
}
