/** Narrower than this is a phone: the same width at which the styles change. */
const PHONE = "(max-width: 639.98px)";

/** The page that a farm opens on: the day's work on a phone, the whole year at a desk. */
export function homePage(): "today" | "season" {
  return window.matchMedia(PHONE).matches ? "today" : "season";
}
