/** In which order a day is told, by the locale that orders it so. */
let order: "en-US" | "en-GB" = "en-GB";

export const dayOrder = () => order;

/** Said by the frame as whose reader's units are known, before any day is shown. */
export function tellDaysFor(units: "us" | "metric"): void {
  order = units === "us" ? "en-US" : "en-GB";
}
