import type { Schemas } from "../api/client";
import { Choice } from "../kit/Choice";
import { broadcastRates } from "../units/words";

interface Props {
  value: Schemas["BroadcastRate"];
  onChange: (by: Schemas["BroadcastRate"]) => void;
}

/** What a rate is raised by where the seed is broadcast. */
export function BroadcastChoice({ value, onChange }: Props) {
  return (
    <Choice
      label="Broadcast rate"
      value={value}
      onChange={onChange}
      options={Object.entries(broadcastRates).map(([by, text]) => ({
        value: by as Schemas["BroadcastRate"],
        text,
      }))}
    />
  );
}
