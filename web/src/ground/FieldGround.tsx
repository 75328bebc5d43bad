import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../api/client";
import { useGround, useRecord } from "../api/queries";
import { PhPathDrawing } from "../draw/PhPath";
import { SoilProfile } from "../draw/SoilProfile";
import type { Farm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { Troubles } from "../kit/Troubles";
import { Empty, NotYet, Trouble } from "../kit/states";
import { dayText } from "../units/format";
import { nutrients, seasonWord } from "../units/words";
import { RecordSheet } from "../records/RecordSheet";
import type { Task } from "../outbox/waiting";
import { FieldWeeds } from "./FieldWeeds";
import { siteOf, useFieldKinds } from "../records/tasks";
import { DropdownMenu } from "radix-ui";

/** The ground of a field: profile, pH path, nutrient account, and what can be recorded of it. */
export function FieldGround({
  farm,
  field,
  name,
  sowOn,
}: {
  farm: Farm;
  field: string;
  name: string;
  sowOn?: string | undefined;
}) {
  const ground = useGround(farm.id, field);
  const [task, setTask] = useState<Task | null>(null);
  const kinds = useFieldKinds();
  if (ground.data === undefined) return <NotYet what="Loading soil data" of={[ground]} />;
  const view = ground.data;
  const test = view.ground.tests.at(-1);
  const may = farm.role !== "adviser";
  const taken = unreported(view.ground);
  const report = (sample: Taken) =>
    setTask({
      form: "soil-test",
      title: "Soil test",
      where: name,
      field,
      with: { on: sample.on, sample: sample.what.bag ?? "" },
    });
  return (
    <section aria-labelledby="ground-title" className="border-t-2 border-ink pt-3">
      <div className="flex flex-wrap items-baseline gap-x-5">
        <h2 id="ground-title">Soil and site</h2>
        {may && (
          <DropdownMenu.Root>
            <DropdownMenu.Trigger className="line-button" aria-label="Add record: soil or site">
              Add record
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content
                align="start"
                sideOffset={4}
                className="z-50 max-h-(--radix-dropdown-menu-content-available-height) overflow-y-auto border-2 border-ink bg-paper py-1"
              >
                {kinds.map((one) => (
                  <DropdownMenu.Item
                    key={one.kind}
                    className="cursor-pointer px-4 py-1.5 outline-none data-[highlighted]:bg-sunk max-sm:py-3"
                    onSelect={() =>
                      setTask({
                        form: one.kind,
                        title: one.title,
                        where: name,
                        field,
                        with: one.kind === "site" ? siteOf(view) : undefined,
                      })
                    }
                  >
                    {one.title}
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        )}
        {may && <Samples farm={farm} field={field} view={view} />}
        {taken && (
          <p className="text-sm">
            Sampled {dayText(taken.on, 0)}; report pending.{" "}
            {may && (
              <button type="button" className="line-button" onClick={() => report(taken)}>
                Enter report
              </button>
            )}
          </p>
        )}
      </div>
      <Troubles troubles={view.troubles} />
      <FieldWeeds view={view} today={farm.today} />
      {!test && (
        <Empty>
          No soil test yet.{" "}
          {view.sampling &&
            `Take ${view.sampling.value.cores} cores for ${view.sampling.value.composites} samples`}
          {view.sampling
            ? " and send them in, or enter a report."
            : "Enter one, or import the lab file under Ledger."}
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
                  Expected pH (gray); tests and lime applied (dark). Peak{" "}
                  <Figure
                    quantity={{ value: view.path.value.peak.ph, unit: "pH" }}
                    explains={view.path}
                    label="Peak pH"
                  />
                </p>
              </>
            ) : (
              <p className="text-sm text-pencil">Start a stand to see its pH path.</p>
            )}
          </div>
          <Account view={view} />
        </div>
      )}
      {!test && view.account.lines.length > 0 && <Account view={view} />}
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </section>
  );
}

type Taken = Schemas["Ground"]["taken"][number];

/** The last sample taken, while no test is of its day or later. */
function unreported(ground: Schemas["Ground"]): Taken | undefined {
  const taken = ground.taken.at(-1);
  const test = ground.tests.at(-1);
  return taken && !(test && test.on >= taken.on) ? taken : undefined;
}

function Account({ view }: { view: Schemas["GroundView"] }) {
  const { account, not_accounted: cuts } = view;
  const year = seasonWord(view.year, view.year_from);
  const cell = "py-0.5 pl-4 text-right";
  const shown = account.lines.filter((line) =>
    [line.needed, line.applied, line.removed].some((mass) => Math.abs(mass.value) >= 0.5),
  );
  if (shown.length === 0) return null;
  return (
    <>
      <table aria-label={`Nutrient balance ${year}`}>
        <thead>
          <tr className="border-b border-ink text-sm text-pencil">
            <th className="text-left font-normal">{year}</th>
            <th className={`${cell} font-normal`}>needed</th>
            <th className={`${cell} font-normal`}>applied</th>
            <th className={`${cell} font-normal`}>removed</th>
            <th className={`${cell} font-normal`}>to apply</th>
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
      {cuts > 0 && (
        <p className="pt-1 text-sm text-pencil">
          {cuts === 1 ? "1 cut has" : `${cuts} cuts have`} no yield recorded: the nutrients removed are not
          counted.
        </p>
      )}
    </>
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
            Get report
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
          Send soil sample
        </button>
      )}
      {(send.error ?? fetch.error) && <Trouble error={send.error ?? fetch.error} />}
    </>
  );
}
