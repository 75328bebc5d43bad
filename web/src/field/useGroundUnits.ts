import { useMe } from "../api/queries";
import { plain } from "../units/format";

/** How lengths and areas of a drawing are told while it is drawn: in units whose size the server tells. */
export function useGroundUnits() {
  const { length, area } = useMe().data?.drawing ?? {
    length: { symbol: "m", metres: 1 },
    area: { symbol: "m2", metres: 1 },
  };
  return {
    unit: length,
    length: (metres: number) => `${Math.round(metres / length.metres).toLocaleString("en")} ${length.symbol}`,
    area: (metres: number) => plain({ value: metres / area.metres, unit: area.symbol }),
  };
}
