import type { Schemas } from "../api/client";
import { useEntry } from "../api/queries";
import type { Farm } from "../shell/farm";
import { TaskSheet } from "../kit/Sheet";
import { RecordBody } from "../records/RecordSheet";
import { Trouble, Waiting } from "../kit/states";
import { dayText } from "../units/format";

/** Read one entry, and strike it. */
export function EntrySheet({ farm, entry: id, onDone }: { farm: Farm; entry: string; onDone: () => void }) {
  const { data: entry, error } = useEntry(farm.id, id);
  return (
    <TaskSheet open onOpenChange={(open) => !open && onDone()} title={entry?.title ?? "Entry"}>
      {error && <Trouble error={error} />}
      {entry && <EntryBody farm={farm} entry={entry} onDone={onDone} />}
      {!entry && !error && <Waiting what="Loading entry" />}
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
        {dayText(entry.occurred_on, 0)}, recorded by {entry.recorded_by_name}
      </p>
      {entry.payload?.kind === "photo" && (
        <img
          src={`/api/farms/${farm.id}/photos/${entry.payload.photo}`}
          alt={entry.says}
          className="mt-2 max-h-[60vh] max-w-full border border-rule"
        />
      )}
      {struck && <p className="mt-2">Struck: still readable, but no longer counted.</p>}
      {!struck && !entry.strikes && farm.role !== "adviser" && (
        <RecordBody
          task={{ form: "strike", title: "Strike entry", where: entry.says, with: { entry: entry.id } }}
          onDone={onDone}
        />
      )}
    </div>
  );
}
