import { Link } from "@tanstack/react-router";
import { useFarm } from "../shell/farm";

/** Whose products and prices are weighed, and where they are changed. */
export function Whose({ own, without = [] }: { own: boolean; without?: readonly string[] }) {
  const farm = useFarm();
  return (
    <p className="pb-1 text-sm text-pencil">
      {own ? "Your own, at today’s prices" : "Ordinary ones at invented prices"}:{" "}
      <Link className="underline" to="/farms/$farm/set-up/products" params={{ farm: farm.id }}>
        {own ? "change them" : "put your own in their place"}
      </Link>
      .{without.length > 0 && ` Without a price, and so not weighed: ${without.join(", ")}.`}
    </p>
  );
}
