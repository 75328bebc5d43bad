import { answered, api, Refused, type Schemas } from "../api/client";
import { useMachines, useProducts, useReckoning, useWorkedFields } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Figure } from "../kit/Figure";
import { useLive } from "../kit/live";
import { Labelled } from "../kit/Labelled";
import { optionsOf, Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { NotYet, Trouble } from "../kit/states";
import { Table } from "../kit/Table";
import { useFarm } from "../shell/farm";
import { plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { FieldPick } from "./FieldPick";

interface Props {
  field: string;
  onField: (field: string) => void;
}

const forms: Record<Schemas["TankForm"], string> = {
  conditioner: "water conditioner",
  "wettable-powder": "wettable powder",
  "dry-flowable": "dispersible granules",
  "liquid-flowable": "flowable liquid",
  emulsifiable: "emulsifiable concentrate",
  solution: "solution",
  surfactant: "oil or surfactant",
};

/** Tanks for a field: how far one reaches, and what goes into it. */
export function TankBench({ field, onField }: Props) {
  const farm = useFarm();
  const fields = useWorkedFields(farm.id);
  const machines = useMachines(farm.id);
  if (fields.data === undefined || machines.data === undefined)
    return <NotYet what="Loading tank mix" of={[fields, machines]} />;
  const sprayer = machines.data.machines.find(({ facts }) => facts.machine === "sprayer" && !facts.gone);
  return (
    <Worked
      key={field}
      field={field}
      onField={onField}
      area={fields.data.find((one) => one.id === field)?.sown_area ?? null}
      tank={sprayer?.facts.tank ?? null}
      sprayer={sprayer?.facts.name}
    />
  );
}

interface Product {
  name: string;
  rate: Quantity | null;
  form: Schemas["TankForm"];
}

interface Written {
  area: Quantity | null;
  tank: Quantity | null;
  output: Quantity | null;
  products: Product[];
}

interface WorkedProps extends Props {
  area: Quantity | null;
  tank: Quantity | null;
  sprayer: string | undefined;
}

function Worked({ field, onField, area, tank, sprayer }: WorkedProps) {
  const units = useUnits();
  const farm = useFarm();
  const labels = (useProducts(farm.id).data?.products ?? []).filter(
    ({ facts }) => facts.nature.is === "spray",
  );
  const { now, change } = useLive<Written>({
    area,
    tank,
    output: null,
    products: [{ name: "", rate: null, form: "solution" }],
  });
  const named = now.products.filter(({ name, rate }) => name.trim() !== "" && rate !== null);
  const ready = now.area !== null && now.tank !== null && now.output !== null;
  const request = {
    area: now.area as Schemas["Area"],
    tank: now.tank as Schemas["Volume"],
    output: now.output as Schemas["VolumePerArea"],
    products: named as unknown as Schemas["TankProduct"][],
  };
  const told = useReckoning(
    "tank.mix",
    [units.system, request],
    () => answered(api.POST("/api/reckon/tank.mix", { body: request })),
    ready,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  const put = (at: number, part: Partial<Product>) =>
    change((old) => ({
      products: old.products.map((one, index) => (index === at ? { ...one, ...part } : one)),
    }));
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[26rem_minmax(0,1fr)]">
      <form aria-label="Tank" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} hint="Fills in the sown area." />
        <div className="grid grid-cols-3 gap-x-4">
          <QuantityField
            label="Area to spray"
            bare={units.area}
            value={now.area}
            onChange={(area) => change({ area })}
            error={refused?.at("/area")}
          />
          <QuantityField
            label="Tank"
            bare={units.tank}
            value={now.tank}
            onChange={(tank) => change({ tank })}
            error={refused?.at("/tank")}
            hint={sprayer ? `Capacity of ${sprayer}.` : undefined}
          />
          <QuantityField
            label="Application rate"
            bare={units.poured}
            value={now.output}
            onChange={(output) => change({ output })}
            error={refused?.at("/output")}
            hint="From your calibration."
          />
        </div>
        <h2 className="pt-2">Products</h2>
        <p className="text-sm text-pencil">Enter the label rate per area. No rate is suggested here.</p>
        {now.products.map((product, at) => (
          <fieldset key={at} className="grid grid-cols-2 gap-x-3 sm:grid-cols-[1fr_7rem_9rem]">
            <legend className="sr-only">Product {at + 1}</legend>
            <Labelled label="Product">
              {(ids) => (
                <input
                  {...ids}
                  className="entry max-sm:min-h-11"
                  list="labels"
                  value={product.name}
                  onChange={(event) => put(at, { name: event.target.value })}
                />
              )}
            </Labelled>
            <QuantityField
              label="Rate"
              bare={units.poured}
              value={product.rate}
              onChange={(rate) => put(at, { rate })}
              error={refused?.at(`/products/${named.indexOf(product)}/rate`)}
            />
            <Pick<Schemas["TankForm"]>
              label="Formulation"
              value={product.form}
              options={optionsOf(forms)}
              onChange={(form) => form && put(at, { form })}
            />
          </fieldset>
        ))}
        <datalist id="labels">
          {labels.map(({ id, facts }) => (
            <option key={id} value={facts.name} />
          ))}
        </datalist>
        <button
          type="button"
          className="line-button"
          disabled={now.products.length >= 12}
          onClick={() =>
            change((old) => ({ products: [...old.products, { name: "", rate: null, form: "solution" }] }))
          }
        >
          Add product
        </button>
      </form>
      <div className="min-w-0 space-y-4" aria-live="polite">
        {!ready && <p className="text-pencil">Enter the area, tank size and application rate.</p>}
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p>
              <Figure
                quantity={answer.value.area_per_tank}
                explains={answer}
                label="Area per tank"
                className="text-4xl font-bold"
              />
              <span className="block text-sm text-pencil">per tank</span>
            </p>
            <p>
              {answer.value.full} full {answer.value.full === 1 ? "tank" : "tanks"}
              {answer.value.part_area && answer.value.part_volume && (
                <>
                  , then a part tank of <strong>{plain(answer.value.part_volume)}</strong> for{" "}
                  {plain(answer.value.part_area)}
                </>
              )}
              : {plain(answer.value.in_all)} total.
            </p>
            {answer.value.products.length > 0 && (
              <Table
                label="Add to a half-full, agitated tank in this order"
                rows={answer.value.products}
                rowKey={(line) => line.name}
                columns={[
                  { key: "name", head: "Product (in mixing order)", names: true, cell: (line) => line.name },
                  {
                    key: "tank",
                    head: "Full tank",
                    figures: true,
                    cell: (line) => (answer.value.full > 0 ? <Figure quantity={line.per_tank} /> : "–"),
                  },
                  {
                    key: "part",
                    head: "Part tank",
                    figures: true,
                    cell: (line) => (line.in_part ? <Figure quantity={line.in_part} /> : "–"),
                  },
                  {
                    key: "all",
                    head: "Total",
                    figures: true,
                    cell: (line) => <Figure quantity={line.in_all} />,
                  },
                ]}
              />
            )}
            <Cautions cautions={answer.cautions} />
          </>
        )}
      </div>
    </div>
  );
}
