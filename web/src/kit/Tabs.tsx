import { Tabs as Radix } from "radix-ui";
import type { ReactNode } from "react";

interface Props<T extends string> {
  value: T;
  onChange: (value: T) => void;
  children: ReactNode;
}

/** Sides of one thing, one shown at a time. */
export function Tabs<T extends string>({ value, onChange, children }: Props<T>) {
  return (
    <Radix.Root value={value} onValueChange={(next) => onChange(next as T)}>
      {children}
    </Radix.Root>
  );
}

interface Name<T extends string> {
  value: T;
  text: string;
}

/** Their names, wherever among what they part: the one shown is underlined in ink. */
export function TabNames<T extends string>({ label, names }: { label: string; names: readonly Name<T>[] }) {
  return (
    <Radix.List aria-label={label} className="inline-flex flex-wrap gap-x-3 max-sm:gap-x-1">
      {names.map((name) => (
        <TabName key={name.value} {...name} />
      ))}
    </Radix.List>
  );
}

/** Many names, in groups that say what they are for. */
export function TabGroups<T extends string>({
  label,
  groups,
}: {
  label: string;
  groups: readonly { text: string; names: readonly Name<T>[] }[];
}) {
  return (
    <Radix.List aria-label={label} className="inline-flex flex-wrap gap-x-7 gap-y-1">
      {groups.map(({ text, names }) => (
        <span key={text} role="presentation" className="flex flex-col">
          <span aria-hidden className="text-sm leading-4 text-pencil">
            {text}
          </span>
          <span role="presentation" className="flex flex-wrap gap-x-3 border-t border-rule max-sm:gap-x-1">
            {names.map((name) => (
              <TabName key={name.value} {...name} />
            ))}
          </span>
        </span>
      ))}
    </Radix.List>
  );
}

function TabName({ value, text }: Name<string>) {
  return (
    <Radix.Trigger
      value={value}
      className="min-h-9 border-b-2 border-transparent px-0.5 text-sm text-pencil hover:text-ink data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink max-sm:min-h-11 max-sm:min-w-11"
    >
      {text}
    </Radix.Trigger>
  );
}

/** One side, drawn while it is shown. */
export function Tab({ value, children }: { value: string; children: ReactNode }) {
  return (
    <Radix.Content value={value} className="outline-none" tabIndex={-1}>
      {children}
    </Radix.Content>
  );
}
