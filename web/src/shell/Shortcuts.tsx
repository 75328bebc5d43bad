import { TaskSheet } from "../kit/Sheet";
import { shortcuts } from "./keys";

export function Shortcuts({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <TaskSheet open={open} onOpenChange={onOpenChange} title="Shortcuts">
      <dl className="mt-3 divide-y divide-rule">
        {shortcuts().map(([keys, what]) => (
          <div key={keys} className="flex gap-4 py-1.5">
            <dt className="w-52 shrink-0 font-semibold max-sm:w-32">{keys}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </TaskSheet>
  );
}
