import { useState } from "react";
import type { Schemas } from "../api/client";
import { useSignal } from "../api/signal";
import { TaskSheet } from "../kit/Sheet";
import { aboutOf, RecordBody } from "../records/RecordSheet";
import { hasForm } from "../records/registry";
import { useFarm } from "../shell/farm";
import { useNow } from "../shell/useNow";
import { agoText, dayText } from "../units/format";
import type { Waiting } from "./waiting";

/** What waits on this device: whose, since when, and why where it was refused. */
export function OutboxSheet({
  me,
  items,
  onDone,
}: {
  me: Schemas["Me"];
  items: readonly Waiting[];
  onDone: () => void;
}) {
  const farm = useFarm();
  const answers = useSignal();
  const [opened, setOpened] = useState<Waiting | null>(null);
  if (opened)
    return (
      <TaskSheet
        open
        onOpenChange={(open) => !open && setOpened(null)}
        title={opened.task.title}
        about={aboutOf(opened.task)}
      >
        <RecordBody task={opened.task} waiting={opened} onDone={() => setOpened(null)} />
      </TaskSheet>
    );
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title="Waiting to send"
      about={
        answers
          ? "Saved on this device until they reach the ledger."
          : "Saved on this device. They are sent in this order when there is signal."
      }
    >
      <ul className="mt-3 divide-y divide-rule border-t-2 border-ink">
        {items.map((item) => (
          <Line
            key={item.id}
            item={item}
            mine={item.person === me.id}
            here={item.farm === farm.id}
            onOpen={() => setOpened(item)}
          />
        ))}
      </ul>
    </TaskSheet>
  );
}

function Line({
  item,
  mine,
  here,
  onOpen,
}: {
  item: Waiting;
  mine: boolean;
  here: boolean;
  onOpen: () => void;
}) {
  const now = useNow();
  return (
    <li className="flex items-baseline gap-3 py-2" data-waiting={item.task.form}>
      <div className="min-w-0 flex-1">
        <p className="font-semibold">
          {item.task.title}
          {item.task.where && `, ${item.task.where}`}
        </p>
        <p className="text-sm text-pencil">
          {dayText(item.on, 0)}, written {agoText(now - item.written)}
          {!here && `, ${item.farmName}`}
          {!mine && `, by ${item.personName}; sent when they sign in here`}
        </p>
        {item.refused && <p className="text-sm font-semibold text-stop">✕ {item.refused.detail}</p>}
        {!item.refused && item.trouble && <p className="text-sm">{item.trouble.detail}</p>}
      </div>
      {mine && here && hasForm(item.task.form) && (
        <button type="button" className="line-button" onClick={onOpen}>
          {item.refused ? "Fix record" : "Open"}
        </button>
      )}
    </li>
  );
}
