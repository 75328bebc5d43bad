import { numberOf } from "../records/amounts";
import { readBack } from "../units/number";
import { Labelled } from "./Labelled";

interface BoxProps {
  label: string;
  value: string;
  onChange: (text: string) => void;
  error?: string | undefined;
  hint?: string;
  /** Several numbers, with spaces. */
  words?: boolean;
}

/** A bare number, on the keyboard for numbers. */
export function NumberBox({ label, value, onChange, error, hint, words }: BoxProps) {
  const wrong = !words && value.trim() !== "" && !Number.isFinite(numberOf(value));
  return (
    <Labelled
      label={label}
      hint={(words ? undefined : readBack(value)) ?? hint}
      error={error ?? (wrong ? "Enter a number." : undefined)}
    >
      {(ids) => (
        <input
          {...ids}
          className="entry"
          inputMode={words ? "text" : "decimal"}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
    </Labelled>
  );
}
