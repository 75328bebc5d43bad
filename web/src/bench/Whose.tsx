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
    farm.currency === "USD" ? "Ordinary ones at invented prices" : "Ordinary ones, of no known price";
  return (
    <p className="pb-1 text-sm text-pencil">
      {own ? "Your own, at today’s prices" : none ? `Nothing has a price in ${farm.currency} yet` : ordinary}:{" "}
      <Link className="underline" to="/farms/$farm/set-up/products" params={{ farm: farm.id }}>
        {own ? "change them" : "put your own in their place"}
      </Link>
      .{without.length > 0 && ` Without a price, and so not weighed: ${without.join(", ")}.`}
    </p>
  );
}
