import { CalendarDate, GregorianCalendar, parseDate } from "@internationalized/date";
import { Popover } from "radix-ui";
import { I18nProvider } from "react-aria/I18nProvider";
import { useDateField, useDateSegment } from "react-aria/useDateField";
import { useDateFieldState, type DateFieldState, type DateSegment } from "react-stately/useDateFieldState";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { CLEARED, dayTrouble, isDay, partsOf, textOf } from "../units/day";
import { useUnits } from "../units/useUnits";
import { useToday } from "../shell/useToday";
import { Labelled } from "./Labelled";
import { Waiting } from "./states";

interface Props {
  label: string;
  /** ISO, or as far as it is typed: see `units/day`. */
  value: string;
  onChange: (day: string) => void;
  error?: string | undefined;
  hint?: string | undefined;
  min?: string;
}

/** How its reader writes a day: May 14, 2026 or 14 May 2026. */
type Order = "en-US" | "en-GB";

const MonthSheet = lazy(() => import("./MonthSheet"));

/**
 * A day of the calendar, under its label: its parts are typed in the reader's order, or it is picked from a month.
 *
 * What is half typed is told as such; the form's day is replaced by nothing that nobody chose.
 */
export function DayField(props: Props) {
  const order: Order = useUnits().system === "us" ? "en-US" : "en-GB";
  return (
    // Another order is another field: what is half typed has no place in it.
    <I18nProvider locale={order} key={order}>
      <Field {...props} order={order} />
    </I18nProvider>
  );
}

const dateOf = (text: string): CalendarDate | null => (isDay(text) ? parseDate(text) : null);

const calendar = () => new GregorianCalendar();

/** A day as it is typed: the parts that stand in the field, and the last whole day under them. */
function useTyped({ value, onChange }: Props, order: Order) {
  const outside = value === CLEARED ? "" : value;
  const [own, setOwn] = useState(() => ({ text: outside, date: dateOf(outside) }));
  // It was set from outside.
  if (outside !== own.text) setOwn({ text: outside, date: dateOf(outside) });
  const tell = (text: string, date: CalendarDate | null) => {
    setOwn({ text, date });
    onChange(text);
  };
  const state = useDateFieldState({
    locale: order,
    createCalendar: calendar,
    value: own.date,
    onChange: (date) => {
      const whole = date as CalendarDate | null;
      tell(whole ? textOf(whole) : "", whole);
    },
  });
  const part = (type: DateSegment["type"]) => {
    const segment = state.segments.find((one) => one.type === type);
    return segment && !segment.isPlaceholder ? Number(segment.text) : null;
  };
  const text = textOf({ year: part("year"), month: part("month"), day: part("day") });
  const behind = useRef(tell);
  useEffect(() => {
    behind.current = tell;
  });
  const { text: told, date } = own;
  useEffect(() => {
    if (text !== told) behind.current(text, date);
  }, [text, told, date]);
  return {
    text,
    held: date,
    pick: (date: CalendarDate) => tell(textOf(date), date),
    // A day that can't be is told, not bent to the nearest that can.
    state: { ...state, confirmPlaceholder: () => undefined },
  };
}

function Field({ order, ...props }: Props & { order: Order }) {
  const { label, error, hint, min } = props;
  const { text, held, state, pick } = useTyped(props, order);
  // What is wrong is told when the field is left, and stands until something is written over it.
  const [left, setLeft] = useState(text);
  const trouble = text === left ? dayTrouble(text) : undefined;
  return (
    <Labelled
      label={label}
      error={trouble ?? error}
      hint={hint}
      onLabel={(group) => firstPart(group)?.focus()}
    >
      {(ids, labelId) => (
        <div
          className="entry flex items-center gap-1 focus-within:border-ink data-[wrong]:border-stop"
          data-wrong={ids["aria-invalid"] || undefined}
          onBlur={({ currentTarget, relatedTarget }) =>
            !currentTarget.contains(relatedTarget) && setLeft(text)
          }
        >
          <Parts ids={ids} labelId={labelId} state={state} order={order} day={text} />
          <Pick label={label} day={text} held={held} min={min} onPick={pick} />
        </div>
      )}
    </Labelled>
  );
}

const firstPart = (group: HTMLElement | null) =>
  group?.querySelector<HTMLElement>("[role=spinbutton], [role=textbox]");

interface PartsProps {
  ids: { id: string; "aria-describedby": string; "aria-invalid": boolean };
  labelId: string;
  state: DateFieldState;
  order: Order;
  day: string;
}

function Parts({ ids, labelId, state, order, day }: PartsProps) {
  const ref = useRef<HTMLDivElement>(null);
  const { fieldProps } = useDateField(
    {
      id: ids.id,
      "aria-labelledby": labelId,
      "aria-describedby": ids["aria-describedby"],
      isInvalid: ids["aria-invalid"],
    },
    state,
    ref,
  );
  const parts = state.segments.filter(({ isEditable }) => isEditable);
  return (
    <div {...fieldProps} ref={ref} className="flex grow items-center" data-day={day}>
      {parts.map((segment, index) => (
        <Part
          key={segment.type}
          segment={segment}
          state={state}
          wrong={ids["aria-invalid"]}
          after={order === "en-US" && index === 1 ? "," : ""}
        />
      ))}
    </div>
  );
}

const monthName = new Intl.DateTimeFormat("en", { month: "short", timeZone: "UTC" });

/** "May" of 5; a month that is none as it is typed. */
const monthText = (month: number) =>
  month >= 1 && month <= 12 ? monthName.format(Date.UTC(2000, month - 1, 1)) : String(month);

interface PartProps {
  segment: DateSegment;
  state: DateFieldState;
  wrong: boolean;
  /** What is written behind it. */
  after: string;
}

function Part({ segment, state, wrong, after }: PartProps) {
  const ref = useRef<HTMLSpanElement>(null);
  const { segmentProps } = useDateSegment(segment, state, ref);
  const { type, text, isPlaceholder } = segment;
  const said = type === "month" && !isPlaceholder ? monthText(Number(text)) : text;
  return (
    <>
      <span
        {...segmentProps}
        ref={ref}
        data-part={type}
        aria-invalid={wrong || undefined}
        className="inline-flex min-h-6 min-w-6 items-center justify-center rounded-xs px-0.5 outline-none focus:bg-ink focus:text-paper data-placeholder:text-pencil data-placeholder:focus:text-paper max-sm:min-h-9 max-sm:min-w-9"
      >
        {said}
      </span>
      {after && (
        <span aria-hidden className="-ml-0.5 pr-0.5">
          {after}
        </span>
      )}
    </>
  );
}

interface PickProps {
  label: string;
  day: string;
  /** The last that was whole. */
  held: CalendarDate | null;
  min: string | undefined;
  onPick: (date: CalendarDate) => void;
}

/** Pick it from a month. */
function Pick({ label, day, held, min, onPick }: PickProps) {
  const today = useToday();
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label={`Pick ${label.charAt(0).toLowerCase()}${label.slice(1)} from a calendar`}
        className="-my-1 inline-flex min-h-8 min-w-8 items-center justify-center hover:bg-sunk max-sm:min-h-11 max-sm:min-w-11"
      >
        <MonthMark />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          collisionPadding={8}
          aria-label={label}
          className="z-50 border-2 border-ink bg-paper p-2 shadow-lg"
        >
          <Suspense fallback={<Waiting what="Opening the calendar" />}>
            <MonthSheet
              label={label}
              day={isDay(day) ? parseDate(day) : null}
              near={nearOf(day) ?? (held && dateOf(textOf(held))) ?? parseDate(today)}
              min={min ? parseDate(min) : null}
              onPick={(date) => {
                onPick(date);
                setOpen(false);
              }}
            />
          </Suspense>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** The month to open at where the day is not whole: as far as it is typed. */
function nearOf(text: string): CalendarDate | null {
  const { year, month } = partsOf(text);
  const near = textOf({ year, month: month ?? 1, day: 1 });
  return year !== null && isDay(near) ? parseDate(near) : null;
}

/** A month on the wall: three weeks of days. */
function MonthMark() {
  return (
    <svg viewBox="0 0 16 16" width="16" height="16" aria-hidden fill="none" stroke="currentColor">
      <path d="M1.5 3.5h13v11h-13zM1.5 6.5h13M4.5 1.5v3M11.5 1.5v3" strokeWidth="1.3" />
      <path d="M4 9h1.5M7.25 9h1.5M10.5 9H12M4 12h1.5M7.25 12h1.5" strokeWidth="1.5" />
    </svg>
  );
}
