import type { Schemas } from "../api/client";

/** The sides of a field's page. */
export type Room = "plan" | "young" | "use" | "ground" | "history";

/** A stand is young for so long, days. */
const YOUNG = 730;

/** What is worked out of a stand's age and plan, for the order of the rooms. */
type Standing = Pick<Schemas["StandView"], "goal"> & {
  plan: Pick<Schemas["Plan"], "sown" | "sown_on" | "today" | "steps">;
};

const isOver = ({ state }: Pick<Schemas["Step"], "state">) => state.is === "done" || state.is === "passed";

/** Whether a sown stand is still being established: work of its making is open, and it is not old. */
function isYoung({ plan }: Standing): boolean {
  const days = (Date.parse(plan.today) - Date.parse(plan.sown_on)) / 86_400_000;
  return days <= YOUNG && plan.steps.some((step) => step.season == null && !isOver(step));
}

/** What its use is called. */
export function wordOfUse(goal: Schemas["Goal"]): string {
  if (goal === "grazing") return "Grazing";
  if (goal === "wildlife") return "Upkeep";
  return "Cutting";
}

/** The rooms of a field in the order of its stand's life, and the one that it opens on: the phase the stand is in. */
export function roomsOf(stand: Standing | undefined): {
  rooms: { value: Room; text: string }[];
  first: Room;
} {
  const ground = { value: "ground" as const, text: "Ground" };
  const history = { value: "history" as const, text: "History" };
  if (!stand) return { rooms: [ground, history], first: "ground" };
  const use = { value: "use" as const, text: wordOfUse(stand.goal) };
  if (!stand.plan.sown)
    return { rooms: [{ value: "plan", text: "Plan" }, use, ground, history], first: "plan" };
  const young = isYoung(stand);
  const made = { value: "young" as const, text: "New stand" };
  return { rooms: [...(young ? [made] : []), use, ground, history], first: young ? "young" : "use" };
}
