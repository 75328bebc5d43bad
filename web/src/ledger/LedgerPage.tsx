import { useState } from "react";
import type { Schemas } from "../api/client";
import { useEntries, useFields, useLots, useShelf, type EntryFilter } from "../api/queries";
import { useFarm } from "../shell/farm";
import { grouped } from "../kit/grouped";
import { Page } from "../kit/Page";
import { Pick } from "../kit/Pick";
import { TaskSheet } from "../kit/Sheet";
import { Empty, NotYet } from "../kit/states";
import { Table, type Column } from "../kit/Table";
import { RecordSheet } from "../records/RecordSheet";
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
  const [page, setPage] = useState(0);
  const [open, setOpen] = useState<Schemas["EntryView"] | null>(null);
  const [noting, setNoting] = useState(false);
  const [importing, setImporting] = useState(false);
  const entries = useEntries(farm.id, filter);
  const about = (entry: Schemas["EntryView"]) =>
    fields.data?.find((field) => field.id === subjectOf(entry, "field"))?.name ??
    lots.data?.find((lot) => lot.id === subjectOf(entry, "lot"))?.label ??
    "";
  const narrow = (change: EntryFilter) => {
    const { field, kind } = { ...filter, ...change };
    setFilter({ ...(field ? { field } : {}), ...(kind ? { kind } : {}) });
    setPage(0);
  };
  const turn = (to: number) => {
    const { field, kind } = filter;
    const all = entries.data;
    if (all === undefined) return;
    const last = Math.ceil(all.total / all.page_size) - 1;
    // A page is found by the entry that it lies beside.
    const beside: EntryFilter =
      to <= 0
        ? {}
        : to >= last
          ? { oldest: true }
          : to > page
            ? { older_than: all.entries.at(-1)?.id }
            : { newer_than: all.entries[0]?.id };
    setFilter({ ...(field ? { field } : {}), ...(kind ? { kind } : {}), ...beside });
    setPage(to);
  };
  const columns: Column<Schemas["EntryView"]>[] = [
    {
      key: "day",
      head: "Date",
      className: "whitespace-nowrap",
      cell: (entry) => <span className={struckClass(entry)}>{dayText(entry.occurred_on, 0)}</span>,
    },
    {
      key: "about",
      head: "Subject",
      className: "whitespace-nowrap",
      cell: (entry) => <span className={isStruck(entry) ? "struck" : "font-semibold"}>{about(entry)}</span>,
    },
    {
      key: "kind",
      head: "Type",
      className: "text-sm whitespace-nowrap text-pencil",
      cell: (entry) => entry.title,
    },
    {
      key: "says",
      head: "Entry",
      className: "w-1/2",
      cell: (entry) => <span className={struckClass(entry)}>{entry.says}</span>,
    },
    {
      key: "by",
      head: "Recorded by",
      className: "text-sm whitespace-nowrap text-pencil",
      cell: (entry) => entry.recorded_by_name,
    },
    {
      key: "open",
      head: "",
      headLabel: "Open",
      figures: true,
      cell: (entry) => (
        <button
          type="button"
          className="min-h-6 text-sm whitespace-nowrap underline max-sm:min-h-11"
          onClick={() => setOpen(entry)}
          aria-label={`Open: ${entry.says}`}
        >
          open
        </button>
      ),
    },
  ];
  return (
    <Page
      title="Ledger"
      tools={
        <>
          <Pick
            label="Field"
            hideLabel
            className="w-44"
            value={filter.field ?? ""}
            onChange={(field) => narrow({ field })}
            empty="all fields"
            clears
            options={(fields.data ?? []).map((field) => ({ value: field.id, text: field.name }))}
          />
          <Pick
            label="Type"
            hideLabel
            className="w-44"
            value={filter.kind ?? ""}
            onChange={(kind) => narrow({ kind })}
            empty="all types"
            clears
            options={(shelf.data?.kinds ?? []).map((one) => ({ value: one.kind, text: one.title }))}
          />
          {farm.role !== "adviser" && (
            <>
              <button type="button" className="line-button" onClick={() => setNoting(true)}>
                Add note
              </button>
              <button type="button" className="line-button" onClick={() => setImporting(true)}>
                Import soil tests
              </button>
            </>
          )}
        </>
      }
    >
      {entries.data === undefined && <NotYet what="Loading ledger" of={[entries]} />}
      {entries.data?.total === 0 && <Empty>No entries match.</Empty>}
      {entries.data && entries.data.total > 0 && (
        <Table
          label="Entries"
          stacks
          rows={entries.data.entries}
          rowKey={(entry) => entry.id}
          rowProps={(entry) => ({ "data-entry": entry.id, "data-struck": String(isStruck(entry)) })}
          columns={columns}
        />
      )}
      {entries.data && entries.data.total > entries.data.page_size && (
        <Pages page={page} pages={Math.ceil(entries.data.total / entries.data.page_size)} onTurn={turn} />
      )}
      {entries.data && entries.data.head.position > 0 && (
        <p className="mt-6 text-sm text-pencil" data-head={entries.data.head.position}>
          The ledger holds {entries.data.head.position} entries. Seal:{" "}
          <span className="font-mono break-all">{grouped(entries.data.head.digest)}</span>. Copy the seal onto
          paper to prove later that no entry was altered.
        </p>
      )}
      {open && (
        <TaskSheet open onOpenChange={(still) => !still && setOpen(null)} title={open.title}>
          <EntryBody farm={farm} entry={open} onDone={() => setOpen(null)} />
        </TaskSheet>
      )}
      {importing && <ImportSheet onDone={() => setImporting(false)} />}
      {noting && (
        <RecordSheet
          task={{ form: "note", title: "Note", where: "", field: filter.field }}
          onDone={() => setNoting(false)}
        />
      )}
    </Page>
  );
}

function isStruck(entry: Schemas["EntryView"]): boolean {
  return entry.struck_by !== null && entry.struck_by !== undefined;
}

function struckClass(entry: Schemas["EntryView"]): string {
  return isStruck(entry) ? "struck" : "";
}

function Pages({ page, pages, onTurn }: { page: number; pages: number; onTurn: (page: number) => void }) {
  return (
    <nav aria-label="Ledger pages" className="flex items-center gap-4 py-3 text-sm">
      <button type="button" className="line-button" disabled={page === 0} onClick={() => onTurn(0)}>
        Newest
      </button>
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
      <button
        type="button"
        className="line-button"
        disabled={page + 1 >= pages}
        onClick={() => onTurn(pages - 1)}
      >
        Oldest
      </button>
    </nav>
  );
}
