import { Navigate, Outlet } from "@tanstack/react-router";
import { useMe } from "../api/queries";
import { NotYet } from "../kit/states";
import { ToldProvider } from "../kit/Told";
import { Tooltip } from "radix-ui";
import { homePage } from "./home";
import { pageAddress } from "./usePages";

/** What every page stands in. */
export function Root() {
  return (
    <Tooltip.Provider delayDuration={350}>
      <ToldProvider>
        <Outlet />
      </ToldProvider>
    </Tooltip.Provider>
  );
}

/** The door opens on the first farm. */
export function Door() {
  const me = useMe();
  if (me.data === undefined) return <NotYet what="Loading" of={[me]} />;
  const farm = me.data?.farms[0];
  return farm ? <Navigate to={pageAddress(farm.id, homePage())} /> : <Navigate to="/sign-in" />;
}

export function Lost() {
  return (
    <main className="px-5 py-3">
      <h1>Page not found</h1>
      <a href="/" className="underline">
        Go to your farm
      </a>
    </main>
  );
}
