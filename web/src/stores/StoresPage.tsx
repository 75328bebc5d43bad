import { useState } from "react";
import type { Schemas } from "../api/client";
import { useForage } from "../api/queries";
import { Figure } from "../kit/Figure";
import { Page } from "../kit/Page";
import { Cautions } from "../kit/Cautions";
import { Empty, NotYet } from "../kit/states";
import { Table } from "../kit/Table";
import type { Task } from "../outbox/waiting";
import { RecordAnything } from "../records/RecordAnything";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { dayText, plain } from "../units/format";

type Lot = Schemas["ForageView"];

/** Forage that was made: what is left of each lot, and what the laboratory says of it. */
export function StoresPage() {
  const farm = useFarm();
  const forage = useForage(farm.id);
  const [task, setTask] = useState<Task | null>(null);
  const [recording, setRecording] = useState(false);
  if (forage.data === undefined) return <NotYet what="Loading stores" of={[forage]} />;
  const { lots, dry_matter, unknown, older } = forage.data;
  const writes = farm.role !== "adviser";
  return (
    <Page
      title="Stores"
      about={
        lots.length > 0 && (
          <span data-all>
            <Figure quantity={dry_matter} className="font-semibold text-ink" /> of dry matter
            {unknown > 0 && `, and ${unknown} ${unknown === 1 ? "lot" : "lots"} without a weight or moisture`}
          </span>
        )
      }
      tools={
        writes && (
          <button type="button" className="line-button" onClick={() => setRecording(true)}>
            Record forage
          </button>
        )
      }
    >
      {lots.length === 0 ? (
        <Empty>
          Each lot of hay, silage or green forage, by field and cut: bales and weight, moisture, dry matter,
          where it is stored, and its laboratory report. Nutrients removed and the feed on hand are worked out
          from it.
        </Empty>
      ) : (
        <Table
          label="Forage lots"
          stacks
          rows={lots}
          rowKey={(lot) => lot.id}
          rowProps={(lot) => ({ "data-lot": lot.words })}
          columns={[
            { key: "lot", head: "Lot", names: true, cell: (lot) => <Named lot={lot} /> },
            { key: "left", head: "On hand", figures: true, cell: (lot) => <Left lot={lot} /> },
            { key: "dry", head: "Dry matter", figures: true, cell: (lot) => <Dry lot={lot} /> },
            { key: "report", head: "Analysis, in dry matter", cell: (lot) => <Report lot={lot} /> },
            {
              key: "deeds",
              head: "",
              headLabel: "Actions",
              figures: true,
              cell: (lot) => writes && <Actions lot={lot} open={setTask} />,
            },
          ]}
        />
      )}
      {older > 0 && <p className="pt-2 text-sm text-pencil">{older} older lots are in the ledger.</p>}
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
      {recording && <RecordAnything farm={farm} kind="forage-lot" onDone={() => setRecording(false)} />}
    </Page>
  );
}

const fieldsOf = (lot: Lot) => lot.fields.map(({ name }) => name).join(", ");

function Named({ lot }: { lot: Lot }) {
  const details = [
    `${lot.crop}, made ${dayText(lot.made_on, 0)}`,
    lot.part_of ? "split from another lot" : "",
    lot.made.rained_on ? "rained on" : "",
    lot.place ?? "",
  ].filter(Boolean);
  return (
    <>
      <strong>{fieldsOf(lot)}</strong> <span className="text-pencil">{lot.words}</span>
      <span className="block text-sm text-pencil">{details.join(" · ")}</span>
      <Cautions cautions={lot.cautions} />
    </>
  );
}

function Left({ lot }: { lot: Lot }) {
  const loads = lot.made.form === "loose" || lot.made.form === "chopped" || lot.made.form === "green";
  return (
    <>
      {lot.mass ? (
        <Figure quantity={lot.mass} />
      ) : (
        <span className="whitespace-nowrap text-pencil">not weighed</span>
      )}
      {lot.pieces != null && (
        <span className="text-sm text-pencil max-sm:pl-2 sm:block">
          {lot.pieces} {loads ? "loads" : "bales"}
        </span>
      )}
    </>
  );
}

function Dry({ lot }: { lot: Lot }) {
  const { moisture } = lot.made;
  return (
    <>
      {lot.dry_matter ? (
        <>
          <Figure quantity={lot.dry_matter} className="font-semibold" />
          <span className="text-pencil sm:hidden"> dry matter</span>
        </>
      ) : (
        <span className="max-sm:hidden">–</span>
      )}
      <span className="text-sm whitespace-nowrap text-pencil max-sm:pl-2 sm:block">
        {moisture ? `${plain(moisture)} moisture` : "moisture missing"}
      </span>
    </>
  );
}

function Report({ lot }: { lot: Lot }) {
  const report = lot.analyses[0];
  if (!report) return <span className="text-pencil max-sm:hidden">–</span>;
  const { relative_feed_value: index, nitrate_nitrogen_ppm: nitrate } = report;
  const figures = report.figures.map(({ name, share }) => `${name} ${plain(share)}`);
  if (index != null) figures.push(`RFV ${Math.round(index)}`);
  if (nitrate != null) figures.push(`nitrate nitrogen ${Math.round(nitrate).toLocaleString("en-US")} ppm`);
  return (
    <>
      {figures.join(", ")}
      <span className="block text-sm text-pencil">
        {dayText(report.on, 0)}
        {report.report.laboratory && `, ${report.report.laboratory}`}
        {lot.analyses.length > 1 && `, ${lot.analyses.length} reports`}
      </span>
    </>
  );
}

function Actions({ lot, open }: { lot: Lot; open: (task: Task) => void }) {
  const where = `${fieldsOf(lot)}, ${lot.words}`;
  const field = lot.fields[0]?.id;
  const begin = (form: string, title: string, given: Task["with"], about?: Partial<Task>) =>
    open({ form, title, where, with: given, ...about });
  const act = (text: string, run: () => void) => (
    <button
      type="button"
      className="line-button max-sm:min-h-11"
      aria-label={`${text}: ${where}, ${dayText(lot.made_on, 0)}`}
      onClick={run}
    >
      {text}
    </button>
  );
  return (
    <span className="flex justify-end gap-x-4 whitespace-nowrap max-sm:justify-start">
      {act("Add analysis", () => begin("forage-analysis", "Forage analysis", { lot: lot.id }))}
      {act("Split", () => begin("forage-split", "Split lot", { lot: lot.id }))}
      {!lot.part_of &&
        act("Correct", () =>
          begin(
            "forage-lot",
            "Correct lot",
            {
              lot: lot.id,
              entry: lot.entry,
              told: lot.made,
              fields: lot.fields.map(({ id }) => id),
              made_on: lot.made_on,
            },
            field ? { field } : {},
          ),
        )}
    </span>
  );
}
