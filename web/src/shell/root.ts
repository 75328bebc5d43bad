import { createRootRoute, createRoute } from "@tanstack/react-router";
import { Door, Lost, Root } from "./Door";
import { FarmShell } from "./FarmShell";
import { LostOnFarm } from "./Lost";

export const root = createRootRoute({ component: Root, notFoundComponent: Lost });
export const door = createRoute({ getParentRoute: () => root, path: "/", component: Door });
export const farm = createRoute({
  getParentRoute: () => root,
  path: "/farms/$farm",
  component: FarmShell,
  notFoundComponent: LostOnFarm,
});
