import type { ComponentType } from "react";
import type { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import type { Task } from "../outbox/waiting";
import type { Farm } from "../shell/farm";
import type { Units } from "../units/useUnits";
import type { Read } from "./amounts";
import { closedBy } from "./tasks";

export type Payload = Schemas["Payload"];
type Subject = Schemas["Subject"];

/** Said with every record that is handed in: whose it is. Another's session does not take it. */
export type OfPerson = Record<"ink-person", string>;

/** What a form begins with. */
export interface Begin<G> {
  farm: Farm;
  units: Units;
  task: Task;
  given: G;
}

/** A record on its way to the ledger, its amounts read. */
export interface Sending<V, G> {
  id: string;
  farm: string;
  on: string;
  task: Task;
  given: G;
  read: Read<V>;
  headers: OfPerson;
  /** What the server asked about is meant. */
  confirmed: boolean;
}

/** How one kind of record is written: the only file of the screen that knows the kind. */
export interface RecordForm<S extends z.ZodObject, G> {
  /** What a task brings along for it. */
  given: z.ZodType<G>;
  /** What can be written, and what has to be. */
  values: S;
  /** What the day is the day of; nothing where the server's day stands. */
  day: string | null;
  /** On its button. */
  submit?: string;
  begin: (begin: Begin<G>) => z.infer<S>;
  /** The day it begins with, where that is not today. */
  beginOn?: (given: G) => string | undefined;
  Fields: ComponentType<{ farm: Farm; task: Task; given: G }>;
  /** What goes into the ledger. */
  payload?: (read: Read<z.infer<S>>, sending: Sending<z.infer<S>, G>) => Payload;
  /** What it is about, where that is not the field and stand of its task. */
  about?: (read: Read<z.infer<S>>, task: Task) => Subject[];
  /** The record that it takes the place of, where one counts at a time. */
  after?: (given: G) => string | undefined;
  /** Handed in at an address of its own, instead of with the other entries. */
  deliver?: (sending: Sending<z.infer<S>, G>) => Promise<unknown>;
  /** Where its fields stand in what is handed in. */
  root?: string;
}

/** A form whose kind is not looked into. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyRecordForm = RecordForm<z.ZodObject, any>;

/** Declare a form; the file's default export, named as the kind is. */
export function recordForm<S extends z.ZodObject, G>(form: RecordForm<S, G>): AnyRecordForm {
  return form as unknown as AnyRecordForm;
}

/** The field and stand of a task. */
export function aboutTask(task: Task): Subject[] {
  const about: Subject[] = [];
  if (task.field) about.push({ kind: "field", id: task.field });
  if (task.stand) about.push({ kind: "stand", id: task.stand });
  return about;
}

/** Hand a record in, at its own address or as an entry. */
export async function handIn(
  form: AnyRecordForm,
  sending: Sending<Record<string, unknown>, unknown>,
): Promise<void> {
  if (form.deliver) {
    await form.deliver(sending);
    return;
  }
  if (!form.payload) throw new Error("a form has a payload or an address");
  const { id, farm, on, task, given, read, headers, confirmed } = sending;
  const after = form.after?.(given);
  const closes = closedBy(task);
  await answered(
    api.POST("/api/farms/{farm}/entries", {
      params: { path: { farm } },
      headers,
      body: {
        id,
        about: form.about?.(read, task) ?? aboutTask(task),
        occurred_on: on,
        payload: form.payload(read, sending),
        ...(closes ? { closes } : {}),
        ...(after ? { after } : {}),
        ...(confirmed ? { confirmed } : {}),
      },
    }),
  );
}
