import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../api/client";
import { useGround, useRecord } from "../api/queries";
import { PhPathDrawing } from "../draw/PhPath";
import { SoilProfile } from "../draw/SoilProfile";
import type { Farm } from "../shell/farm";
import { Figure } from "../ui/Figure";
import { Troubles } from "../ui/Troubles";
import { Empty, Trouble, Waiting } from "../ui/states";
import { dayText } from "../units/format";
import { nutrients } from "../units/words";
import { RecordSheet, recordedWords, type Recorded } from "./RecordSheet";

/** The ground of a field: profile, pH path, nutrient account, and what can be recorded of it. */
export function FieldGround({
  farm,
  field,
  sowOn,
}: {
  farm: Farm;
  field: string;
  sowOn?: string | undefined;
}) {
  const ground = useGround(farm.id, field);
  const [recording, setRecording] = useState<Recorded | null>(null);
  if (ground.isPending) return <Waiting what="Digging" />;
  if (ground.isError) return <Trouble error={ground.error} />;
  const view = ground.data;
  const test = view.ground.tests.at(-1);
  const may = farm.role !== "adviser";
  return (
    <section aria-labelledby="ground-title" className="border-t-2 border-ink pt-3">
      <div className="flex flex-wrap items-baseline gap-x-5">
        <h2 id="ground-title">Ground</h2>
        {may && (
          <label className="text-sm">
            <span className="sr-only">Record something about the ground</span>
            <select
              className="entry"
              aria-label="Record something about the ground"
              value=""
              onChange={(event) => setRecording(event.target.value as Recorded)}
            >
              <option value="">record…</option>
              {Object.entries(recordedWords).map(([what, words]) => (
                <option key={what} value={what}>
                  {words}
                </option>
              ))}
            </select>
          </label>
        )}
        {may && <Samples farm={farm} field={field} view={view} />}
      </div>
      <Troubles troubles={view.troubles} />
      {!test && (
        <Empty>
          No soil test stands here.{" "}
          {view.sampling &&
            `Take ${view.sampling.value.cores} cores for ${view.sampling.value.composites} samples`}
          {view.sampling
            ? ", send them off, or record a report you have."
            : "Record one, or import a laboratory’s file in the ledger."}
        </Empty>
      )}
      {test && (
        <div className="flex flex-wrap gap-x-8 gap-y-3 pt-2">
          <div>
            <SoilProfile layers={test.what.layers} least={5.5} />
            <p className="text-sm text-pencil">
              sampled {dayText(test.on, 0)}
              <br />
              {test.what.laboratory}
            </p>
          </div>
          <div className="min-w-64 flex-1">
            {view.path && view.path_from ? (
              <>
                <PhPathDrawing
                  path={view.path.value}
                  from={view.path_from}
                  today={farm.today}
                  floor={view.floor ?? null}
                  tests={view.ground.tests.flatMap((one) =>
                    one.what.layers[0] ? [{ on: one.on, ph: one.what.layers[0].ph }] : [],
                  )}
                  dressings={view.ground.dressings
                    .filter((one) => one.what.what === "lime")
                    .map((one) => ({ on: one.on, text: one.what.product }))}
                  sowOn={sowOn ?? null}
                />
                <p className="text-sm text-pencil">
                  pH expected, in pencil; tests and lime, in ink. Highest{" "}
                  <Figure
                    quantity={{ value: view.path.value.peak.ph, unit: "pH" }}
                    explains={view.path}
                    label="Highest pH"
                  />
                </p>
              </>
            ) : (
              <p className="text-sm text-pencil">A stand on this field would have its pH path here.</p>
            )}
          </div>
          <Account account={view.account} year={accountYear(view)} />
        </div>
      )}
      {!test && view.account.lines.length > 0 && <Account account={view.account} year={accountYear(view)} />}
      {recording && (
        <RecordSheet
          farm={farm}
          field={field}
          what={recording}
          site={{
            facts: view.ground.facts,
            history_known: view.ground.history_known,
            looked: view.looked,
          }}
          onDone={() => setRecording(null)}
        />
      )}
    </section>
  );
}

/** "2026", or "2025/26" where the year of an account begins in July. */
function accountYear({ year, year_from }: Schemas["GroundView"]): string {
  return year_from.endsWith("-01-01") ? String(year) : `${year}/${String(year + 1).slice(2)}`;
}

function Account({ account, year }: { account: Schemas["Account"]; year: string }) {
  const cell = "py-0.5 pl-4 text-right";
  const shown = account.lines.filter((line) =>
    [line.needed, line.applied, line.removed].some((mass) => Math.abs(mass.value) >= 0.5),
  );
  if (shown.length === 0) return null;
  return (
    <table aria-label={`Nutrient account of ${year}`}>
      <thead>
        <tr className="border-b border-ink text-sm text-pencil">
          <th className="text-left font-normal">{year}</th>
          <th className={`${cell} font-normal`}>needed</th>
          <th className={`${cell} font-normal`}>brought</th>
          <th className={`${cell} font-normal`}>carried off</th>
          <th className={`${cell} font-normal`}>to bring</th>
        </tr>
      </thead>
      <tbody>
        {shown.map((line) => (
          <tr key={line.nutrient} className="border-b border-rule" data-nutrient={line.nutrient}>
            <th scope="row" className="text-left font-semibold">
              {nutrients[line.nutrient]}
            </th>
            <td className={cell}>
              <Figure quantity={line.needed} />
            </td>
            <td className={cell}>
              <Figure quantity={line.applied} />
            </td>
            <td className={cell}>
              <Figure quantity={line.removed} />
            </td>
            <td className={`${cell} font-semibold`}>
              <Figure quantity={line.to_bring} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Send a sample to the laboratory; fetch its report once the farm's clock has reached the day. */
function Samples({ farm, field, view }: { farm: Farm; field: string; view: Schemas["GroundView"] }) {
  const [id, setId] = useState(() => uuid());
  const path = { farm: farm.id, field };
  const send = useRecord(farm.id, () =>
    answered(api.POST("/api/farms/{farm}/fields/{field}/samples", { params: { path }, body: { id } })),
  );
  const fetch = useRecord(farm.id, (sample: string) =>
    answered(
      api.POST("/api/farms/{farm}/fields/{field}/samples/{sample}/report", {
        params: { path: { ...path, sample } },
      }),
    ),
  );
  const waiting = view.samples.filter((sample) => !sample.collected);
  if (!farm.soil_laboratory) return null;
  return (
    <>
      {waiting.map((sample) =>
        sample.due_on <= farm.today ? (
          <button
            key={sample.id}
            type="button"
            className="line-button"
            disabled={fetch.isPending}
            onClick={() => fetch.mutate(sample.id)}
          >
            Fetch the report
          </button>
        ) : (
          <span key={sample.id} className="text-sm text-pencil">
            report due {dayText(sample.due_on, 0)}
          </span>
        ),
      )}
      {waiting.length === 0 && (
        <button
          type="button"
          className="line-button"
          disabled={send.isPending}
          onClick={() => send.mutate(undefined, { onSuccess: () => setId(uuid()) })}
        >
          Send a soil sample
        </button>
      )}
      {(send.error ?? fetch.error) && <Trouble error={send.error ?? fetch.error} />}
    </>
  );
}
