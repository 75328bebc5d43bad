import { createRoute, lazyRouteComponent } from "@tanstack/react-router";
import type { ComponentType } from "react";
import { benches, benchNames, type BenchSearch } from "./bench/benches";
import { farm } from "./shell/root";

type Raw = Record<string, unknown>;

interface Own<S extends object> {
  /** What the palette and the list of keys call it; a page without words is reached from others. */
  text?: string;
  /**
   * Where it is offered: a place of work stands in the navigation, work on a stand is reached from the season and from a field,
   * what belongs to the farm from the menu under its name.
   */
  at?: "work" | "stand" | "farm";
  /** One of the few in the bar at the foot of a phone. */
  atFoot?: true;
  /** The key that opens it, and what the list of keys says of it. */
  key?: string;
  load: () => Promise<ComponentType>;
  /** What its address may ask for. */
  search?: (raw: Raw) => S;
  /** More ways into it, for the palette. */
  ways?: readonly { text: string; search: S }[];
}

function page<const P extends string, S extends object = object>(path: P, own: Own<S>) {
  const { load, search, ...told } = own;
  const route = createRoute({
    getParentRoute: () => farm,
    path,
    validateSearch: search ?? (() => ({}) as S),
    component: lazyRouteComponent(async () => ({ default: await load() })),
  });
  return { path, ...told, route };
}

const text = (value: unknown) => (typeof value === "string" ? value : undefined);

export interface DrawSearch {
  field?: string | undefined;
}

export interface StartSearch {
  field?: string | undefined;
  crop?: string | undefined;
}

export interface LibrarySearch {
  crop?: string | undefined;
  /** The one it is shown beside. */
  beside?: string | undefined;
}

export interface ChooseSearch {
  field?: string | undefined;
  goal?: string | undefined;
  years?: number | undefined;
}

export interface WhenSearch {
  stand?: string | undefined;
  draft?: true | undefined;
}

export interface CuttingSearch {
  stand?: string | undefined;
}

export interface CountSearch {
  stand?: string | undefined;
}

/** Every page of a farm, in the order of the navigation: router, navigation, palette and keys read this list. */
export const pages = [
  page("today", {
    text: "Today",
    at: "work",
    atFoot: true,
    key: "d",
    load: () => import("./today/TodayPage").then((room) => room.TodayPage),
  }),
  page("season", {
    text: "Season",
    at: "work",
    atFoot: true,
    key: "s",
    load: () => import("./season/SeasonPage").then((room) => room.SeasonPage),
  }),
  page("when", {
    text: "Timing",
    at: "stand",
    key: "w",
    load: () => import("./when/WhenPage").then((room) => room.WhenPage),
    search: (raw): WhenSearch => ({
      stand: text(raw["stand"]),
      draft: raw["draft"] === true ? true : undefined,
    }),
  }),
  page("fields", {
    text: "Fields",
    at: "work",
    atFoot: true,
    key: "f",
    load: () => import("./field/FieldsPage").then((room) => room.FieldsPage),
  }),
  page("fields/draw", {
    load: () => import("./field/DrawPage").then((room) => room.DrawPage),
    search: (raw): DrawSearch => ({ field: text(raw["field"]) }),
  }),
  page("fields/split", {
    load: () => import("./field/SplitPage").then((room) => room.SplitPage),
    search: (raw): DrawSearch => ({ field: text(raw["field"]) }),
  }),
  page("fields/$field", { load: () => import("./field/FieldPage").then((room) => room.FieldPage) }),
  page("start", {
    text: "Start stand",
    at: "stand",
    key: "n",
    load: () => import("./start/StartPage").then((room) => room.StartPage),
    search: (raw): StartSearch => ({ field: text(raw["field"]), crop: text(raw["crop"]) }),
  }),
  page("start/beside", {
    ways: [{ text: "Compare methods", search: {} }],
    load: () => import("./start/BesidePage").then((room) => room.BesidePage),
  }),
  page("cutting", {
    text: "Cutting",
    at: "stand",
    key: "c",
    load: () => import("./cutting/CuttingPage").then((room) => room.CuttingPage),
    search: (raw): CuttingSearch => ({ stand: text(raw["stand"]) }),
  }),
  page("count", {
    load: () => import("./young/CountPage").then((room) => room.CountPage),
    search: (raw): CountSearch => ({ stand: text(raw["stand"]) }),
  }),
  page("stores", {
    text: "Stores",
    at: "work",
    key: "o",
    load: () => import("./stores/StoresPage").then((room) => room.StoresPage),
  }),
  page("library", {
    text: "Library",
    at: "work",
    key: "y",
    load: () => import("./library/LibraryPage").then((room) => room.LibraryPage),
    search: (raw): LibrarySearch => ({ crop: text(raw["crop"]), beside: text(raw["beside"]) }),
  }),
  page("library/choose", {
    ways: [{ text: "Choose a crop", search: {} }],
    load: () => import("./library/ChoosePage").then((room) => room.ChoosePage),
    search: (raw): ChooseSearch => ({
      field: text(raw["field"]),
      goal: text(raw["goal"]),
      years: typeof raw["years"] === "number" ? raw["years"] : undefined,
    }),
  }),
  page("bench", {
    text: "Bench",
    at: "work",
    key: "b",
    load: () => import("./bench/BenchPage").then((room) => room.BenchPage),
    search: (raw): BenchSearch => ({
      at: benches.find((bench) => bench === raw["at"]),
      field: text(raw["field"]),
    }),
    ways: benches.map((at) => ({
      text: `Bench: ${benchNames[at].toLowerCase()}`,
      search: { at } as BenchSearch,
    })),
  }),
  page("ledger", {
    text: "Ledger",
    at: "work",
    key: "l",
    load: () => import("./ledger/LedgerPage").then((room) => room.LedgerPage),
  }),
  page("set-up", {
    text: "Set-up",
    at: "farm",
    key: "t",
    load: () => import("./setup/SetUpPage").then((room) => room.SetUpPage),
  }),
  page("set-up/farm", { load: () => import("./setup/FarmPage").then((room) => room.FarmPage) }),
  page("set-up/you", {
    ways: [{ text: "My account: password and sign-ins", search: {} }],
    load: () => import("./setup/AccountPage").then((room) => room.AccountPage),
  }),
  page("set-up/data", {
    ways: [{ text: "Data: export and backups", search: {} }],
    load: () => import("./setup/DataPage").then((room) => room.DataPage),
  }),
  page("set-up/machines", {
    ways: [{ text: "Machines", search: {} }],
    load: () => import("./setup/MachinesPage").then((room) => room.MachinesPage),
  }),
  page("set-up/products", {
    ways: [{ text: "Products and prices", search: {} }],
    load: () => import("./setup/ProductsPage").then((room) => room.ProductsPage),
  }),
  page("set-up/people", { load: () => import("./setup/PeoplePage").then((room) => room.PeoplePage) }),
  page("set-up/weather", { load: () => import("./setup/StationPage").then((room) => room.StationPage) }),
] as const;
