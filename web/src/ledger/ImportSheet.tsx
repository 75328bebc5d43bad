import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useRecord } from "../api/queries";
import { useFarm } from "../shell/farm";
import { Labelled } from "../ui/Labelled";
import { TaskSheet } from "../ui/Sheet";
import { Trouble } from "../ui/states";
import { useUnits } from "../units/useUnits";
import { pMethods } from "../units/words";

/** Read a soil laboratory's CSV in: look first, then ink all of it or nothing. */
export function ImportSheet({ onDone }: { onDone: () => void }) {
  const farm = useFarm();
  const units = useUnits();
  const [id, setId] = useState(() => uuid());
  const [text, setText] = useState("");
  const [laboratory, setLaboratory] = useState("");
  const [method, setMethod] = useState<Schemas["PMethod"]>("bray-p1");
  const [day, setDay] = useState(farm.today);
  const [looked, setLooked] = useState<Schemas["ImportView"]>();
  const record = useRecord(farm.id, (dry_run: boolean) => {
    const mapping = { p_method: method, laboratory, depth_unit: units.layer, sampled_on: day };
    return answered(
      api.POST("/api/farms/{farm}/soil-tests", {
        params: { path: { farm: farm.id } },
        body: { id, text, mapping, dry_run },
      }),
    );
  });
  const refused = record.error instanceof Refused ? record.error : undefined;
  const change = (next: string) => {
    setText(next);
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
      about="A laboratory’s CSV: headings in the first line, one line a sample and layer. All of it is taken, or nothing."
    >
      <form
        className="mt-3 space-y-1"
        onSubmit={(event) => {
          event.preventDefault();
          run(imported === undefined || imported.errors_in_all > 0);
        }}
      >
        <Labelled label="File">
          {(ids) => (
            <input
              {...ids}
              type="file"
              accept=".csv,.txt,text/csv"
              className="entry text-sm"
              onChange={(event) => void event.target.files?.[0]?.text().then(change)}
            />
          )}
        </Labelled>
        <Labelled label="What it holds" error={refused?.at("/text")}>
          {(ids) => (
            <textarea
              {...ids}
              rows={6}
              className="entry font-mono text-sm"
              value={text}
              onChange={(event) => change(event.target.value)}
            />
          )}
        </Labelled>
        <div className="grid grid-cols-3 gap-x-4">
          <Labelled label="Laboratory">
            {(ids) => (
              <input
                {...ids}
                className="entry"
                value={laboratory}
                onChange={(event) => setLaboratory(event.target.value)}
              />
            )}
          </Labelled>
          <Labelled label="P extracted by">
            {(ids) => (
              <select
                {...ids}
                className="entry"
                value={method}
                onChange={(e) => setMethod(e.target.value as Schemas["PMethod"])}
              >
                {Object.entries(pMethods).map(([value, word]) => (
                  <option key={value} value={value}>
                    {word}
                  </option>
                ))}
              </select>
            )}
          </Labelled>
          <Labelled label="Sampled, if not in the file">
            {(ids) => (
              <input
                {...ids}
                type="date"
                className="entry"
                value={day}
                onChange={(event) => setDay(event.target.value)}
              />
            )}
          </Labelled>
        </div>
        {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
        {imported && imported.errors_in_all > 0 && (
          <div role="alert" className="border-l-3 border-stop pl-3 text-sm">
            <p className="font-semibold text-stop">
              ✕ Nothing was taken: {imported.errors_in_all}{" "}
              {imported.errors_in_all === 1 ? "thing is" : "things are"} wrong.
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
            {imported.rows.length} soil tests of {imported.rows.map((row) => row.field).join(", ")} can be
            taken.
          </p>
        )}
        <button type="submit" className="ink-button mt-2" disabled={record.isPending || text.trim() === ""}>
          {imported && imported.errors_in_all === 0 ? "Ink them" : "Look at it first"}
        </button>
      </form>
    </TaskSheet>
  );
}
