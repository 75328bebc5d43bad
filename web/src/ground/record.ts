import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useRecord } from "../api/queries";

export type GroundPayload = Extract<
  Schemas["Payload"],
  {
    kind:
      | "site"
      | "soil-test"
      | "spray"
      | "past-crop"
      | "bioassay"
      | "dressing"
      | "cut"
      | "soil-temperature"
      | "rain-gauge"
      | "irrigation";
  }
>;

/** Ink something about a field. The id is made once, so that a second press is the same entry. */
export function useInk(farm: string, field: string, onDone: () => void) {
  const [id] = useState(() => uuid());
  const record = useRecord(farm, ({ on, payload }: { on: string; payload: GroundPayload }) =>
    answered(
      api.POST("/api/farms/{farm}/entries", {
        params: { path: { farm } },
        body: { id, field, occurred_on: on, payload },
      }),
    ),
  );
  const refused = record.error instanceof Refused ? record.error : undefined;
  return {
    ink: (on: string, payload: GroundPayload) => record.mutate({ on, payload }, { onSuccess: onDone }),
    busy: record.isPending,
    refused,
    at: (pointer: string) => refused?.at(pointer),
  };
}
