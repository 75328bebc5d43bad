import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../api/client";
import { useOutbox } from "./useOutbox";

const OutboxSheet = lazy(() => import("./OutboxSheet").then((room) => ({ default: room.OutboxSheet })));

/** How many records wait on this device; opens into them. Nothing while none does. */
export function OutboxChip({ me }: { me: Schemas["Me"] }) {
  const [open, setOpen] = useState(false);
  const items = useOutbox();
  if (items.length === 0) return null;
  const refused = items.filter((item) => item.person === me.id && item.refused).length;
  return (
    <>
      <button
        type="button"
        data-outbox={items.length}
        className={`min-h-6 border-2 px-1.5 font-semibold max-sm:min-h-11 ${refused ? "border-stop text-stop" : "border-ink"}`}
        onClick={() => setOpen(true)}
      >
        {refused ? `✕ ${refused} to fix` : `${items.length} waiting to send`}
      </button>
      {open && (
        <Suspense>
          <OutboxSheet me={me} items={items} onDone={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
