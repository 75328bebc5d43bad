import { answered, api, Refused, type Schemas } from "../api/client";
import { useField, useMaterials, useReckoning } from "../api/queries";
import { useFarm } from "../shell/farm";
import { Cautions } from "../kit/Cautions";
import { Figure } from "../kit/Figure";
import { useLive } from "../kit/live";
import { QuantityField } from "../kit/Quantity";
import { NotYet, Trouble, Waiting } from "../kit/states";
import { useSlow } from "../kit/useSlow";
import { Table } from "../kit/Table";
import { Tick } from "../kit/Tick";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { nutrients } from "../units/words";
import { FieldPick } from "./FieldPick";
import { amountsOf, useNeeds } from "./needs";
import { Whose } from "./Whose";

interface Props {
  field: string;
  onField: (field: string) => void;
}

const asked = ["n", "p2o5", "k2o", "s", "mg", "b", "zn"] as const;

/** The cheapest products for a set of needs. */
export function BlendBench({ field, onField }: Props) {
  const farm = useFarm();
  const worked = useNeeds(field);
  const materials = useMaterials(farm.id);
  if (worked.waiting || materials.data === undefined)
    return <NotYet what="Working out blend" of={[materials]} />;
  if (materials.data.products.length === 0)
    return <Whose own={false} without={materials.data.without_price} none />;
  const first = field && worked.needs.data ? amountsOf(worked.needs.data.value, "build-maintain") : {};
  return (
    <Worked
      key={`${field} ${Object.keys(first).length > 0}`}
      field={field}
      onField={onField}
      first={first}
      products={materials.data.products}
      own={materials.data.own_products}
      without={materials.data.without_price}
    />
  );
}

type Line = Schemas["BlendLine"];

/** What takes its time; the server ends a search of bags by itself, with the best it has. */
const searching = (whole: boolean) =>
  whole ? "Trying whole bags; the best found within a few seconds is shown" : "Working out blend";

interface Written {
  needs: Record<string, Quantity | null>;
  cap: Quantity | null;
  /** Products left out. */
  left: string[];
  prices: [string, Quantity | null][];
  whole: boolean;
}

function Worked({
  field,
  onField,
  first,
  products,
  own,
  without,
}: Props & {
  first: Record<string, Schemas["MassPerArea"]>;
  products: Schemas["Product"][];
  own: boolean;
  without: string[];
}) {
  const farm = useFarm();
  const units = useUnits();
  const detail = useField(farm.id, field);
  const { now, change } = useLive<Written>({
    needs: Object.keys(first).length
      ? first
      : { p2o5: { value: 60, unit: units.rate }, k2o: { value: 200, unit: units.rate } },
    cap: null,
    left: [],
    prices: [],
    whole: false,
  });
  const { needs, cap, left, whole } = now;
  // By name in a list: names have dots, and a dot parts the places of a form.
  const prices = Object.fromEntries(now.prices) as Record<string, Quantity | null>;
  const on = products
    .filter((product) => !left.includes(product.name))
    .map((product) => ({
      ...product,
      price: (prices[product.name] ?? product.price) as Schemas["MoneyPerMass"],
    }));
  const request = {
    needs: Object.fromEntries(Object.entries(needs).filter(([, mass]) => mass)) as Record<
      string,
      Schemas["MassPerArea"]
    >,
    products: on,
    ceilings: (cap ? { n: cap } : {}) as Record<string, Schemas["MassPerArea"]>,
    whole_bags: whole,
    ...(detail.data ? { area: detail.data.field.sown_area } : {}),
  };
  const blend = useReckoning("blend.least_cost", [units.system, request], (signal) =>
    answered(api.POST("/api/reckon/blend.least_cost", { body: request, signal })),
  );
  const slow = useSlow(blend.isFetching);
  const refused = blend.error instanceof Refused ? blend.error : undefined;
  const answer = refused ? undefined : blend.data;
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[26rem_minmax(0,1fr)]">
      <form aria-label="Blend" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} />
        <h2>Nutrients needed</h2>
        <div className="grid grid-cols-3 gap-x-4">
          {asked.map((nutrient) => (
            <QuantityField
              key={nutrient}
              label={nutrients[nutrient] ?? nutrient}
              bare={units.rate}
              value={needs[nutrient] ?? null}
              onChange={(mass) => change((old) => ({ needs: { ...old.needs, [nutrient]: mass } }))}
            />
          ))}
          <QuantityField
            label="Maximum N"
            bare={units.rate}
            value={cap}
            onChange={(cap) => change({ cap })}
          />
        </div>
        {refused && <Trouble error={refused} />}
        <Tick checked={whole} disabled={!field} onChange={(whole) => change({ whole })}>
          Whole bags only {!field && <span className="text-pencil">(needs a field)</span>}
        </Tick>
        <h2 className="pt-2">Available products</h2>
        <Whose own={own} without={without} />
        <ul>
          {products.map((product) => (
            <li
              key={product.name}
              className="grid grid-cols-[minmax(0,1fr)_7.5rem] items-baseline gap-x-3 border-b border-rule"
            >
              <Tick
                checked={!left.includes(product.name)}
                onChange={(on) =>
                  change((old) => ({
                    left: on ? old.left.filter((name) => name !== product.name) : [...old.left, product.name],
                  }))
                }
              >
                {product.name}
              </Tick>
              <QuantityField
                label={`Price of ${product.name}`}
                hideLabel
                bare={units.tonPrice}
                value={product.name in prices ? (prices[product.name] ?? null) : product.price}
                onChange={(price) =>
                  change((old) => ({
                    prices: [...old.prices.filter(([name]) => name !== product.name), [product.name, price]],
                  }))
                }
              />
            </li>
          ))}
        </ul>
      </form>
      {!answer && slow && <Waiting what={searching(whole)} />}
      {answer && (
        <div className="min-w-0 space-y-5" aria-live="polite">
          {slow && <p className="text-sm text-pencil">{searching(whole)}… Showing the previous result.</p>}
          <div className="flex flex-wrap items-end gap-x-8 gap-y-2">
            <p>
              <Figure
                quantity={answer.value.cost}
                explains={answer}
                label="Cost of the blend"
                className="text-4xl font-bold"
              />
              <span className="block text-sm text-pencil">
                {answer.value.unproven ? (
                  <>
                    Cheapest found so far; another blend could save up to{" "}
                    <Figure quantity={answer.value.unproven} />
                  </>
                ) : (
                  "Cheapest blend that meets every need"
                )}
              </span>
            </p>
            {answer.value.total_cost && (
              <p>
                <Figure
                  quantity={answer.value.total_cost}
                  explains={answer}
                  label="Total cost for the field"
                  className="text-2xl font-bold"
                />
                <span className="block text-sm text-pencil">field total</span>
              </p>
            )}
            <p>
              <Figure
                quantity={answer.value.rate}
                explains={answer}
                label="Blend rate"
                className="text-2xl font-bold"
              />
              <span className="block text-sm text-pencil">
                blend analysis{" "}
                {["n", "p2o5", "k2o"]
                  .map((key) => Math.round(answer.value.analysis[key]?.value ?? 0))
                  .join("-")}
              </span>
            </p>
          </div>
          <Table
            label="Blend"
            rows={answer.value.lines}
            rowKey={(line) => line.name}
            rowProps={(line) => ({ "data-product": line.name })}
            columns={[
              {
                key: "product",
                head: "Product",
                names: true,
                cell: (line) => <span className="font-semibold">{line.name}</span>,
              },
              {
                key: "rate",
                head: "Rate",
                figures: true,
                cell: (line) => <Figure quantity={line.rate} className="font-semibold" />,
              },
              ...(field
                ? [
                    {
                      key: "total",
                      head: "Field total",
                      figures: true,
                      cell: (line: Line) =>
                        line.bags != null ? `${line.bags} bags` : <Figure quantity={line.total} />,
                    },
                  ]
                : []),
              { key: "cost", head: "Cost", figures: true, cell: (line) => <Figure quantity={line.cost} /> },
            ]}
          />
          <Table
            label="Nutrients supplied"
            rows={answer.value.met}
            rowKey={(met) => met.nutrient}
            rowProps={(met) => ({ "data-need": met.nutrient })}
            columns={[
              {
                key: "need",
                head: "Nutrient",
                names: true,
                cell: (met) => <span className="font-semibold">{nutrients[met.nutrient]}</span>,
              },
              {
                key: "needed",
                head: "Needed",
                figures: true,
                cell: (met) => <Figure quantity={met.needed} />,
              },
              {
                key: "brought",
                head: "Supplied",
                figures: true,
                cell: (met) => <Figure quantity={met.brought} />,
              },
              {
                key: "over",
                head: "Excess",
                figures: true,
                cell: (met) => (met.excess.value > 0.05 ? <Figure quantity={met.excess} /> : "–"),
              },
              {
                key: "last",
                head: "Cost of the last unit",
                figures: true,
                cell: (met) => <Figure quantity={met.shadow_price} />,
              },
            ]}
          />
          <Cautions cautions={answer.cautions} />
        </div>
      )}
    </div>
  );
}
