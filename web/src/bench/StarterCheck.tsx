import { answered, api, Refused, type Schemas } from "../api/client";
import { useMaterials, useReckoning } from "../api/queries";
import { Choice } from "../kit/Choice";
import { Figure } from "../kit/Figure";
import { useLive } from "../kit/live";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { Trouble } from "../kit/states";
import { useFarm } from "../shell/farm";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";

interface Written {
  product: string;
  rate: Quantity | null;
  place: Schemas["StarterPlace"];
  rows: Quantity | null;
}

/** Products whose nitrogen frees ammonia beside the seed: urea and diammonium phosphate by their analysis. */
const freesAmmonia = (product: Schemas["Product"]) => {
  const percent = (nutrient: string) => product.analysis[nutrient]?.value ?? 0;
  return percent("n") >= 40 || (percent("n") >= 17 && percent("p2o5") >= 40);
};

/** How much of a product may lie with the seed of a crop, or beside it. */
export function StarterCheck({ crop }: { crop: string }) {
  const farm = useFarm();
  const units = useUnits();
  const products = useMaterials(farm.id).data?.products ?? [];
  const { now, change } = useLive<Written>({ product: "", rate: null, place: "with-seed", rows: null });
  const product = products.find((one) => one.name === now.product);
  const request = {
    crop,
    analysis: product?.analysis ?? {},
    rate: now.rate as Schemas["MassPerArea"],
    place: now.place,
    frees_ammonia: product ? freesAmmonia(product) : false,
    ...(now.rows ? { row_spacing: now.rows as Schemas["Length"] } : {}),
  };
  const worked = useReckoning(
    "nutrients.starter",
    [units.system, request],
    () => answered(api.POST("/api/reckon/nutrients.starter", { body: request })),
    product !== undefined && now.rate !== null,
  );
  const refused = worked.error instanceof Refused ? worked.error : undefined;
  const answer = refused ? undefined : worked.data;
  return (
    <section aria-label="Starter fertilizer" className="border-t border-rule pt-4">
      <h2>Starter fertilizer at the seed</h2>
      <div className="grid gap-x-6 sm:grid-cols-2 xl:grid-cols-4">
        <Pick
          label="Product"
          value={now.product}
          empty="Choose"
          onChange={(product) => change({ product })}
          options={products.map((one) => ({ value: one.name, text: one.name }))}
        />
        <QuantityField
          label="Rate"
          bare={units.rate}
          value={now.rate}
          onChange={(rate) => change({ rate })}
          error={refused?.at("/rate")}
        />
        <QuantityField
          label="Row spacing"
          bare={units.spacing}
          value={now.rows}
          onChange={(rows) => change({ rows })}
          error={refused?.at("/row_spacing")}
          hint="The crop’s usual if blank."
        />
        <div>
          <p className="text-sm font-semibold" aria-hidden>
            Placement
          </p>
          <Choice
            label="Placement"
            value={now.place}
            onChange={(place) => change({ place })}
            options={[
              { value: "with-seed", text: "with the seed" },
              { value: "beside", text: "in a side band" },
            ]}
          />
        </div>
      </div>
      {refused && !refused.at("/rate") && !refused.at("/row_spacing") && <Trouble error={refused} />}
      {answer && (
        <p className={answer.value.safe ? "" : "font-semibold text-stop"}>
          {answer.value.safe ? "✓" : "✕"} {answer.value.says}{" "}
          {answer.value.most && (
            <>
              At most{" "}
              <Figure quantity={answer.value.most} explains={answer} label="Most of this product there" /> of{" "}
              {now.product}.
            </>
          )}
        </p>
      )}
    </section>
  );
}
