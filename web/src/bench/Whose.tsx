import { Link } from "@tanstack/react-router";
import { useFarm } from "../shell/farm";

/** Whose products and prices are weighed, and where they are changed. */
export function Whose({
  own,
  without = [],
  none = false,
}: {
  own: boolean;
  without?: readonly string[];
  /** There is nothing to weigh. */
  none?: boolean;
}) {
  const farm = useFarm();
  const ordinary =
    farm.currency === "USD" ? "Typical products at made-up prices" : "Typical products, no prices";
  return (
    <p className="pb-1 text-sm text-pencil">
      {own ? "Your products at current prices" : none ? `No prices in ${farm.currency} yet` : ordinary}:{" "}
      <Link className="underline" to="/farms/$farm/set-up/products" params={{ farm: farm.id }}>
        {own ? "change them" : "add your own"}
      </Link>
      .{without.length > 0 && ` Not compared (no price): ${without.join(", ")}.`}
    </p>
  );
}
