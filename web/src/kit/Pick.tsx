import { Select } from "radix-ui";
import { Labelled } from "./Labelled";

export interface Option<T extends string = string> {
  value: T;
  text: string;
}

/** Options under a heading of their own. */
export interface Group<T extends string = string> {
  heading: string;
  options: readonly Option<T>[];
}

export interface PickProps<T extends string> {
  label: string;
  /** The one chosen; empty while none is. */
  value: T | "";
  options: readonly (Option<T> | Group<T>)[];
  onChange: (value: T | "") => void;
  /** What stands there while nothing is chosen. */
  empty?: string;
  /** Nothing may be chosen again. */
  clears?: boolean;
  error?: string | undefined;
  hint?: string | undefined;
  hideLabel?: boolean;
  className?: string;
  disabled?: boolean;
}

/** Radix keeps the empty string for "nothing chosen": choosing nothing needs a word of its own. */
const NOTHING = "\u0000";

/** One of many, opened from its line. */
export function Pick<T extends string>(props: PickProps<T>) {
  const {
    label,
    value,
    options,
    onChange,
    empty = "choose",
    clears,
    error,
    hint,
    hideLabel,
    className,
  } = props;
  return (
    <Labelled label={label} error={error} hint={hint} hideLabel={hideLabel} className={className ?? ""}>
      {(ids) => (
        <Select.Root
          value={value === "" && clears ? NOTHING : value}
          onValueChange={(next) => onChange(next === NOTHING ? "" : (next as T))}
          disabled={props.disabled ?? false}
        >
          <Select.Trigger
            {...ids}
            className="entry flex items-center justify-between gap-2 text-left max-sm:min-h-11"
          >
            <span className="truncate">
              <Select.Value placeholder={empty} />
            </span>
            <Select.Icon className="text-pencil">▾</Select.Icon>
          </Select.Trigger>
          <Select.Portal>
            <Select.Content
              position="popper"
              sideOffset={2}
              collisionPadding={8}
              className="z-[60] max-h-(--radix-select-content-available-height) min-w-(--radix-select-trigger-width) overflow-hidden border-2 border-ink bg-paper"
            >
              <Select.Viewport className="max-h-[min(24rem,60vh)]">
                {clears && <Line value={NOTHING} text={empty} />}
                {options.map((one) =>
                  "options" in one ? (
                    <Select.Group key={one.heading}>
                      <Select.Label className="px-3 pt-2 text-sm text-pencil">{one.heading}</Select.Label>
                      {one.options.map((option) => (
                        <Line key={option.value} {...option} />
                      ))}
                    </Select.Group>
                  ) : (
                    <Line key={one.value} {...one} />
                  ),
                )}
              </Select.Viewport>
            </Select.Content>
          </Select.Portal>
        </Select.Root>
      )}
    </Labelled>
  );
}

function Line({ value, text }: Option) {
  return (
    <Select.Item
      value={value}
      className="cursor-pointer px-3 py-1.5 outline-none select-none data-[highlighted]:bg-ink data-[highlighted]:text-paper data-[state=checked]:font-bold max-sm:py-3"
    >
      <Select.ItemText>{text}</Select.ItemText>
    </Select.Item>
  );
}

/** Options from a table of words. */
export function optionsOf<T extends string>(words: Record<T, string>): Option<T>[] {
  return Object.entries<string>(words).map(([value, text]) => ({ value: value as T, text }));
}
