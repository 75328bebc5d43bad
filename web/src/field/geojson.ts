/** A boundary with the name of its field. */
export interface NamedShape {
  name: string;
  boundary: Record<string, unknown>;
}

type Json = Record<string, unknown>;

/**
 * The boundaries of a GeoJSON file with their names: one bears the name that was written, many the ones in their
 * properties. A sentence where it can't be so.
 */
export function named(text: string, written: string): NamedShape[] | string {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return "this is not GeoJSON; choose a file or paste its contents";
  }
  if (typeof value !== "object" || value === null || Array.isArray(value)) return "this is not GeoJSON";
  const object = value as Json;
  const features = object["type"] === "FeatureCollection" ? object["features"] : undefined;
  const parts: unknown[] = Array.isArray(features) ? features : [object];
  if (parts.length === 0) return "the file has no boundary";
  const shapes = parts.map((part) => ({ boundary: part as Json, name: nameIn(part as Json) }));
  const [only] = shapes;
  if (shapes.length === 1 && only) {
    const name = written || only.name;
    return name ? [{ ...only, name }] : "the file has no name; enter one";
  }
  const nameless = shapes.findIndex((shape) => !shape.name);
  if (nameless >= 0) return `boundary ${nameless + 1} of ${shapes.length} has no name in its properties`;
  const double = shapes.find((shape, at) => shapes.findIndex((other) => other.name === shape.name) !== at);
  if (double) return `two boundaries are called “${double.name}”`;
  return shapes as NamedShape[];
}

/** A name among the properties, whatever its key's letters. */
function nameIn(feature: Json): string {
  const properties = feature["properties"];
  if (typeof properties !== "object" || properties === null) return "";
  const found = Object.entries(properties).find(([key]) =>
    ["name", "field", "title"].includes(key.toLowerCase()),
  );
  const name = found?.[1];
  return typeof name === "string" || typeof name === "number" ? String(name).trim() : "";
}
