import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from "react";
import {
  FormProvider,
  useController,
  useFormContext,
  useWatch,
  type FieldValues,
  type Path,
  type UseFormReturn,
} from "react-hook-form";
import { answered, api, Refused } from "../api/client";
import { readAt, type AmountWords } from "../records/amounts";
import { plain } from "../units/format";
import { readBack } from "../units/number";
import { Choice } from "./Choice";
import { DayField } from "./Day";
import { Labelled } from "./Labelled";
import { Pick as PickLine, type PickProps } from "./Pick";
import { useSheet } from "./Sheet";
import { Trouble } from "./states";
import { Tick } from "./Tick";

/** Which field of a form a pointer of the server blames. */
class Pointers {
  private readonly names = new Map<string, string>();

  claim(pointer: string, name: string): void {
    this.names.set(pointer, name);
  }

  /** The field at the pointer, below it, or above it; the nearest. */
  fieldOf(pointer: string): string | undefined {
    const near = [...this.names.keys()]
      .filter((own) => own === pointer || pointer.startsWith(`${own}/`) || own.startsWith(`${pointer}/`))
      .sort((a, b) => Math.abs(a.length - pointer.length) - Math.abs(b.length - pointer.length))[0];
    return near === undefined ? undefined : this.names.get(near);
  }
}

interface Frame {
  pointers: Pointers;
  /** Where the fields stand in what is sent. */
  root: string;
}

const FrameContext = createContext<Frame | null>(null);

/** Where the server would blame a field. */
function pointerOf({ root }: Frame, name: string): string {
  return `${root}/${name.replaceAll(".", "/")}`;
}

/** Put what the server did not take at the fields it blames; what no field answers for stands at the end. */
export function blame<V extends FieldValues>(
  form: UseFormReturn<V>,
  pointers: Pointers,
  refused: Refused,
): void {
  const left: string[] = [];
  const errors = refused.problem.errors ?? [];
  for (const { pointer, detail } of errors) {
    const name = pointers.fieldOf(pointer);
    if (name) form.setError(name as Path<V>, { type: "server", message: detail });
    else left.push(detail);
  }
  if (errors.length === 0) left.push(refused.message);
  if (left.length > 0) form.setError("root.server", { type: "server", message: left.join(". ") });
}

interface FormProps<V extends FieldValues> {
  form: UseFormReturn<V>;
  /** Takes what was written; throws `Refused`. */
  onSubmit: (values: V) => Promise<unknown>;
  submit: string;
  /** On the button while it is being taken. */
  busy?: string;
  /** Where the fields stand in what is sent: a pointer. */
  root?: string;
  /** What was not taken before, told from the beginning. */
  refused?: Refused | undefined;
  label?: string;
  disabled?: boolean;
  /** Beside the button. */
  also?: ReactNode;
  className?: string;
  children: ReactNode;
}

/** A form: its fields, what is wrong at each, and the one button that hands it in. */
export function Form<V extends FieldValues>(props: FormProps<V>) {
  const {
    form,
    onSubmit,
    submit,
    busy,
    root = "",
    refused,
    label,
    disabled,
    also,
    className,
    children,
  } = props;
  const close = useSheet();
  const [pointers] = useState(() => new Pointers());
  const told = useRef<Refused | undefined>(undefined);
  useEffect(() => {
    // The fields have claimed their pointers by now: children come first.
    if (refused && told.current !== refused) blame(form, pointers, refused);
    told.current = refused;
  }, [form, pointers, refused]);
  const hand = form.handleSubmit(async (values) => {
    try {
      await onSubmit(values);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      blame(form, pointers, error);
    }
  });
  const { isSubmitting, errors } = form.formState;
  const general = (errors.root?.["server"] as { message?: string } | undefined)?.message;
  return (
    <FormProvider {...form}>
      <FrameContext.Provider value={{ pointers, root }}>
        <form
          noValidate
          aria-label={label}
          className={className ?? "mt-3 space-y-1"}
          onSubmit={(event) => {
            event.stopPropagation();
            form.clearErrors("root.server");
            void hand(event);
          }}
        >
          {children}
          {general && <Trouble error={new Error(general)} />}
          {/* On a sheet longer than the window both ways out stay in sight. */}
          <div
            className={`flex flex-wrap items-center gap-4 pt-2 ${close ? "sticky -bottom-6 z-10 -mx-6 border-t border-rule bg-paper px-6 pb-4" : ""}`}
          >
            <button
              type="submit"
              className="ink-button max-sm:min-h-12 max-sm:px-6"
              disabled={isSubmitting || disabled}
            >
              {isSubmitting ? (busy ?? submit) : submit}
            </button>
            {close && (
              <button type="button" className="line-button" onClick={close}>
                Cancel
              </button>
            )}
            {also}
          </div>
        </form>
      </FrameContext.Provider>
    </FormProvider>
  );
}

interface FieldProps {
  /** Its place among the values. */
  name: string;
  label: string;
  hint?: string | undefined;
  /** Where the server blames it, where that is not its place among the values. */
  at?: string;
  className?: string;
  hideLabel?: boolean;
}

type Place = Pick<FieldProps, "name" | "at">;

/** A field of the form above: its value, what is wrong with it, and a way to write it. */
function useField<T>({ name, at }: Place) {
  const form = useFormContext();
  const frame = useContext(FrameContext);
  const { field, fieldState } = useController({ name });
  useEffect(() => {
    if (!frame) return;
    frame.pointers.claim(at ?? pointerOf(frame, name), name);
    frame.pointers.claim(readAt(name), name);
  }, [frame, at, name]);
  return {
    value: field.value as T,
    // What was wrong is about what stood there then.
    write: (value: T) => {
      form.clearErrors(name);
      field.onChange(value);
    },
    leave: field.onBlur,
    ref: field.ref,
    error: fieldState.error?.message,
    written: fieldState.isDirty,
  };
}

export function TextField({
  lines,
  type,
  mode,
  autoComplete,
  ...props
}: FieldProps & {
  lines?: number;
  type?: "password" | "email";
  mode?: "decimal" | "numeric";
  autoComplete?: string;
}) {
  const field = useField<string>(props);
  const { label, hint, className, hideLabel } = props;
  return (
    <Labelled label={label} hint={hint} error={field.error} className={className ?? ""} hideLabel={hideLabel}>
      {(ids) => {
        const own = {
          ...ids,
          ref: field.ref,
          className: "entry",
          value: field.value,
          onBlur: field.leave,
          onChange: (event: { target: { value: string } }) => field.write(event.target.value),
        };
        return lines ? (
          <textarea {...own} rows={lines} />
        ) : (
          <input {...own} type={type ?? "text"} inputMode={mode} autoComplete={autoComplete} />
        );
      }}
    </Labelled>
  );
}

/** A number without a unit; what was read is said where it can be read two ways. */
export function NumberField(props: FieldProps) {
  const text = useWatch({ name: props.name }) as string;
  return <TextField {...props} hint={readBack(text) ?? props.hint} mode="decimal" />;
}

/** A day of the calendar. */
export function DayOf({ min, ...props }: FieldProps & { min?: string }) {
  const field = useField<string>(props);
  return (
    <DayField
      label={props.label}
      value={field.value}
      onChange={field.write}
      error={field.error}
      hint={props.hint}
      {...(min ? { min } : {})}
    />
  );
}

export function TickOf({ name, at, children }: { name: string; at?: string; children: ReactNode }) {
  const field = useField<boolean>({ name, ...(at ? { at } : {}) });
  return (
    <div>
      <Tick checked={field.value} onChange={field.write}>
        {children}
      </Tick>
      {field.error && <p className="text-sm font-semibold text-stop">✕ {field.error}</p>}
    </div>
  );
}

export function PickOf<T extends string>({
  name,
  at,
  onPicked,
  ...rest
}: Omit<PickProps<T>, "value" | "onChange" | "error"> & {
  name: string;
  at?: string;
  /** Told what was picked, for what follows from it. */
  onPicked?: (value: T | "") => void;
}) {
  const field = useField<T | "">({ name, ...(at ? { at } : {}) });
  return (
    <PickLine
      {...rest}
      value={field.value}
      onChange={(value) => {
        field.write(value);
        onPicked?.(value);
      }}
      error={field.error}
    />
  );
}

/** One of a few, side by side. */
export function ChoiceOf<T extends string>({
  name,
  ...rest
}: {
  name: string;
  label: string;
  options: { value: T; text: string }[];
}) {
  const field = useField<T>({ name });
  return <Choice {...rest} value={field.value} onChange={field.write} />;
}

/** One of a few or none, under its label: a tap chooses, another takes it back. */
export function SeenOf<T extends string>({
  name,
  label,
  options,
}: {
  name: string;
  label: string;
  options: { value: T; text: string }[];
}) {
  const field = useField<T>({ name });
  return (
    <div className="pb-3">
      <p className="text-sm font-semibold" aria-hidden>
        {label}
      </p>
      <Choice label={label} value={field.value} onChange={field.write} options={options} optional />
      {field.error && <p className="text-sm font-semibold text-stop">✕ {field.error}</p>}
    </div>
  );
}

/**
 * An amount as people write it ("15", "2.5 t/ac", "¼ in"). What stands there is kept in the person's
 * words; how the server would read it is shown beside it where it can be asked.
 */
export function AmountField(props: FieldProps) {
  const field = useField<AmountWords>(props);
  const { label, hint, className, hideLabel } = props;
  const { text, bare } = field.value;
  const { written } = field;
  const [read, setRead] = useState<{ of: string; says?: string; wrong?: string }>({ of: "" });
  useEffect(() => {
    // What stood there to begin with has been read before.
    if (text.trim() === "" || !written) return;
    let current = true;
    const timer = setTimeout(async () => {
      try {
        const answer = await answered(api.POST("/api/read", { body: { text, bare } }));
        const says = [plain(answer.quantity), answer.note].filter(Boolean).join(", ");
        if (current) setRead({ of: text, says });
      } catch (error) {
        // Without signal it is read when it is sent.
        const wrong = error instanceof Refused && error.status === 422 ? error.at("/text") : undefined;
        if (current) setRead({ of: text, ...(wrong ? { wrong } : {}) });
      }
    }, 150);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [text, bare, written]);
  const here = read.of === text && text.trim() !== "" ? read : undefined;
  return (
    <Labelled
      label={label}
      error={field.error ?? here?.wrong}
      hint={here?.says ? `Read as ${here.says}` : hint}
      className={className ?? ""}
      hideLabel={hideLabel}
    >
      {(ids) => (
        <input
          {...ids}
          ref={field.ref}
          className="entry max-sm:min-h-11"
          inputMode="text"
          autoComplete="off"
          value={text}
          onBlur={field.leave}
          onChange={(event) => field.write({ text: event.target.value, bare })}
        />
      )}
    </Labelled>
  );
}
