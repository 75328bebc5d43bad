import { useId, type ReactNode } from "react";

interface Props {
  label: string;
  /** A word or two of help. */
  hint?: string | undefined;
  /** What is wrong, at the field. */
  error?: string | undefined;
  className?: string;
  /** Keep the label for those who can't see where the control stands. */
  hideLabel?: boolean | undefined;
  /** The label was pressed, of a control that does not answer to that by itself. */
  onLabel?: (control: HTMLElement | null) => void;
  /** The control, and the id of its label for one that is named by it. */
  children: (
    ids: { id: string; "aria-describedby": string; "aria-invalid": boolean },
    labelId: string,
  ) => ReactNode;
}

/** A label, its control, and what there is to say about it. */
export function Labelled({ label, hint, error, className = "", hideLabel, onLabel, children }: Props) {
  const id = useId();
  const note = `${id}-note`;
  return (
    <div className={className}>
      <label
        id={`${id}-label`}
        htmlFor={id}
        onClick={onLabel && (() => onLabel(document.getElementById(id)))}
        className={hideLabel ? "sr-only" : "block text-sm font-semibold"}
      >
        {label}
      </label>
      {children({ id, "aria-describedby": note, "aria-invalid": error !== undefined }, `${id}-label`)}
      <p
        id={note}
        className={`${hideLabel ? "" : "min-h-5 pb-1"} text-sm ${error ? "font-semibold text-stop" : "text-pencil"}`}
      >
        {error ? `✕ ${error}` : hint}
      </p>
    </div>
  );
}
