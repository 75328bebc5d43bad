import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useRecord } from "../api/queries";
import { useFarm } from "../shell/farm";
import { DayField } from "../kit/Day";
import { ColumnNames, FileText } from "../kit/FileText";
import { Labelled } from "../kit/Labelled";
import { useLive } from "../kit/live";
import { optionsOf, Pick } from "../kit/Pick";
import { TaskSheet } from "../kit/Sheet";
import { Trouble } from "../kit/states";
import { dayTrouble } from "../units/day";
import { useUnits } from "../units/useUnits";
import { buffers, pMethods } from "../units/words";

const columns: Record<string, string> = {
  field: "field",
  sample: "sample",
  "sampled-on": "sampling date",
  "depth-from": "layer top",
  "depth-to": "layer bottom",
  ph: "pH in water",
  "buffer-ph": "buffer pH",
  acidity: "Mehlich acidity, meq/100 cm³",
  p: "P, ppm",
  k: "K, ppm",
  mg: "Mg, ppm",
  ca: "Ca, ppm",
  s: "S, ppm",
  b: "B, ppm",
  zn: "Zn, ppm",
  cec: "CEC, meq/100 g",
  "base-saturation": "base saturation, %",
  "organic-matter": "organic matter, %",
  salts: "soluble salts (ECe), dS/m",
};

interface Written {
  text: string;
  laboratory: string;
  method: Schemas["PMethod"];
  buffer: Schemas["Buffer"];
  day: string;
  /** Column and heading: headings have dots, and a dot parts the places of a form. */
  named: [string, string][];
}

/** Read a soil laboratory's CSV in: look first, then ink all of it or nothing. */
export function ImportSheet({ onDone }: { onDone: () => void }) {
  const farm = useFarm();
  const units = useUnits();
  const [id, setId] = useState(() => uuid());
  const { now, change } = useLive<Written>({
    text: "",
    laboratory: "",
    method: "bray-p1",
    buffer: "smp",
    day: farm.today,
    named: [],
  });
  const { text, laboratory, method, buffer, day } = now;
  const named = Object.fromEntries(now.named);
  const [looked, setLooked] = useState<Schemas["ImportView"]>();
  const record = useRecord(farm.id, (dry_run: boolean) => {
    const mapping = {
      columns: named,
      p_method: method,
      buffer,
      laboratory,
      depth_unit: units.layer,
      sampled_on: day,
    };
    return answered(
      api.POST("/api/farms/{farm}/soil-tests", {
        params: { path: { farm: farm.id } },
        body: { id, text, mapping, dry_run },
      }),
    );
  });
  const refused = record.error instanceof Refused ? record.error : undefined;
  // Read another way, what was looked at is no longer what would be inked.
  const again = (part: Partial<Written>) => {
    change(part);
    setLooked(undefined);
    setId(uuid());
  };
  const run = (dry: boolean) =>
    record.mutate(dry, {
      onSuccess: (view) => {
        setLooked(view);
        if (!dry && view.written > 0) onDone();
      },
    });
  const imported = looked?.imported;
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title="Import soil tests"
      about="Lab CSV file: headings in the first line, then one line per sample and layer. The whole file is imported, or none of it."
    >
      <form
        className="mt-3 space-y-1"
        onSubmit={(event) => {
          event.preventDefault();
          run(imported === undefined || imported.errors_in_all > 0);
        }}
      >
        <FileText
          text={text}
          rows={6}
          error={refused?.at("/text")}
          onText={(read) => again({ text: read })}
        />
        <div className="grid grid-cols-2 items-end gap-x-4">
          <Labelled label="Laboratory">
            {(ids) => (
              <input
                {...ids}
                className="entry"
                value={laboratory}
                onChange={(event) => again({ laboratory: event.target.value })}
              />
            )}
          </Labelled>
          <Pick
            label="P test method"
            value={method}
            onChange={(method) => method && again({ method })}
            options={optionsOf(pMethods)}
          />
          <Pick
            label="Buffer method"
            value={buffer}
            onChange={(buffer) => buffer && again({ buffer })}
            options={optionsOf(buffers)}
          />
          <DayField
            label="Sampling date, if not in the file"
            value={day}
            onChange={(day) => again({ day })}
          />
        </div>
        <ColumnNames
          columns={columns}
          text={text}
          named={named}
          onNamed={(chosen) => again({ named: Object.entries(chosen) })}
        />
        {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
        {imported && imported.errors_in_all > 0 && (
          <div role="alert" className="border-l-3 border-stop pl-3 text-sm">
            <p className="font-semibold text-stop">
              ✕ Not imported: {imported.errors_in_all} {imported.errors_in_all === 1 ? "problem" : "problems"}{" "}
              to fix.
            </p>
            <ul>
              {imported.errors.slice(0, 12).map((error, index) => (
                <li key={index}>
                  {error.line > 0 && <strong>Line {error.line}</strong>}
                  {error.column && ` (${error.column})`}: {error.detail}
                </li>
              ))}
            </ul>
          </div>
        )}
        {imported && imported.errors_in_all === 0 && (
          <p className="text-sm font-semibold">
            {imported.rows.length} soil tests from {imported.rows.map((row) => row.field).join(", ")} are
            ready to import.
          </p>
        )}
        <button
          type="submit"
          className="ink-button mt-2"
          disabled={record.isPending || text.trim() === "" || dayTrouble(day) !== undefined}
        >
          {imported && imported.errors_in_all === 0 ? "Import tests" : "Preview"}
        </button>
      </form>
    </TaskSheet>
  );
}
