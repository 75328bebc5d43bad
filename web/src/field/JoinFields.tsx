import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../api/client";
import { useFields, useRecord } from "../api/queries";
import { DayField } from "../kit/Day";
import { TaskSheet } from "../kit/Sheet";
import { NotYet, Trouble } from "../kit/states";
import { Tick } from "../kit/Tick";
import { useFarm } from "../shell/farm";
import { isDay } from "../units/day";
import { plain } from "../units/format";

/** Make one field of several: this one goes on over all of them. */
export function JoinFields({ field, onDone }: { field: Schemas["FieldView"]; onDone: () => void }) {
  const farm = useFarm();
  const client = useQueryClient();
  const fields = useFields(farm.id);
  const [id] = useState(() => uuid());
  const [on, setOn] = useState(farm.today);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const join = useRecord(farm.id, () =>
    answered(
      api.POST("/api/farms/{farm}/fields/{field}/join", {
        params: { path: { farm: farm.id, field: field.id } },
        body: { id, on, with: [...chosen], after: field.shape ?? null },
      }),
    ),
  );
  const go = () =>
    join.mutate(undefined, {
      onSuccess: () => {
        void client.invalidateQueries({ queryKey: ["farm", farm.id] });
        onDone();
      },
    });
  const others = fields.data?.filter((one) => one.id !== field.id && !one.retired);
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title={`Join with ${field.name}`}
      about="This field continues over all of them; the others close but stay readable. Crop restrictions on any of them apply to the whole. Their soil tests and stands stay with them."
    >
      {others === undefined ? (
        <NotYet what="Loading fields" of={[fields]} />
      ) : (
        <fieldset>
          <legend className="font-semibold">Fields to join</legend>
          {others.map((one) => (
            <Tick
              key={one.id}
              checked={chosen.includes(one.id)}
              onChange={(wanted) =>
                setChosen(wanted ? [...chosen, one.id] : chosen.filter((kept) => kept !== one.id))
              }
            >
              {one.name}, {plain(one.area)}
            </Tick>
          ))}
        </fieldset>
      )}
      <DayField label="Effective from" value={on} onChange={setOn} />
      {join.error && <Trouble error={join.error} />}
      <button
        type="button"
        className="ink-button max-sm:min-h-12 max-sm:px-6"
        disabled={chosen.length === 0 || !isDay(on) || join.isPending}
        onClick={go}
      >
        Join fields
      </button>
    </TaskSheet>
  );
}
