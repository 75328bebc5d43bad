import { TaskSheet } from "../ui/Sheet";

const shortcuts = [
  ["Ctrl K or ⌘ K", "Find a page, a field or a deed"],
  ["s", "Season"],
  ["w", "When?"],
  ["f", "Fields"],
  ["n", "Start a stand"],
  ["b", "Bench"],
  ["l", "Ledger"],
  ["t", "Set-up: weather station"],
  ["u", "Switch units"],
  ["← → on a sowing mark", "Move the day; with Shift, a week"],
  ["Esc", "Close what is open"],
  ["?", "This list"],
] as const;

export function Shortcuts({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <TaskSheet open={open} onOpenChange={onOpenChange} title="Shortcuts">
      <dl className="mt-3 divide-y divide-rule">
        {shortcuts.map(([keys, what]) => (
          <div key={keys} className="flex gap-4 py-1.5">
            <dt className="w-52 shrink-0 font-semibold">{keys}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </TaskSheet>
  );
}
