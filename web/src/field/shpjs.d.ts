/** What is used of the package, which brings no types of its own. */
declare module "shpjs" {
  import type { FeatureCollection, Geometry } from "geojson";

  export function parseShp(shp: Uint8Array, prj: string): Geometry[];
  export function parseDbf(dbf: Uint8Array, cpg: string | undefined): Record<string, unknown>[];
  export function combine(parts: [Geometry[], Record<string, unknown>[]]): FeatureCollection;
}
