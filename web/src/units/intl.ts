/**
 * Formats of the browser, made once each: making one takes a hundred times as long as using it, and a plan tells
 * hundreds of days and amounts.
 */

const numbers = new Map<string, Intl.NumberFormat>();
const dates = new Map<string, Intl.DateTimeFormat>();

function once<F>(kept: Map<string, F>, locale: string, options: object, make: () => F): F {
  const key = locale + JSON.stringify(options);
  const known = kept.get(key);
  if (known) return known;
  const made = make();
  kept.set(key, made);
  return made;
}

export const numberFormat = (locale: string, options: Intl.NumberFormatOptions) =>
  once(numbers, locale, options, () => new Intl.NumberFormat(locale, options));

/** Of a day in UTC. */
export const dateFormat = (locale: string, options: Intl.DateTimeFormatOptions) =>
  once(dates, locale, options, () => new Intl.DateTimeFormat(locale, { timeZone: "UTC", ...options }));
