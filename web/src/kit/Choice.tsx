import { ToggleGroup } from "radix-ui";

interface Props<T extends string> {
  label: string;
  value: T;
  options: { value: T; text: string }[];
  onChange: (value: T) => void;
  /** What is chosen can be taken back: nothing is chosen then. */
  optional?: boolean;
}

/** One of a few, side by side: the chosen one is underlined in ink. */
export function Choice<T extends string>({ label, value, options, onChange, optional = false }: Props<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => (next || optional) && onChange(next as T)}
      className="inline-flex flex-wrap gap-x-3"
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className="min-h-9 border-b-2 max-sm:min-h-11 max-sm:min-w-11 border-transparent px-0.5 text-sm text-pencil hover:text-ink data-[state=on]:border-ink data-[state=on]:font-semibold data-[state=on]:text-ink"
        >
          {option.text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
