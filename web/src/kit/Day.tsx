import { Labelled } from "./Labelled";

interface Props {
  label: string;
  /** ISO, or as far as it is typed. */
  value: string;
  onChange: (day: string) => void;
  error?: string | undefined;
  hint?: string | undefined;
  required?: boolean;
  min?: string;
}

/** A day of the calendar, under its label. */
export function DayField({ label, value, onChange, error, hint, ...rest }: Props) {
  return (
    <Labelled label={label} error={error} hint={hint}>
      {(ids) => (
        <input
          {...ids}
          {...rest}
          type="date"
          className="entry max-sm:min-h-11"
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
    </Labelled>
  );
}
