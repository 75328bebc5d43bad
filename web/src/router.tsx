import { createRoute, createRouter, lazyRouteComponent } from "@tanstack/react-router";
import { Broken } from "./kit/states";
import { pages } from "./pages";
import { door, farm, root } from "./shell/root";

const signIn = createRoute({
  getParentRoute: () => root,
  path: "/sign-in",
  component: lazyRouteComponent(() => import("./sign-in/SignInPage"), "SignInPage"),
});

const invitation = createRoute({
  getParentRoute: () => root,
  path: "/invitations/$key",
  component: lazyRouteComponent(() => import("./sign-in/InvitationPage"), "InvitationPage"),
});

const reset = createRoute({
  getParentRoute: () => root,
  path: "/resets/$key",
  component: lazyRouteComponent(() => import("./sign-in/ResetPage"), "ResetPage"),
});

type Routes<P extends readonly { route: unknown }[]> = { -readonly [K in keyof P]: P[K]["route"] };
const rooms = pages.map((page) => page.route) as unknown as Routes<typeof pages>;

export const router = createRouter({
  defaultErrorComponent: Broken,
  routeTree: root.addChildren([door, signIn, invitation, reset, farm.addChildren(rooms)]),
});

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}
