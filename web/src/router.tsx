import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  Navigate,
  Outlet,
} from "@tanstack/react-router";
import { useMe } from "./api/queries";
import { SeasonPage } from "./season/SeasonPage";
import { FarmShell } from "./shell/FarmShell";
import { benches, type BenchSearch } from "./bench/benches";
import type { StartSearch } from "./start/StartPage";
import type { WhenSearch } from "./when/WhenPage";
import { Trouble, Waiting } from "./ui/states";

const root = createRootRoute({
  component: Outlet,
  notFoundComponent: () => (
    <main className="p-6">
      <h1>There is no such page here.</h1>
      <a href="/" className="underline">
        Back to the season
      </a>
    </main>
  ),
});

/** The door opens on the first farm's season. */
function Door() {
  const me = useMe();
  if (me.isPending) return <Waiting what="Opening" />;
  if (me.isError) return <Trouble error={me.error} />;
  const farm = me.data?.farms[0];
  return farm ? <Navigate to="/farms/$farm/season" params={{ farm: farm.id }} /> : <Navigate to="/sign-in" />;
}

const door = createRoute({ getParentRoute: () => root, path: "/", component: Door });
const signIn = createRoute({
  getParentRoute: () => root,
  path: "/sign-in",
  component: lazyRouteComponent(() => import("./sign-in/SignInPage"), "SignInPage"),
});
const farm = createRoute({ getParentRoute: () => root, path: "/farms/$farm", component: FarmShell });
const season = createRoute({ getParentRoute: () => farm, path: "season", component: SeasonPage });
const fields = createRoute({
  getParentRoute: () => farm,
  path: "fields",
  component: lazyRouteComponent(() => import("./field/FieldsPage"), "FieldsPage"),
});
const field = createRoute({
  getParentRoute: () => farm,
  path: "fields/$field",
  component: lazyRouteComponent(() => import("./field/FieldPage"), "FieldPage"),
});
const text = (value: unknown) => (typeof value === "string" ? value : undefined);
const start = createRoute({
  getParentRoute: () => farm,
  path: "start",
  validateSearch: (search: Record<string, unknown>): StartSearch => ({
    field: text(search.field),
    crop: text(search.crop),
  }),
  component: lazyRouteComponent(() => import("./start/StartPage"), "StartPage"),
});
const bench = createRoute({
  getParentRoute: () => farm,
  path: "bench",
  validateSearch: (search: Record<string, unknown>): BenchSearch => ({
    at: benches.find((bench) => bench === search.at),
    field: text(search.field),
  }),
  component: lazyRouteComponent(() => import("./bench/BenchPage"), "BenchPage"),
});
const when = createRoute({
  getParentRoute: () => farm,
  path: "when",
  validateSearch: (search: Record<string, unknown>): WhenSearch => ({
    stand: text(search.stand),
    draft: search.draft === true ? true : undefined,
  }),
  component: lazyRouteComponent(() => import("./when/WhenPage"), "WhenPage"),
});
const setUp = createRoute({
  getParentRoute: () => farm,
  path: "set-up",
  component: lazyRouteComponent(() => import("./setup/StationPage"), "StationPage"),
});
const ledger = createRoute({
  getParentRoute: () => farm,
  path: "ledger",
  component: lazyRouteComponent(() => import("./ledger/LedgerPage"), "LedgerPage"),
});

export const router = createRouter({
  routeTree: root.addChildren([
    door,
    signIn,
    farm.addChildren([season, when, fields, field, start, bench, ledger, setUp]),
  ]),
});

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}
