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
        {field("row_spacing", "Between rows", units.spacing)}
        {field("in_row", "Within the row", units.spacing)}
        {field("survival", "Share that lives", "%")}
        {field("aim", "Established plants aimed at", units.plants)}
        {field("spare", "Spare to order", "%")}
        <p className="text-sm text-pencil">Left empty: the crop’s usual.</p>
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
              label="Stations"
              className="text-2xl font-bold"
            />{" "}
            stations,{" "}
            <Figure
              quantity={answer.value.established_per_area}
              explains={answer}
              label="Established"
              className="text-2xl font-bold"
            />{" "}
            of them to live.
          </p>
          {answer.value.in_row_for_aim && (
            <p className="pt-2">
              {answer.value.reaches_aim
                ? "The aim is reached; it would be"
                : "The aim is not reached; it would be"}{" "}
              at{" "}
              <Figure
                quantity={answer.value.in_row_for_aim}
                explains={answer}
                label="Spacing for the aim"
                className="font-semibold"
              />{" "}
              within the row.
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
