import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { Suspense, use, useEffect, useState, type ReactNode } from "react";
import { useForm } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { Refused } from "../api/client";
import { keeps } from "../api/device";
import { useMe } from "../api/queries";
import { DayOf, Form } from "../kit/form";
import { TaskSheet } from "../kit/Sheet";
import { Trouble, Waiting as Wait } from "../kit/states";
import { Tick } from "../kit/Tick";
import { useTell } from "../kit/Told";
import { submit } from "../outbox/post";
import { outcomeOf } from "../outbox/send";
import { isPutBy, remove } from "../outbox/store";
import type { Task, Waiting } from "../outbox/waiting";
import { useFarm } from "../shell/farm";
import { useToday } from "../shell/useToday";
import { wholeDay } from "../units/day";
import { useUnits } from "../units/useUnits";
import { DoneContext } from "./done";
import type { AnyRecordForm } from "./form";
import { formOf } from "./registry";
import { fitsDraft, KeepsUnfinished, useUnfinished } from "./unfinished";

interface Props {
  task: Task;
  /** A record that waits on this device, opened again. */
  waiting?: Waiting | undefined;
  onDone: () => void;
  /** It was handed in, or put by. */
  onInked?: (() => void) | undefined;
}

/** Record something, on the form of its kind. */
export function RecordSheet({ task, waiting, onDone, onInked }: Props) {
  return (
    <TaskSheet open onOpenChange={(open) => !open && onDone()} title={task.title} about={aboutOf(task)}>
      <RecordBody task={task} waiting={waiting} onDone={onDone} onInked={onInked} />
    </TaskSheet>
  );
}

const PERMANENT = "Records are permanent. To fix a mistake, strike it and record it again.";

/** Where it is recorded, and what recording means. */
export function aboutOf(task: Task): string {
  return task.about ?? [task.where, PERMANENT].filter(Boolean).join(". ");
}

/** The form alone, for a sheet that says more than it. */
export function RecordBody({ also, ...props }: Props & { also?: ReactNode }) {
  return (
    <Suspense fallback={<Wait what="Loading form" />}>
      <Fetched {...props} also={also} />
    </Suspense>
  );
}

function Fetched(props: Props & { also?: ReactNode }) {
  const form = use(formOf(props.task.form));
  const given = form.given.safeParse(props.task.with);
  if (!given.success)
    return <Trouble error={new Error("This form is out of date. Close it and open it again.")} />;
  return <Written {...props} form={form} given={given.data} />;
}

/** The server asks whether it is meant. */
const UNUSUAL = "/problems/unusual";

/** What was written, as far as this form still has the places for it. */
function carriedOver(form: AnyRecordForm, begin: object, values: Record<string, unknown>) {
  const shape = form.values.shape as Record<string, z.ZodType>;
  const fits = Object.entries(values).filter(([key, value]) => shape[key]?.safeParse(value).success);
  const lost = Object.entries(values).filter(
    ([key, value]) => !(key in shape) && typeof value === "string" && value.trim() !== "",
  );
  return { values: { ...begin, ...Object.fromEntries(fits) }, lost };
}

function Written({
  task,
  waiting,
  onDone,
  onInked,
  also,
  form,
  given,
}: Props & { also?: ReactNode; form: AnyRecordForm; given: unknown }) {
  const farm = useFarm();
  const me = useMe().data;
  const units = useUnits();
  const today = useToday();
  const client = useQueryClient();
  const tell = useTell();
  const draft = useUnfinished(farm.id, task);
  const [{ id, first, left, values, lost }] = useState(() => {
    const first = { ...form.begin({ farm, units, task, given }), on: form.beginOn?.(given) ?? today };
    const left = waiting ? null : draft.read();
    const { on, ...written } = waiting
      ? { on: waiting.on, ...waiting.values }
      : { on: first.on, ...(left?.values as { on?: string } | undefined) };
    const id = waiting?.id ?? left?.id ?? uuid();
    return { id, first, left: left !== null, ...carriedOver(form, { ...first, on }, written) };
  });
  const schema = form.day === null ? form.values : form.values.extend({ on: wholeDay });
  const rhf = useForm({
    resolver: zodResolver(schema),
    defaultValues: values as Record<string, unknown>,
  });
  /** As it was left before, and not begun anew since. */
  const [asLeft, setAsLeft] = useState(left);
  /** It is in the outbox, which keeps it from now on. */
  const [putBy, setPutBy] = useState(waiting !== undefined);
  const [unkept, setUnkept] = useState<string | null>(null);
  useEffect(() => {
    void keeps().then(setUnkept);
  }, []);
  const [begun] = useState(() => waiting?.refused && new Refused(waiting.refused.status, waiting.refused));
  const [doubted, setDoubted] = useState(begun?.problem.type === UNUSUAL);
  const [confirmed, setConfirmed] = useState(false);
  const [sure, setSure] = useState(false);
  const hand = async ({ on, ...written }: Record<string, unknown>) => {
    if (!me) throw new Error("You are not signed in.");
    const handed = await submit({
      id,
      confirmed,
      person: me.id,
      personName: me.name,
      farm: farm.id,
      farmName: farm.name,
      task,
      on: typeof on === "string" ? on : today,
      values: written,
      written: waiting?.written ?? Date.now(),
    }).catch(async (error: unknown) => {
      if (await isPutBy(id)) {
        // Who looks at what was refused mends it here: closed, it is a draft again, and no record waits for anybody. A
        // picture has no room among the drafts.
        const drafted =
          !waiting && error instanceof Refused && outcomeOf(error).is === "refused" && fitsDraft(written);
        if (drafted) await remove(id);
        else {
          setPutBy(true);
          draft.forget();
        }
      }
      setDoubted(error instanceof Refused && error.problem.type === UNUSUAL);
      throw error;
    });
    if (handed === "taken") {
      tell(`Saved: ${task.title}.`);
      void client.invalidateQueries({ queryKey: ["farm", farm.id] });
    } else if (handed === "kept")
      tell(`Saved on this device: ${task.title}. It will be sent when there is signal.`);
    else tell(`Saved on this device: ${task.title}. It will be sent when you sign in again.`);
    setPutBy(true);
    draft.forget();
    onInked?.();
    onDone();
  };
  const { Fields } = form;
  return (
    <DoneContext.Provider value={onDone}>
      {unkept && (
        <p role="status" className="mt-2 border-l-3 border-stop pl-3 text-sm">
          Records cannot be saved offline here: {unkept}.
        </p>
      )}
      <Form
        form={rhf}
        onSubmit={hand}
        submit={form.submit ?? "Save record"}
        busy="Recording…"
        root={form.root ?? "/payload"}
        refused={begun}
        also={
          waiting ? (
            <button
              type="button"
              className="line-button"
              onClick={() => (sure ? void remove(waiting.id).then(onDone) : setSure(true))}
            >
              {sure ? "Yes, discard record" : "Discard record"}
            </button>
          ) : (
            also
          )
        }
      >
        <KeepsUnfinished name={putBy ? null : draft.name} id={id} begun={first} />
        {asLeft && (
          <p
            className="flex flex-wrap items-baseline gap-x-4 border-l-3 border-straw pl-3 text-sm"
            data-as-left
          >
            Draft restored; not recorded yet.
            <button
              type="button"
              className="line-button max-sm:min-h-11"
              onClick={() => (rhf.reset(first as Record<string, unknown>), setAsLeft(false))}
            >
              Clear form
            </button>
          </p>
        )}
        {form.day !== null && <DayOf name="on" label={form.day} at="/occurred_on" />}
        <Fields farm={farm} task={task} given={given} />
        {doubted && (
          <Tick
            className="border-l-3 border-stop pl-3 font-semibold"
            checked={confirmed}
            onChange={setConfirmed}
          >
            Yes, this is correct.
          </Tick>
        )}
        {lost.length > 0 && (
          <p className="border-l-3 border-stop pl-3 text-sm">
            From an older form, no matching field here:{" "}
            {lost.map(([key, value]) => `${key} “${String(value)}”`).join(", ")}.
          </p>
        )}
      </Form>
    </DoneContext.Provider>
  );
}
