import type { Schemas } from "../api/client";
import { Figure } from "../kit/Figure";
import { Tick } from "../kit/Tick";
import { plain } from "../units/format";

interface Props {
  crops: { id: string; name: string }[];
  lots: Schemas["LotView"][];
  chosen: string[];
  onChange: (chosen: string[]) => void;
}

/** Lots to draw on, in the order they are picked: the first is used up before the second is opened. */
export function LotPicker({ crops, lots, chosen, onChange }: Props) {
  return (
    <div className="space-y-2">
      {crops.map((crop) => {
        const own = lots.filter((lot) => lot.crop === crop.id && lot.tag);
        return (
          <fieldset key={crop.id}>
            <legend className="text-sm font-semibold">{crop.name} lots</legend>
            {own.length === 0 && (
              <p className="text-sm text-pencil">None on the farm. Add one on the bench.</p>
            )}
            {own.map((lot) => (
              <Tick
                key={lot.id}
                checked={chosen.includes(lot.id)}
                onChange={(on) => onChange(on ? [...chosen, lot.id] : chosen.filter((id) => id !== lot.id))}
              >
                <span className="font-semibold">{lot.label}</span>{" "}
                <span className="text-pencil">
                  PLS <Figure quantity={lot.pls_counted} />
                  {lot.tag?.package &&
                    lot.tag.price &&
                    `, ${plain(lot.tag.price)} for ${plain(lot.tag.package)}`}
                  {lot.on_hand && `, ${plain(lot.on_hand)} on hand`}
                  {lot.retest && ", test is out of date"}
                </span>
              </Tick>
            ))}
          </fieldset>
        );
      })}
    </div>
  );
}
