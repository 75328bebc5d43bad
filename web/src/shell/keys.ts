import { pages } from "../pages";

/** What else than pages a single key does. */
export const RECORD_KEY = "r";
export const UNITS_KEY = "u";

/** The keys, as the list of them tells. */
export function shortcuts(): (readonly [string, string])[] {
  return [
    ["Ctrl K or ⌘ K", "Find a page, a field or a deed"],
    [RECORD_KEY, "Record something"],
    ...pages.flatMap((page) => (page.key && page.text ? [[page.key, page.text] as const] : [])),
    [UNITS_KEY, "Switch units"],
    ["← → on a sowing mark", "Move the day; with Shift, a week"],
    ["Esc", "Close what is open"],
    ["?", "This list"],
  ];
}
