import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useEntry, useRecord } from "../api/queries";
import type { Farm } from "../shell/farm";
import { Labelled } from "../ui/Labelled";
import { TaskSheet } from "../ui/Sheet";
import { Trouble, Waiting } from "../ui/states";
import { dayText } from "../units/format";

/** Read one entry, and strike it. */
export function EntrySheet({ farm, entry: id, onDone }: { farm: Farm; entry: string; onDone: () => void }) {
  const { data: entry, error } = useEntry(farm.id, id);
  return (
    <TaskSheet open onOpenChange={(open) => !open && onDone()} title={entry?.title ?? "Entry"}>
      {error && <Trouble error={error} />}
      {entry && <EntryBody farm={farm} entry={entry} onDone={onDone} />}
      {!entry && !error && <Waiting what="Looking it up" />}
    </TaskSheet>
  );
}

export function EntryBody({
  farm,
  entry,
  onDone,
}: {
  farm: Farm;
  entry: Schemas["EntryView"];
  onDone: () => void;
}) {
  const struck = entry.struck_by !== null && entry.struck_by !== undefined;
  return (
    <div className="mt-3">
      <p className={struck ? "struck" : "font-semibold"}>{entry.says}</p>
      <p className="text-sm text-pencil">
        {dayText(entry.occurred_on, 0)}, written down by {entry.recorded_by_name}
      </p>
      {struck && <p className="mt-2">Struck: it stays legible and counts no more.</p>}
      {!struck && !entry.strikes && farm.role !== "adviser" && (
        <Strike farm={farm} entry={entry} onDone={onDone} />
      )}
    </div>
  );
}

export function Strike({
  farm,
  entry,
  onDone,
}: {
  farm: Farm;
  entry: Schemas["EntryView"];
  onDone: () => void;
}) {
  const [id] = useState(() => uuid());
  const [reason, setReason] = useState("");
  const record = useRecord(farm.id, () => {
    const path = { farm: farm.id, entry: entry.id };
    return answered(
      api.POST("/api/farms/{farm}/entries/{entry}/strike", { params: { path }, body: { id, reason } }),
    );
  });
  const refused = record.error instanceof Refused ? record.error : undefined;
  return (
    <form
      className="mt-4"
      onSubmit={(event) => {
        event.preventDefault();
        record.mutate(undefined, { onSuccess: onDone });
      }}
    >
      <Labelled label="What was wrong" error={refused?.at("/payload/reason")}>
        {(ids) => (
          <input
            {...ids}
            className="entry"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        )}
      </Labelled>
      {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
      <div className="flex gap-4 pt-2">
        <button type="submit" className="ink-button" disabled={record.isPending}>
          Strike it
        </button>
        <button type="button" className="line-button" onClick={onDone}>
          Leave it
        </button>
      </div>
    </form>
  );
}
