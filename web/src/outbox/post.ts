import { v4 as uuid } from "uuid";
import { Refused, type Problem } from "../api/client";
import { signal } from "../api/signal";
import { readAmounts } from "../records/amounts";
import { handIn } from "../records/form";
import { formOf, hasForm } from "../records/registry";
import { sendInOrder, UnknownForm, type Sent } from "./send";
import { all, alone, fresh, keep, settle } from "./store";
import type { Waiting } from "./waiting";

/** How long a form waits for the server's word, milliseconds; then the record waits here and goes on its own. */
const PATIENCE = 5_000;

const unanswered: Problem = {
  type: "/problems/unreachable",
  title: "No response",
  status: 0,
  detail: "This part of the application did not load. Trying again.",
};

const older: Problem = {
  type: "/problems/older-form",
  title: "Form has changed",
  status: 422,
  detail: "This record was written on an older version of the form. Check it and record it again.",
};

/** Read one record's amounts and hand it in. */
async function deliver(item: Waiting): Promise<void> {
  if (!hasForm(item.task.form)) throw new UnknownForm(item.task.form);
  const form = await formOf(item.task.form).catch(() => {
    throw new Refused(0, unanswered);
  });
  const values = form.values.safeParse(item.values);
  const given = form.given.safeParse(item.task.with);
  if (!values.success || !given.success) throw new Refused(422, older);
  const read = await readAmounts(values.data);
  const { id, farm, on, task, person } = item;
  const headers = { "ink-person": person };
  await handIn(form, {
    id,
    farm,
    on,
    task,
    given: given.data,
    read,
    headers,
    confirmed: item.confirmed ?? false,
  });
}

/** Send what waits on this device of one person. */
export function sendAll(person: string): Promise<Sent> {
  return alone(async () => sendInOrder(await all(), person, { fresh, deliver, settle }));
}

export type Handed =
  /** In the ledger. */
  | "taken"
  /** On this device, to be sent when there is signal. */
  | "kept"
  /** On this device, to be sent when its writer signs in again. */
  | "signed-out";

/**
 * Hand a record in: put by on this device first, then sent, so that nothing that happens between the
 * two loses it. Throws `Refused` where the server does not take it; it stays put by until it is
 * corrected or thrown away.
 */
export async function submit(item: Waiting): Promise<Handed> {
  try {
    await keep({ ...item, saved: uuid(), refused: undefined, failures: undefined, trouble: undefined });
  } catch {
    // Nothing can be put by here: then there is only the server, and the form stays open until it answers.
    await deliver(item);
    return "taken";
  }
  const sent = sendAll(item.person).then(async ({ signedOut }): Promise<Handed> => {
    const left = await fresh(item.id);
    if (left?.refused) throw new Refused(left.refused.status, left.refused);
    if (!left) return "taken";
    return signedOut ? "signed-out" : "kept";
  });
  // Whoever does not wait for it is told by the outbox.
  sent.catch(() => {});
  if (!signal()) return "kept";
  const patience = new Promise<Handed>((resolve) => setTimeout(() => resolve("kept"), PATIENCE));
  return Promise.race([sent, patience]);
}
