import { useSeason, useStand } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { TaskSheet } from "../kit/Sheet";
import { aboutOf, RecordBody } from "../records/RecordSheet";
import { taskOf, type StepToInk } from "../records/tasks";
import type { Farm } from "../shell/farm";

interface Props {
  farm: Farm;
  step: StepToInk;
  onDone: () => void;
}

/** Record that a step was done: its day stands there already, so that it is two more taps. */
export function InkSheet({ farm, step: inked, onDone }: Props) {
  // What was planned fills the form in; without signal it opens without.
  const limes = inked.step.look.operation === "lime";
  const stand = useStand(farm.id, limes ? inked.stand : undefined);
  const stands = useSeason(farm.id).data?.strips.flatMap(({ stands }) => stands);
  if (limes && stand.isPending && stand.fetchStatus === "fetching") return null;
  const planned = stand.data?.implied.lime_dressing;
  const crop = stands?.find(({ id }) => id === inked.stand)?.crops[0];
  const begins = inked.step.record === "cut" ? crop && { crop } : planned && { planned };
  const task = taskOf(inked, begins || undefined);
  return (
    <TaskSheet open onOpenChange={(open) => !open && onDone()} title={task.title} about={aboutOf(task)}>
      <Cautions cautions={inked.step.cautions} />
      <RecordBody task={task} onDone={onDone} />
    </TaskSheet>
  );
}
