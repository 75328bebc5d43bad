import { v7 as uuid } from "uuid";
import { answered, api } from "../api/client";
import { useRecord } from "../api/queries";

/** Put a stand's sowing on another day: a decision, inked like any other; the last one counts. */
export function useMoveSowing(farm: string) {
  return useRecord(
    farm,
    async (move: {
      stand: string;
      field: string;
      on: string;
      today: string;
      timing?: string | undefined;
    }) => {
      const detail = await answered(
        api.GET("/api/farms/{farm}/stands/{stand}", { params: { path: { farm, stand: move.stand } } }),
      );
      const choices = { ...detail.choices, sow_on: move.on, ...(move.timing ? { timing: move.timing } : {}) };
      const body = {
        id: uuid(),
        field: move.field,
        stand: move.stand,
        occurred_on: move.today,
        payload: { kind: "choices" as const, choices },
      };
      return answered(api.POST("/api/farms/{farm}/entries", { params: { path: { farm } }, body }));
    },
  );
}
