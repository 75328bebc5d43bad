import { currency } from "./currency";
import { dateFormat, numberFormat } from "./intl";
import { dayOrder } from "./order";

/** The one place where quantities become text. Values come from the server in the person's units. */

export interface Quantity {
  value: number;
  unit: string;
}

/** A share as a number from 0 to 1. */
export function shareOf({ value, unit }: Quantity): number {
  return unit === "%" ? value / 100 : value;
}

/** How many decimals a unit is read with, by size; rounding is for the eye only. */
function decimals({ value, unit }: Quantity): number {
  const size = Math.abs(value);
  switch (unit) {
    case "in":
      return size < 3 ? 2 : 1;
    case "%":
      return size >= 99.95 || size === 0 ? 0 : 1;
    case "ha":
    case "ton/ac":
    case "t/ha":
      return 2;
    case "oz":
      return size < 10 && size !== 0 ? 2 : size < 100 ? 1 : 0;
    case "ac":
      return size < 1 && size !== 0 ? 2 : size < 100 ? 1 : 0;
    case "/ft":
    case "floz":
    case "g":
      return size < 100 ? 1 : 0;
    case "money":
      return size < 100 ? 2 : 0;
    case "money/ac":
    case "money/ha":
    case "money/lb":
    case "money/kg":
    case "money/lb nutrient":
    case "money/kg nutrient":
      return 2;
    case "pH":
    case "degF":
    case "degC":
    case "K":
    case "degR":
      return 1;
    case "degF.d":
    case "degC.d":
      return 0;
    case "mm/d":
      return 1;
    case "in/d":
    case "kPa":
    case "MJ/m2":
      return 2;
    // What is measured out by the label: a quarter of a gallon is no third of one.
    case "gal":
    case "gal/ac":
    case "floz/ac":
    case "floz/1000ft2":
    case "gal/1000ft2":
    case "lb/1000ft2":
    case "oz/1000ft2":
    case "dS/m":
    case "pt/ac":
    case "qt/ac":
    case "oz/ac":
    case "mL/ha":
    case "g/ha":
    case "L":
    case "L/ha":
      return size < 0.1 ? 3 : size < 10 ? 2 : size < 100 ? 1 : 0;
    case "ppm":
    case "mg/kg":
      return size < 10 ? 1 : 0;
    case "money/ton":
    case "money/t":
    case "money/h":
      return 0;
    case "lb/ac":
    case "kg/ha":
      return size < 100 && size !== 0 ? 1 : 0;
    case "/lb":
    case "/kg":
    case "/ac":
    case "/ha":
    case "/m2":
    case "mm":
      return 0;
    case "1":
      return Number.isInteger(value) ? 0 : size < 10 ? 2 : 0;
    default:
      return size < 100 ? 1 : 0;
  }
}

const labels: Record<string, string> = {
  "/ft2": "/ft²",
  floz: "fl oz",
  "floz/ac": "fl oz/ac",
  "floz/1000ft2": "fl oz/1,000 ft²",
  "gal/1000ft2": "gal/1,000 ft²",
  "lb/1000ft2": "lb/1,000 ft²",
  "oz/1000ft2": "oz/1,000 ft²",
  "/m2": "/m²",
  m2: "m²",
  ft2: "ft²",
  degF: "°F",
  degC: "°C",
  "1": "",
  pH: "",
  "money/ac": "/ac",
  "money/ha": "/ha",
  "money/lb": "/lb",
  "money/kg": "/kg",
  "money/lb nutrient": "/lb",
  "money/kg nutrient": "/kg",
  money: "",
  "money/ton": "/ton",
  "money/t": "/t",
  "money/h": "/h",
  "meq/100g": "meq/100 g",
  K: "°C",
  degR: "°F",
  "degF.d": "°F·d",
  "degC.d": "°C·d",
  "mm/d": "mm/day",
  "in/d": "in/day",
  "MJ/m2": "MJ/m²",
};

export interface Shown {
  number: string;
  unit: string;
}

/** Number and unit as read: "1,234.5" and "lb/ac"; money carries its sign in the number. */
export function shown(quantity: Quantity): Shown {
  const digits = decimals(quantity);
  const money = quantity.unit.startsWith("money");
  const sign = { style: "currency", currency: currency() } as const;
  const text = numberFormat("en-US", {
    minimumFractionDigits: quantity.unit === "%" || quantity.unit === "in" ? 0 : digits,
    maximumFractionDigits: digits,
    // Nothing is nothing: not "−0.0" when a little less is rounded.
    signDisplay: "negative",
    ...(money ? sign : {}),
  }).format(quantity.value);
  return { number: text.replace("-", "−"), unit: labels[quantity.unit] ?? quantity.unit };
}

/** Whether a unit follows its number without a space. */
export const joined = (unit: string) => unit === "%" || unit.startsWith("/");

/** As plain text: "15.0 lb/ac", "5.05 /ft²", "46.1%". */
export function plain(quantity: Quantity): string {
  const { number: aligned, unit } = shown(quantity);
  // Decimals line up in columns; in a sentence "50.0 lb" is "50 lb".
  const number = quantity.unit.startsWith("money") ? aligned : aligned.replace(/\.0+$/, "");
  if (unit === "") return number;
  return joined(unit) ? `${number}${unit}` : `${number} ${unit}`;
}

/** Two amounts of one unit, as a range: "15–20 lb/ac". */
export const range = (low: Quantity, high: Quantity) =>
  low.unit === high.unit
    ? `${plain(low).replace(/[ %/].*$/, "")}–${plain(high)}`
    : `${plain(low)} to ${plain(high)}`;

/** What a person would type to get this amount again. */
export function typed(quantity: Quantity): string {
  const { unit } = quantity;
  // Nobody types the centimetres of a hill.
  const whole = (unit === "ft" || unit === "m") && Math.abs(quantity.value) >= 100;
  const value = whole ? Math.round(quantity.value) : Number(quantity.value.toPrecision(6));
  return unit === "money" ? String(value) : `${value} ${labels[unit] ?? unit}`;
}

/** A date of the server, or one being typed, as a day in UTC; a year of many digits is a year too. */
export function day(text: string): Date {
  const long = /^(\d{5,6})(-.*)$/.exec(text);
  return new Date(`${long ? `+${long[1]?.padStart(6, "0")}${long[2]}` : text}T00:00:00Z`);
}

export function isoDay(date: Date): string {
  return date.toISOString().slice(0, 10);
}

/** "14 May", or "May 14" for who reads US units; with the year when it is not the one given. */
export function dayText(text: string, year?: number): string {
  const date = day(text);
  // What is no date yet is shown as it stands.
  if (Number.isNaN(date.getTime())) return text;
  const options: Intl.DateTimeFormatOptions = { day: "numeric", month: "short" };
  if (year !== undefined && date.getUTCFullYear() !== year) options.year = "numeric";
  return dateFormat(dayOrder(), options).format(date);
}

/** "Thu". */
export const weekdayOf = (text: string) => dateFormat("en-GB", { weekday: "short" }).format(day(text));

export function yearOf(text: string): number {
  return day(text).getUTCFullYear();
}

/** "just now", "5 minutes ago", "3 hours ago", "2 days ago". */
export function agoText(milliseconds: number): string {
  const minutes = Math.round(milliseconds / 60_000);
  if (minutes < 1) return "just now";
  const said = (count: number, word: string) => `${count} ${word}${count === 1 ? "" : "s"} ago`;
  if (minutes < 60) return said(minutes, "minute");
  const hours = Math.round(minutes / 60);
  return hours < 36 ? said(hours, "hour") : said(Math.round(hours / 24), "day");
}

/** A place to a hundredth of a degree: a kilometre. */
export function placeText({ latitude, longitude }: { latitude: number; longitude: number }): string {
  const [north, east] = [Math.abs(latitude).toFixed(2), Math.abs(longitude).toFixed(2)];
  return `${north}° ${latitude < 0 ? "south" : "north"}, ${east}° ${longitude < 0 ? "west" : "east"}`;
}

/** "January" of 1. */
export const monthText = (month: number) =>
  dateFormat("en", { month: "long" }).format(Date.UTC(2000, month - 1, 1));
