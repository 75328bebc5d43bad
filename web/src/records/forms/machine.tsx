import { useWatch } from "react-hook-form";
import { z } from "zod";
import { useMachines } from "../../api/queries";
import type { Schemas } from "../../api/client";
import { AmountField, PickOf, TextField, TickOf } from "../../kit/form";
import { plain } from "../../units/format";
import { amount, present, words, written } from "../amounts";
import { recordForm } from "../form";

const given = z.object({ id: z.string(), told: z.custom<Schemas["MachineView"]>().optional() });
type Usual = Schemas["UsualRun"];

/** A machine of the farm, as it is run. */
export default recordForm({
  given,
  values: z.object({
    name: words("Enter a name."),
    machine: words("Choose a use."),
    width: amount(),
    row_spacing: amount(),
    speed: amount(),
    efficiency: amount(),
    tank: amount(),
    filling: amount(),
    cost: amount(),
    note: words(),
    gone: z.boolean(),
  }),
  day: null,
  submit: "Save machine",
  root: "/payload",
  begin: ({ units, given: { told } }) => {
    const facts = told?.facts;
    return {
      name: facts?.name ?? "",
      machine: facts?.machine ?? "",
      width: written(facts?.width, units.course),
      row_spacing: written(facts?.row_spacing, units.spacing),
      speed: written(facts?.speed, units.speed),
      efficiency: written(facts?.efficiency, "%"),
      tank: written(facts?.tank, units.tank),
      filling: written(facts?.filling, "min"),
      cost: written(facts?.cost, "money/h"),
      note: facts?.note ?? "",
      gone: facts?.gone ?? false,
    };
  },
  about: (_, { with: given }) => [{ kind: "machine", id: given?.["id"] as string }],
  after: ({ told }) => told?.entry,
  payload: ({ name, machine, note, gone, ...amounts }) =>
    ({ kind: "machine", name, machine, note, gone, ...present(amounts) }) as Schemas["RecordedMachine"] & {
      kind: "machine";
    },
  Fields,
});

function Fields({ farm, given: { told } }: { farm: { id: string }; given: z.infer<typeof given> }) {
  const machines = useMachines(farm.id);
  const kind = useWatch({ name: "machine" }) as Schemas["MachineKind"] | "";
  const kinds: readonly Usual[] = machines.data?.usual ?? [];
  const usual = kinds.find((one) => one.machine === kind);
  const runs = usual?.speed != null;
  return (
    <>
      <div className="grid grid-cols-2 gap-x-5">
        <TextField name="name" label="Name" />
        <PickOf
          name="machine"
          label="Use"
          empty="choose"
          options={kinds.map((one) => ({ value: one.machine, text: one.words }))}
        />
      </div>
      {runs && (
        <div className="grid grid-cols-3 gap-x-5">
          <AmountField name="width" label="Working width" />
          <AmountField
            name="speed"
            label="Speed"
            {...(usual.speed ? { hint: `Usually ${plain(usual.speed)}` } : {})}
          />
          <AmountField
            name="efficiency"
            label="Field efficiency"
            {...(usual.efficiency ? { hint: `Usually ${plain(usual.efficiency)}` } : {})}
          />
          {kind === "drill" && <AmountField name="row_spacing" label="Row spacing" />}
          {kind === "sprayer" && <AmountField name="tank" label="Tank size" />}
          {kind === "sprayer" && <AmountField name="filling" label="Refill time" />}
          <AmountField name="cost" label="Cost per hour" />
        </div>
      )}
      <TextField name="note" label="Owner and availability" />
      {told && <TickOf name="gone">No longer available</TickOf>}
    </>
  );
}
