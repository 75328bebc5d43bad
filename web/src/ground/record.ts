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
      | "irrigation"
      | "stand-look";
  }
>;

/** What is recorded about: a field, and a stand of it where it is that stand's own work. */
export interface About {
  field: string;
  stand?: string | undefined;
  /** The record that was looked at and is to be replaced, where one counts at a time. */
  after?: string | undefined;
}

/** Ink something about a field. The id is made once, so that a second press is the same entry. */
export function useInk(farm: string, { field, stand, after }: About, onDone: () => void) {
  const [id] = useState(() => uuid());
  const record = useRecord(farm, ({ on, payload }: { on: string; payload: GroundPayload }) =>
    answered(
      api.POST("/api/farms/{farm}/entries", {
        params: { path: { farm } },
        body: {
          id,
          about: [
            { kind: "field" as const, id: field },
            ...(stand ? [{ kind: "stand" as const, id: stand }] : []),
          ],
          occurred_on: on,
          payload,
          ...(after ? { after } : {}),
        },
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
