import { useState } from "react";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, type Schemas } from "../../api/client";
import { useRecord } from "../../api/queries";
import { useSignal } from "../../api/signal";
import { useFormContext } from "react-hook-form";
import { AmountField } from "../../kit/form";
import { Trouble } from "../../kit/states";
import type { Farm } from "../../shell/farm";
import { amount, blank, readAmounts, written, type AmountWords } from "../amounts";
import { recordForm } from "../form";
import { useDone } from "../done";

/** A soil thermometer, read in the morning; or the probe that stands in the field. */
export default recordForm({
  given: z.unknown(),
  values: z.object({ depth: amount("Enter the depth."), temperature: amount("Enter the temperature.") }),
  day: "Reading date (morning)",
  begin: ({ units }) => ({
    depth: written(
      units.system === "metric" ? { value: 30, unit: "mm" } : { value: 1.2, unit: "in" },
      units.depth,
    ),
    temperature: blank(units.temperature),
  }),
  payload: ({ depth, temperature }) => ({
    kind: "soil-temperature",
    depth: depth as Schemas["Length"],
    temperature: temperature as Schemas["Temperature"],
  }),
  Fields: ({ farm, task }) => (
    <>
      <AmountField name="depth" label="Depth" />
      <AmountField
        name="temperature"
        label="Soil temperature"
        hint="Read at about 8 a.m. (9 a.m. daylight time)."
      />
      {farm.practice && task.field && <Probe farm={farm} field={task.field} />}
    </>
  ),
});

function Probe({ farm, field }: { farm: Farm; field: string }) {
  const form = useFormContext<{ depth: AmountWords }>();
  const answers = useSignal();
  const done = useDone();
  const [id] = useState(() => uuid());
  const probe = useRecord(farm.id, async () => {
    const { depth } = await readAmounts({ depth: form.getValues("depth") });
    return answered(
      api.POST("/api/farms/{farm}/fields/{field}/probe", {
        params: { path: { farm: farm.id, field } },
        body: { id, depth: depth as Schemas["Length"] },
      }),
    );
  });
  return (
    <>
      <p className="text-sm">
        <button
          type="button"
          className="line-button"
          disabled={probe.isPending || !answers}
          onClick={() => probe.mutate(undefined, { onSuccess: done })}
        >
          Use field probe
        </button>
      </p>
      {probe.isError && <Trouble error={probe.error} />}
    </>
  );
}
