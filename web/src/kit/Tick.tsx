import { Checkbox } from "radix-ui";
import { useId, type ReactNode } from "react";

interface Props {
  children: ReactNode;
  checked: boolean;
  onChange: (checked: boolean) => void;
  disabled?: boolean;
  className?: string;
}

/** A box to tick, with the words beside it. */
export function Tick({ children, checked, onChange, disabled = false, className = "" }: Props) {
  const id = useId();
  return (
    <div className={`flex min-h-9 items-center gap-3 text-sm max-sm:min-h-11 ${className}`}>
      <Checkbox.Root
        id={id}
        checked={checked}
        disabled={disabled}
        onCheckedChange={(next) => onChange(next === true)}
        className="thumb grid size-5 shrink-0 place-items-center border-2 border-ink bg-paper disabled:opacity-50"
      >
        <Checkbox.Indicator>
          <svg viewBox="0 0 12 12" width={12} height={12} aria-hidden>
            <path d="M1 6.5 4.5 10 11 1.5" fill="none" stroke="var(--ink)" strokeWidth={2.4} />
          </svg>
        </Checkbox.Indicator>
      </Checkbox.Root>
      <label htmlFor={id} className="cursor-pointer py-1">
        {children}
      </label>
    </div>
  );
}
