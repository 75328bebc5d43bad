import type { Schemas } from "../api/client";
import { Pick } from "../kit/Pick";
import { potashSplits } from "../units/words";

interface Props {
  value: Schemas["PotashSplit"] | null;
  onChange: (split: Schemas["PotashSplit"] | null) => void;
}

/** In how many dressings potash comes once the stand is established; empty leaves it to the crop. */
export function PotashPick({ value, onChange }: Props) {
  return (
    <Pick
      label="Potash on the established stand"
      value={value ?? ""}
      onChange={(split) => onChange(split || null)}
      options={Object.entries(potashSplits).map(([split, text]) => ({
        value: split as Schemas["PotashSplit"],
        text,
      }))}
      empty="Usual for the crop"
      clears
    />
  );
}
