import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../api/client";
import { useRecord } from "../api/queries";

export interface Move {
  stand: string;
  /** The decision that was looked at; whichever counts now when absent. */
  decided: string | undefined;
  on: string;
  today: string;
  timing?: string | undefined;
  /** Put back as it was: all that was decided then. */
  back?: Schemas["Choices"] | undefined;
}

/**
 * Put a stand's sowing on another day: a decision, inked like any other; the last one counts. Where
 * somebody decided anew since it was looked at, the server says so instead.
 */
export function useMoveSowing(farm: string) {
  return useRecord(farm, async (move: Move) => {
    const detail = await answered(
      api.GET("/api/farms/{farm}/stands/{stand}", { params: { path: { farm, stand: move.stand } } }),
    );
    const choices = move.back ?? {
      ...detail.choices,
      sow_on: move.on,
      ...(move.timing ? { timing: move.timing } : {}),
    };
    const body = {
      id: uuid(),
      about: [{ kind: "stand" as const, id: move.stand }],
      after: move.decided ?? detail.stand.decided,
      // A day far from usual is where the person dragged it.
      confirmed: true,
      occurred_on: move.today,
      payload: { kind: "choices" as const, choices },
    };
    await answered(api.POST("/api/farms/{farm}/entries", { params: { path: { farm } }, body }));
    return { before: detail.choices, decided: body.id };
  });
}
