import type { CalendarDate } from "@internationalized/date";
import {
  Button,
  Calendar,
  CalendarCell,
  CalendarGrid,
  CalendarGridBody,
  CalendarGridHeader,
  CalendarHeaderCell,
  CalendarHeading,
} from "react-aria-components/Calendar";

interface Props {
  label: string;
  day: CalendarDate | null;
  /** The month to open at where no day is set. */
  near: CalendarDate;
  min: CalendarDate | null;
  onPick: (date: CalendarDate) => void;
}

const turn =
  "inline-flex min-h-9 min-w-9 items-center justify-center text-lg hover:bg-sunk disabled:text-rule max-sm:min-h-11 max-sm:min-w-11";

/** A month to pick a day from. */
export default function MonthSheet({ label, day, near, min, onPick }: Props) {
  return (
    <Calendar
      aria-label={label}
      value={day}
      defaultFocusedValue={day ?? near}
      {...(min ? { minValue: min } : {})}
      onChange={(date) => onPick(date as CalendarDate)}
      autoFocus
    >
      <header className="flex items-center justify-between pb-1">
        <Button slot="previous" className={turn}>
          ‹
        </Button>
        <CalendarHeading className="font-bold" />
        <Button slot="next" className={turn}>
          ›
        </Button>
      </header>
      <CalendarGrid weekdayStyle="short" className="border-collapse">
        <CalendarGridHeader>
          {(weekday) => (
            <CalendarHeaderCell className="pb-1 text-sm font-normal text-pencil">
              {weekday.slice(0, 2)}
            </CalendarHeaderCell>
          )}
        </CalendarGridHeader>
        <CalendarGridBody>
          {(date) => (
            <CalendarCell
              date={date}
              className="flex size-9 items-center justify-center border border-transparent outline-none hover:bg-sunk data-disabled:text-rule data-focus-visible:border-2 data-focus-visible:border-rain data-outside-month:invisible data-selected:bg-ink data-selected:font-bold data-selected:text-paper max-sm:size-11"
            />
          )}
        </CalendarGridBody>
      </CalendarGrid>
    </Calendar>
  );
}
