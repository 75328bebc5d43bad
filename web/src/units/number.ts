/**
 * A number as people write it: "1,200", "1 200", "1.234,5", "12,5", "−3". A comma before exactly three digits groups
 * thousands, unless nobody would write a first group so ("0,125"): the grammar of the server's amounts.
 *
 * Nothing for nothing; NaN for what is no number.
 */
export function plainNumber(text: string): number | null {
  const bare = text.replace(/[\s\u00a0\u202f]/g, "").replace("−", "-");
  if (bare === "") return null;
  const normal = withoutGroups(bare);
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(normal) ? Number(normal) : NaN;
}

const GROUPED = /^[+-]?[1-9]\d{0,2}(,\d{3})+(\.\d*)?$/;

function withoutGroups(text: string): string {
  const [comma, dot] = [text.lastIndexOf(","), text.lastIndexOf(".")];
  if (comma < 0) return text;
  if (dot >= 0 && comma > dot) return text.replaceAll(".", "").replace(",", ".");
  if (GROUPED.test(text)) return text.replaceAll(",", "");
  return text.replace(",", ".");
}

/** What was read, where a comma stands in what was typed: it can be either. */
export function readBack(text: string): string | undefined {
  const value = text.includes(",") ? plainNumber(text) : null;
  if (value === null || !Number.isFinite(value)) return undefined;
  return `Read as ${value.toLocaleString("en-US", { maximumFractionDigits: 10 })}`;
}
