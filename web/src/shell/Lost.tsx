import { Link } from "@tanstack/react-router";
import { Page } from "../kit/Page";
import { useFarm } from "./farm";

/** An address of a farm that leads nowhere: the frame stays, so that one can go on from here. */
export function LostOnFarm() {
  const farm = useFarm();
  return (
    <Page title="Page not found">
      <p className="pb-3 text-pencil">
        There is nothing at this address. It may have been mistyped, or the link is old.
      </p>
      <Link to="/farms/$farm/season" params={{ farm: farm.id }} className="line-button">
        Go to Season
      </Link>
    </Page>
  );
}
