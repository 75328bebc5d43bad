import { useMe } from "../api/queries";
import { plain } from "../units/format";

interface Unit {
  name: string;
  metres: number;
}

/** How lengths and areas of a drawing are told while it is drawn; what is kept is measured by the server. */
export function useGroundUnits() {
  const metric = useMe().data?.units === "metric";
  const shortest: Unit = metric ? { name: "m", metres: 1 } : { name: "ft", metres: 0.3048 };
  const long: Unit = metric ? { name: "km", metres: 1000 } : { name: "mi", metres: 1609.344 };
  const square = metric ? { unit: "ha", metres: 10_000 } : { unit: "ac", metres: 4046.8564224 };
  return {
    shortest,
    long,
    length: (metres: number) => `${Math.round(metres / shortest.metres)} ${shortest.name}`,
    area: (metres: number) => plain({ value: metres / square.metres, unit: square.unit }),
  };
}
