/** What the farm that is open pays in, by its code of ISO 4217: amounts of money come without one. */
let paid = "USD";

export const currency = () => paid;

/** Said by whatever opens a farm, before any of its figures is shown. */
export function payIn(code: string): void {
  paid = code;
}
