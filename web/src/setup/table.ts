/** The four things that a climate table tells of a month, in the order they are asked for. */
export const columns = ["lowest", "highest", "rain", "rainy_days"] as const;
export type Column = (typeof columns)[number];
export type MonthWords = Record<Column, string>;

export const blankMonths = (): MonthWords[] =>
  Array.from({ length: 12 }, () => ({ lowest: "", highest: "", rain: "", rainy_days: "" }));

/** Numbers as printed: a decimal comma, a true minus, and a figure in brackets are understood. */
const figures = (line: string): string[] =>
  line
    .replaceAll("−", "-")
    .replace(/(\d),(\d)/g, "$1.$2")
    .match(/-?\d+(?:\.\d+)?/g) ?? [];

/**
 * Twelve months from a pasted table: four lines of twelve numbers (lowest, highest, rain, rainy days, one after the
 * other), or twelve lines of four. A sentence where it is neither.
 */
export function pasted(text: string): MonthWords[] | string {
  const lines = text
    .split(/\r?\n/)
    .map(figures)
    .filter((line) => line.length >= 4);
  const months = blankMonths();
  const put = (month: number, column: number, figure: string | undefined) => {
    const [row, name] = [months[month], columns[column]];
    if (row && name) row[name] = figure ?? "";
  };
  if (lines.length === 4 && lines.every((line) => line.length >= 12)) {
    // A thirteenth number is the year's.
    lines.forEach((line, column) => line.slice(0, 12).forEach((figure, month) => put(month, column, figure)));
    return months;
  }
  const rows = lines.slice(0, 12);
  if (rows.length === 12 && rows.every((line) => line.length === 4)) {
    rows.forEach((line, month) => line.forEach((figure, column) => put(month, column, figure)));
    return months;
  }
  const found = lines.map((line) => line.length).join(", ");
  const has = `${lines.length} ${lines.length === 1 ? "row" : "rows"}${found && ` (${found})`}`;
  return `Paste four rows of twelve numbers, or twelve rows of four. This has ${has}.`;
}
