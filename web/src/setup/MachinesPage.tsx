import { useState } from "react";
import { v7 as uuid } from "uuid";
import type { Schemas } from "../api/client";
import { useMachines } from "../api/queries";
import { Figure } from "../kit/Figure";
import { Page } from "../kit/Page";
import { Empty, NotYet } from "../kit/states";
import { Table } from "../kit/Table";
import type { Task } from "../outbox/waiting";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";

/** What works on the farm, own or hired, and what each does in an hour. */
export function MachinesPage() {
  const farm = useFarm();
  const machines = useMachines(farm.id);
  const [task, setTask] = useState<Task | null>(null);
  if (machines.data === undefined) return <NotYet what="Loading machines" of={[machines]} />;
  const manager = farm.role === "manager";
  const open = (told?: Schemas["MachineView"]) =>
    setTask({
      form: "machine",
      title: told ? told.facts.name : "Machine",
      where: "",
      about: "Applies from now on. Leave speed and efficiency blank to use typical values.",
      with: { id: told?.id ?? uuid(), told },
    });
  const { usual, usual_by } = machines.data;
  const word = (kind: Schemas["MachineKind"]) => usual.find((one) => one.machine === kind)?.words ?? kind;
  return (
    <Page
      title="Machines"
      tools={
        manager && (
          <button type="button" className="line-button" onClick={() => open()}>
            Add machine
          </button>
        )
      }
    >
      {machines.data.machines.length === 0 ? (
        <Empty>
          Add your drill, mower, rake, baler and sprayer, or a contractor’s. Width and speed give the work
          rate, and so how many suitable days a job takes.
        </Empty>
      ) : (
        <Table
          label="Machines"
          rows={machines.data.machines}
          rowKey={(one) => one.id}
          rowProps={(one) => ({ "data-machine": one.facts.name })}
          columns={[
            {
              key: "name",
              head: "Machine",
              names: true,
              cell: ({ facts }) => (
                <>
                  <strong>{facts.name}</strong>{" "}
                  <span className="text-pencil">
                    {word(facts.machine)}
                    {facts.gone && ", no longer available"}
                  </span>
                  {facts.note && <span className="block text-sm text-pencil">{facts.note}</span>}
                </>
              ),
            },
            {
              key: "width",
              head: "Width",
              figures: true,
              cell: ({ facts }) => (facts.width ? <Figure quantity={facts.width} /> : "–"),
            },
            {
              key: "capacity",
              head: "Work rate",
              figures: true,
              cell: ({ capacity, facts }) =>
                capacity ? (
                  <>
                    <Figure quantity={capacity} className="font-semibold" />
                    {!(facts.speed && facts.efficiency) && (
                      <span className="block text-sm text-pencil">typical</span>
                    )}
                  </>
                ) : (
                  "–"
                ),
            },
            {
              key: "cost",
              head: "Cost per hour",
              figures: true,
              cell: ({ facts }) => (facts.cost ? <Figure quantity={facts.cost} /> : "–"),
            },
            {
              key: "change",
              head: "",
              headLabel: "Edit",
              figures: true,
              cell: (one) =>
                manager && (
                  <button
                    type="button"
                    className="line-button"
                    aria-label={`Edit ${one.facts.name}`}
                    onClick={() => open(one)}
                  >
                    Edit
                  </button>
                ),
            },
          ]}
        />
      )}
      <p className="pt-3 text-sm text-pencil">
        Work rate = speed × width × field efficiency (ASABE EP496.3). Typical values: {usual_by}.
      </p>
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </Page>
  );
}
