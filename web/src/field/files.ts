import type { FeatureCollection, Geometry, Position } from "geojson";

/** A file that can't be taken, and why. */
export class NotBoundaries extends Error {}

/** Larger ones are no farm's. */
const MOST = 30_000_000;

/**
 * Boundaries of a file as GeoJSON text: GeoJSON as it is, KML and KMZ, and a Shapefile zipped with all that belongs to
 * it. Throws `NotBoundaries` with a sentence.
 */
export async function boundariesIn(file: File): Promise<string> {
  if (file.size > MOST) throw new NotBoundaries("the file is larger than any farm’s boundaries");
  const ending = file.name.toLowerCase().split(".").at(-1);
  if (ending === "kml") return ofKml(await file.text());
  if (ending === "zip" || ending === "kmz") return ofZip(new Uint8Array(await file.arrayBuffer()));
  if (["shp", "dbf", "shx", "prj"].includes(ending ?? ""))
    throw new NotBoundaries("a Shapefile is several files: zip them together, .shp, .dbf and .prj at least");
  return file.text();
}

type Parse = (text: string) => Document;

const inBrowser: Parse = (text) => new DOMParser().parseFromString(text, "text/xml");

/** Boundaries of a KML document (OGC 07-147r2); what is a line or a point in it is no boundary. */
export async function ofKml(text: string, parse: Parse = inBrowser): Promise<string> {
  const { kml } = await import("@tmcw/togeojson");
  let read: FeatureCollection<Geometry | null>;
  try {
    read = kml(parse(text));
  } catch {
    throw new NotBoundaries("this is not KML");
  }
  return closed(read);
}

/** Boundaries of a zip: a Shapefile with its parts, or a KML document. */
export async function ofZip(bytes: Uint8Array, parse: Parse = inBrowser): Promise<string> {
  const { unzipSync, strFromU8 } = await import("fflate");
  let inside: Record<string, Uint8Array>;
  try {
    inside = unzipSync(bytes, { filter: ({ originalSize }) => originalSize < MOST * 4 });
  } catch {
    throw new NotBoundaries("this is not a complete zip file");
  }
  const find = (ending: string) => Object.keys(inside).find((name) => name.toLowerCase().endsWith(ending));
  const part = (name: string | undefined) => (name === undefined ? undefined : inside[name]);
  const kml = part(find(".kml"));
  if (kml) return ofKml(strFromU8(kml), parse);
  const name = find(".shp");
  const shp = part(name);
  if (!name || !shp) throw new NotBoundaries("there is no .shp and no .kml in the zip");
  const stem = name.slice(0, -".shp".length).toLowerCase();
  const beside = (ending: string) => part(find(`${stem}${ending}`)) ?? part(find(ending));
  const prj = beside(".prj");
  if (!prj) throw new NotBoundaries("the zip has no .prj file, so its coordinates cannot be located");
  const { parseShp, parseDbf, combine } = await import("shpjs");
  try {
    const geometry = parseShp(shp, strFromU8(prj));
    const dbf = beside(".dbf");
    const rows = dbf ? parseDbf(dbf, undefined) : geometry.map(() => ({}));
    return closed(combine([geometry, rows]) as FeatureCollection);
  } catch (error) {
    if (error instanceof NotBoundaries) throw error;
    throw new NotBoundaries(
      "the Shapefile can’t be read, or its .prj names a projection that is not known here: save it in WGS 84",
    );
  }
}

const flat = (ring: Position[]): Position[] => ring.map((corner) => corner.slice(0, 2));

/** Polygons of a geometry. */
function polygonsOf(geometry: Geometry | null): Position[][][] {
  switch (geometry?.type) {
    case "Polygon":
      return [geometry.coordinates.map(flat)];
    case "MultiPolygon":
      return geometry.coordinates.map((part) => part.map(flat));
    case "GeometryCollection":
      return geometry.geometries.flatMap(polygonsOf);
    default:
      return [];
  }
}

/** What of a collection is closed, a feature each, of one part or several; or a sentence. */
function closed(read: FeatureCollection<Geometry | null>): string {
  const features = read.features.flatMap(({ properties, geometry }) => {
    const parts = polygonsOf(geometry);
    const [only] = parts;
    if (!only) return [];
    const shape =
      parts.length === 1
        ? { type: "Polygon", coordinates: only }
        : { type: "MultiPolygon", coordinates: parts };
    return [{ type: "Feature", properties: { name: nameOf(properties) }, geometry: shape, parts }];
  });
  if (features.length === 0)
    throw new NotBoundaries(
      read.features.length === 0
        ? "the file holds nothing that is drawn"
        : "the file holds lines or points, and no closed boundary",
    );
  const far = features.some(({ parts }) =>
    parts.flat(2).some(([x = NaN, y = NaN]) => !(Math.abs(x) <= 180 && Math.abs(y) <= 90)),
  );
  if (far) throw new NotBoundaries("coordinates are off the globe; the projection is missing or different");
  const bare = features.map(({ type, properties, geometry }) => ({ type, properties, geometry }));
  return JSON.stringify({ type: "FeatureCollection", features: bare });
}

/** A name among the properties, whatever its key's letters. */
function nameOf(properties: Record<string, unknown> | null): string {
  const found = Object.entries(properties ?? {}).find(([key]) =>
    ["name", "field", "field_name", "fieldname", "title", "label"].includes(key.toLowerCase()),
  );
  const name = found?.[1];
  return typeof name === "string" || typeof name === "number" ? String(name).trim() : "";
}
