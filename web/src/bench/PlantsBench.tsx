import { answered, api, Refused, type Schemas } from "../api/client";
import { useReckoning } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Figure } from "../kit/Figure";
import { useLive } from "../kit/live";
import { QuantityField } from "../kit/Quantity";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";

/** Plants by spacing and survival. What is left empty is the crop's usual. */
export function PlantsBench({ crop }: { crop: Schemas["Crop"] }) {
  const units = useUnits();
  const { now: given, change } = useLive<Record<string, Quantity | null>>({
    area: { value: 1, unit: units.area },
  });
  const request = {
    crop: crop.id,
    ...Object.fromEntries(Object.entries(given).filter(([, value]) => value !== null)),
  } as unknown as Schemas["PlantsRequest"];
  const count = useReckoning("plants.count", [units.system, request], () =>
    answered(api.POST("/api/reckon/plants.count", { body: request })),
  );
  const refused = count.error instanceof Refused ? count.error : undefined;
  const field = (key: string, label: string, bare: string) => (
    <QuantityField
      label={label}
      bare={bare}
      value={given[key] ?? null}
      onChange={(value) => change({ [key]: value })}
      error={refused?.at(`/${key}`)}
    />
  );
  const answer = refused ? undefined : count.data;
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[22rem_minmax(0,1fr)]">
      <form aria-label="Spacing" onSubmit={(event) => event.preventDefault()}>
        {field("area", "Area", units.area)}
        {field("row_spacing", "Row spacing", units.spacing)}
        {field("in_row", "In-row spacing", units.spacing)}
        {field("survival", "Survival", "%")}
        {field("aim", "Target established plants", units.plants)}
        {field("spare", "Extra to order", "%")}
        <p className="text-sm text-pencil">Leave blank to use the crop’s usual figures.</p>
      </form>
      {answer && (
        <div aria-live="polite">
          <p>
            <Figure
              quantity={{ value: answer.value.pieces, unit: "1" }}
              explains={answer}
              label="Pieces to order"
              className="text-5xl font-bold"
            />
            <span className="block pt-1 text-sm text-pencil">pieces to order</span>
          </p>
          <p className="pt-4">
            <Figure
              quantity={answer.value.stations_per_area}
              explains={answer}
              label="Planting stations"
              className="text-2xl font-bold"
            />{" "}
            stations,{" "}
            <Figure
              quantity={answer.value.established_per_area}
              explains={answer}
              label="Established"
              className="text-2xl font-bold"
            />{" "}
            expected to survive.
          </p>
          {answer.value.in_row_for_aim && (
            <p className="pt-2">
              {answer.value.reaches_aim ? "Target met; it would take" : "Target not met; it would take"} at{" "}
              <Figure
                quantity={answer.value.in_row_for_aim}
                explains={answer}
                label="Spacing for the target"
                className="font-semibold"
              />{" "}
              in-row spacing.
            </p>
          )}
          <ul className="space-y-1 pt-4 text-sm">
            {answer.value.remarks.map((remark) => (
              <li key={remark} className="border-l border-pencil pl-3">
                {remark}
              </li>
            ))}
          </ul>
          <Cautions cautions={answer.cautions} />
        </div>
      )}
    </div>
  );
}
