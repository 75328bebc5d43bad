import { pages } from "../pages";

/** What else than pages a single key does. */
export const RECORD_KEY = "r";
export const UNITS_KEY = "u";

/** The keys, as the list of them tells. */
export function shortcuts(): (readonly [string, string])[] {
  return [
    ["Ctrl K or ⌘ K", "Find a page, field or task"],
    [RECORD_KEY, "Record"],
    ...pages.flatMap((page) => (page.key && page.text ? [[page.key, page.text] as const] : [])),
    [UNITS_KEY, "Switch units"],
    ["← → on a sowing mark", "Move by a day (Shift: a week)"],
    ["Esc", "Close"],
    ["?", "Show shortcuts"],
  ];
}
