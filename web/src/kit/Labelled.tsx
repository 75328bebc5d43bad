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
  children: (ids: { id: string; "aria-describedby": string; "aria-invalid": boolean }) => ReactNode;
}

/** A label, its control, and what there is to say about it. */
export function Labelled({ label, hint, error, className = "", hideLabel, children }: Props) {
  const id = useId();
  const note = `${id}-note`;
  return (
    <div className={className}>
      <label htmlFor={id} className={hideLabel ? "sr-only" : "block text-sm font-semibold"}>
        {label}
      </label>
      {children({ id, "aria-describedby": note, "aria-invalid": error !== undefined })}
      <p
        id={note}
        className={`${hideLabel ? "" : "min-h-5"} text-sm ${error ? "font-semibold text-stop" : "text-pencil"}`}
      >
        {error ? `✕ ${error}` : hint}
      </p>
    </div>
  );
}
