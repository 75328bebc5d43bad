import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useEntries, useFields, useLots, useRecord, useShelf, type EntryFilter } from "../api/queries";
import { useFarm } from "../shell/farm";
import { DayField } from "../ui/DayField";
import { Labelled } from "../ui/Labelled";
import { TaskSheet } from "../ui/Sheet";
import { Empty, Trouble, Waiting } from "../ui/states";
import { dayText } from "../units/format";
import { subjectOf } from "../units/words";
import { EntryBody } from "./EntrySheet";
import { ImportSheet } from "./ImportSheet";

/** Every entry, newest day first. */
export function LedgerPage() {
  const farm = useFarm();
  const fields = useFields(farm.id);
  const lots = useLots(farm.id);
  const shelf = useShelf();
  const [filter, setFilter] = useState<EntryFilter>({});
  const [open, setOpen] = useState<Schemas["EntryView"] | null>(null);
  const [noting, setNoting] = useState(false);
  const [importing, setImporting] = useState(false);
  const entries = useEntries(farm.id, filter);
  const about = (entry: Schemas["EntryView"]) =>
    fields.data?.find((field) => field.id === subjectOf(entry, "field"))?.name ??
    lots.data?.find((lot) => lot.id === subjectOf(entry, "lot"))?.label ??
    "";
  const narrow = (change: EntryFilter) => {
    const { field, kind, page } = { ...filter, page: 0, ...change };
    setFilter({ ...(field ? { field } : {}), ...(kind ? { kind } : {}), page });
  };
  return (
    <div className="mx-auto max-w-5xl px-5 py-4">
      <div className="flex flex-wrap items-center gap-x-6 gap-y-1">
        <h1 className="flex-1">Ledger</h1>
        <Labelled label="Field">
          {(ids) => (
            <select
              {...ids}
              className="entry"
              value={filter.field ?? ""}
              onChange={(e) => narrow({ field: e.target.value })}
            >
              <option value="">all fields</option>
              {fields.data?.map((field) => (
                <option key={field.id} value={field.id}>
                  {field.name}
                </option>
              ))}
            </select>
          )}
        </Labelled>
        <Labelled label="Kind">
          {(ids) => (
            <select
              {...ids}
              className="entry"
              value={filter.kind ?? ""}
              onChange={(e) => narrow({ kind: e.target.value })}
            >
              <option value="">all kinds</option>
              {shelf.data?.kinds.map((one) => (
                <option key={one.kind} value={one.kind}>
                  {one.title}
                </option>
              ))}
            </select>
          )}
        </Labelled>
        {farm.role !== "adviser" && (
          <button type="button" className="line-button" onClick={() => setNoting(true)}>
            Add a note
          </button>
        )}
        {farm.role !== "adviser" && (
          <button type="button" className="line-button" onClick={() => setImporting(true)}>
            Import soil tests
          </button>
        )}
      </div>
      {entries.isPending && <Waiting what="Opening the ledger" />}
      {entries.isError && <Trouble error={entries.error} />}
      {entries.data?.total === 0 && <Empty>Nothing has been inked that fits.</Empty>}
      {entries.data && entries.data.total > 0 && (
        <table className="w-full border-t-2 border-ink text-left">
          <thead className="text-sm text-pencil max-sm:sr-only">
            <tr>
              <th className="py-1.5 font-normal">Day</th>
              <th className="font-normal">About</th>
              <th className="font-normal">Kind</th>
              <th className="font-normal">What it says</th>
              <th className="font-normal">By</th>
              <th>
                <span className="sr-only">Open</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {entries.data.entries.map((entry) => (
              <Row key={entry.id} entry={entry} about={about(entry)} onOpen={() => setOpen(entry)} />
            ))}
          </tbody>
        </table>
      )}
      {entries.data && entries.data.total > entries.data.page_size && (
        <Pages
          page={filter.page ?? 0}
          pages={Math.ceil(entries.data.total / entries.data.page_size)}
          onTurn={(page) => narrow({ page })}
        />
      )}
      {open && (
        <TaskSheet open onOpenChange={(still) => !still && setOpen(null)} title={open.title}>
          <EntryBody farm={farm} entry={open} onDone={() => setOpen(null)} />
        </TaskSheet>
      )}
      {importing && <ImportSheet onDone={() => setImporting(false)} />}
      {noting && (
        <NoteSheet fields={fields.data ?? []} first={filter.field} onDone={() => setNoting(false)} />
      )}
    </div>
  );
}

function Row({ entry, about, onOpen }: { entry: Schemas["EntryView"]; about: string; onOpen: () => void }) {
  const struck = entry.struck_by !== null && entry.struck_by !== undefined;
  const cell = "py-1.5 pr-4 align-baseline max-sm:block max-sm:py-0";
  return (
    <tr className="border-t border-rule max-sm:block max-sm:py-2" data-entry={entry.id} data-struck={struck}>
      <td className={`${cell} whitespace-nowrap ${struck ? "struck" : ""}`}>
        {dayText(entry.occurred_on, 0)}
      </td>
      <td className={`${cell} whitespace-nowrap ${struck ? "struck" : "font-semibold"}`}>{about}</td>
      <td className={`${cell} text-sm whitespace-nowrap text-pencil`}>{entry.title}</td>
      <td className={`${cell} ${struck ? "struck" : ""}`}>{entry.says}</td>
      <td className={`${cell} text-sm whitespace-nowrap text-pencil`}>{entry.recorded_by_name}</td>
      <td className="py-1.5 text-right align-baseline max-sm:block max-sm:text-left">
        <button
          type="button"
          className="min-h-6 text-sm whitespace-nowrap underline"
          onClick={onOpen}
          aria-label={`Open: ${entry.says}`}
        >
          open
        </button>
      </td>
    </tr>
  );
}

function Pages({ page, pages, onTurn }: { page: number; pages: number; onTurn: (page: number) => void }) {
  return (
    <nav aria-label="Pages of the ledger" className="flex items-center gap-4 py-3 text-sm">
      <button type="button" className="line-button" disabled={page === 0} onClick={() => onTurn(page - 1)}>
        Newer
      </button>
      <span>
        page {page + 1} of {pages}
      </span>
      <button
        type="button"
        className="line-button"
        disabled={page + 1 >= pages}
        onClick={() => onTurn(page + 1)}
      >
        Older
      </button>
    </nav>
  );
}

interface NoteProps {
  fields: Schemas["FieldView"][];
  first: string | undefined;
  onDone: () => void;
}

function NoteSheet({ fields, first, onDone }: NoteProps) {
  const farm = useFarm();
  const [id] = useState(() => uuid());
  const [field, setField] = useState(first ?? "");
  const [text, setText] = useState("");
  const [on, setOn] = useState(farm.today);
  const record = useRecord(farm.id, () => {
    const about = field ? [{ kind: "field" as const, id: field }] : [];
    const body = { id, about, occurred_on: on, payload: { kind: "note" as const, text } };
    return answered(api.POST("/api/farms/{farm}/entries", { params: { path: { farm: farm.id } }, body }));
  });
  const refused = record.error instanceof Refused ? record.error : undefined;
  return (
    <TaskSheet open onOpenChange={(open) => !open && onDone()} title="A note">
      <form
        className="mt-3"
        onSubmit={(event) => {
          event.preventDefault();
          record.mutate(undefined, { onSuccess: onDone });
        }}
      >
        <Labelled label="Field">
          {(ids) => (
            <select
              {...ids}
              className="entry"
              value={field}
              onChange={(event) => setField(event.target.value)}
            >
              <option value="">the farm</option>
              {fields.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
          )}
        </Labelled>
        <DayField label="Day" value={on} onChange={setOn} error={refused?.at("/occurred_on")} />
        <Labelled label="What is worth remembering" error={refused?.at("/payload/text")}>
          {(ids) => (
            <textarea
              {...ids}
              rows={3}
              className="entry"
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
          )}
        </Labelled>
        {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
        <button type="submit" className="ink-button mt-2" disabled={record.isPending}>
          Ink it
        </button>
      </form>
    </TaskSheet>
  );
}
