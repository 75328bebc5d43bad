import { DOMParser } from "@xmldom/xmldom";
import { strToU8, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { boundariesIn, ofKml, ofZip } from "../src/field/files";

const parse = (text: string) => new DOMParser().parseFromString(text, "text/xml") as unknown as Document;

interface Read {
  features: { properties: { name: string }; geometry: { type: string; coordinates: number[][][] } }[];
}
const read = (text: string) => (JSON.parse(text) as Read).features;

const ring = "-76.5,42.5,310 -76.49,42.5,310 -76.49,42.51,310 -76.5,42.5,310";
const polygon = `<Polygon><outerBoundaryIs><LinearRing><coordinates>${ring}</coordinates></LinearRing></outerBoundaryIs></Polygon>`;
const kml = (...marks: string[]) =>
  `<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2"><Document>${marks.join("")}</Document></kml>`;
const mark = (name: string, inner: string) => `<Placemark><name>${name}</name>${inner}</Placemark>`;

describe("KML", () => {
  it("gives closed boundaries by their names, without heights", async () => {
    const [one] = read(
      await ofKml(
        kml(mark("Long", polygon), mark("gate", "<Point><coordinates>1,2</coordinates></Point>")),
        parse,
      ),
    );
    expect(one?.properties.name).toBe("Long");
    expect(one?.geometry.coordinates[0]?.[0]).toEqual([-76.5, 42.5]);
  });

  it("keeps the parts of one field together", async () => {
    const parts = read(
      await ofKml(kml(mark("Long", `<MultiGeometry>${polygon}${polygon}</MultiGeometry>`)), parse),
    );
    expect(parts.map((part) => part.properties.name)).toEqual(["Long"]);
    expect(parts[0]?.geometry).toMatchObject({ type: "MultiPolygon", coordinates: { length: 2 } });
  });

  it("says that lines are no boundary, nor nothing", async () => {
    const line = mark("ditch", "<LineString><coordinates>1,2 3,4</coordinates></LineString>");
    await expect(ofKml(kml(line), parse)).rejects.toThrow("no closed boundary");
    await expect(ofKml(kml(), parse)).rejects.toThrow("nothing that is drawn");
  });

  it("is read out of a KMZ", async () => {
    const text = await ofZip(zipSync({ "doc.kml": strToU8(kml(mark("Long", polygon))) }), parse);
    expect(read(text)[0]?.properties.name).toBe("Long");
  });
});

/** A polygon as a Shapefile writes it (ESRI Shapefile Technical Description, July 1998, pages 3 to 10). */
function shp(corners: [number, number][]): Uint8Array {
  const content = 44 + 4 + 16 * corners.length;
  const bytes = new DataView(new ArrayBuffer(100 + 8 + content));
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const box = (at: number) =>
    [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)].forEach((value, index) =>
      bytes.setFloat64(at + 8 * index, value, true),
    );
  bytes.setInt32(0, 9994);
  bytes.setInt32(24, bytes.byteLength / 2);
  bytes.setInt32(28, 1000, true);
  bytes.setInt32(32, 5, true);
  box(36);
  bytes.setInt32(100, 1);
  bytes.setInt32(104, content / 2);
  bytes.setInt32(108, 5, true);
  box(112);
  bytes.setInt32(144, 1, true);
  bytes.setInt32(148, corners.length, true);
  bytes.setInt32(152, 0, true);
  corners.forEach(([x, y], index) => {
    bytes.setFloat64(156 + 16 * index, x, true);
    bytes.setFloat64(164 + 16 * index, y, true);
  });
  return new Uint8Array(bytes.buffer);
}

const utm18 =
  'PROJCS["WGS_1984_UTM_Zone_18N",GEOGCS["GCS_WGS_1984",DATUM["D_WGS_1984",SPHEROID["WGS_1984",6378137.0,298.257223563]],' +
  'PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Transverse_Mercator"],PARAMETER["False_Easting",500000.0],' +
  'PARAMETER["False_Northing",0.0],PARAMETER["Central_Meridian",-75.0],PARAMETER["Scale_Factor",0.9996],' +
  'PARAMETER["Latitude_Of_Origin",0.0],UNIT["Meter",1.0]]';

describe("a Shapefile", () => {
  // On the central meridian the easting is 500,000 m; a degree of latitude is 111 km (Snyder 1987, page 61).
  const square = shp([
    [500_000, 4_700_000],
    [500_000, 4_700_300],
    [500_300, 4_700_300],
    [500_000, 4_700_000],
  ]);

  it("is laid where its projection says", async () => {
    const text = await ofZip(zipSync({ "a/fields.shp": square, "a/fields.prj": strToU8(utm18) }));
    const [x, y] = read(text)[0]?.geometry.coordinates[0]?.[0] ?? [];
    expect(x).toBeCloseTo(-75, 6);
    expect(y).toBeGreaterThan(42.4);
    expect(y).toBeLessThan(42.5);
  });

  it.each([
    [{ "fields.shp": square }, "no .prj"],
    [
      { "fields.shp": square, "fields.prj": strToU8('PROJCS["Somewhere",PROJECTION["Nobody_Knows"]]') },
      "projection",
    ],
    [{ "fields.shp": square.slice(0, 60), "fields.prj": strToU8(utm18) }, "can’t be read"],
    [{ "notes.txt": strToU8("hay") }, "no .shp"],
  ])("says what is missing", async (files, said) => {
    await expect(ofZip(zipSync(files))).rejects.toThrow(said);
  });

  it("is not one of its files, nor half a zip", async () => {
    await expect(
      boundariesIn(new File([square.slice().buffer as ArrayBuffer], "fields.shp")),
    ).rejects.toThrow("several files");
    const half = zipSync({ "fields.shp": square }).slice(0, 40);
    await expect(boundariesIn(new File([half.slice().buffer as ArrayBuffer], "fields.zip"))).rejects.toThrow(
      "not a complete zip",
    );
  });
});
