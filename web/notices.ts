import { execFileSync } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import type { Plugin } from "vite";

/** One package that goes out with the application. */
interface Part {
  name: string;
  version: string;
  license: string;
  folder: string;
}

interface CargoPackage {
  id: string;
  name: string;
  version: string;
  license: string | null;
  source: string | null;
  manifest_path: string;
}

interface CargoNode {
  id: string;
  deps: { pkg: string; dep_kinds: { kind: string | null }[] }[];
}

interface CargoMetadata {
  packages: CargoPackage[];
  resolve: { nodes: CargoNode[] };
}

/** What the server is built of: not what only builds or tests it. */
export function crates(metadata: CargoMetadata, root: string): Part[] {
  const packages = new Map(metadata.packages.map((one) => [one.id, one]));
  const nodes = new Map(metadata.resolve.nodes.map((one) => [one.id, one]));
  const seen = new Set<string>();
  const walk = (id: string) => {
    if (seen.has(id)) return;
    seen.add(id);
    for (const dep of nodes.get(id)?.deps ?? []) {
      if (dep.dep_kinds.some(({ kind }) => kind === null)) walk(dep.pkg);
    }
  };
  const first = metadata.packages.find((one) => one.name === root && one.source === null);
  if (!first) throw new Error(`no crate of the name ${root}`);
  walk(first.id);
  return [...seen]
    .flatMap((id) => packages.get(id) ?? [])
    .filter((one) => one.source !== null)
    .map(({ name, version, license, manifest_path }) => ({
      name,
      version,
      license: license ?? "see its files",
      folder: dirname(manifest_path),
    }));
}

interface Lock {
  packages: Record<
    string,
    { version?: string; license?: string; dev?: boolean; optional?: boolean; devOptional?: boolean }
  >;
}

/** Tools for building, of which a part goes out all the same: the styles, and the worker that keeps pages. */
const leavesTraces = /^(tailwindcss|workbox-(?!build).*)$/;

/** What the pages are made of: not what only builds or checks them. */
export function modules(lock: Lock, folder: string): Part[] {
  const inside = "node_modules/";
  return Object.entries(lock.packages)
    .filter(([path]) => path.startsWith(inside))
    .map(([path, one]) => ({ ...one, path, name: path.slice(path.lastIndexOf(inside) + inside.length) }))
    .filter((one) => leavesTraces.test(one.name) || (!one.dev && !one.optional && !one.devOptional))
    .map(({ path, name, version, license }) => ({
      name,
      version: version ?? "",
      license: license ?? "see its files",
      folder: join(folder, path),
    }));
}

const licence = /^(licen[cs]e|copying|notice|unlicense|copyright)/i;

/** The texts that lie beside a package, in the order of their names. */
function texts(folder: string): string[] {
  const names = readdirSync(folder, { withFileTypes: true }).filter(
    (one) => one.isFile() && licence.test(one.name),
  );
  return names.map(({ name }) => readFileSync(join(folder, name), "utf8").trim()).sort();
}

const byName = (a: Part, b: Part) => a.name.localeCompare(b.name) || a.version.localeCompare(b.version);

/** Every package with its licence, and each text once, under all that it goes with. */
export function told(parts: Part[], textsOf: (folder: string) => string[] = texts): string {
  const sorted = [...parts].sort(byName);
  const under = new Map<string, string[]>();
  for (const part of sorted) {
    for (const text of textsOf(part.folder)) {
      under.set(text, [...(under.get(text) ?? []), `${part.name} ${part.version}`]);
    }
  }
  const rule = "=".repeat(80);
  return [
    "Ink Meadow is made with the work of others. These packages go out with it, under their licences:",
    sorted.map((part) => `${part.name} ${part.version}: ${part.license}`).join("\n"),
    ...[...under].map(([text, names]) => `${rule}\n${names.join(", ")}\n${rule}\n\n${text}`),
  ].join("\n\n");
}

/** Notices of third parties, beside the pages: what goes out, goes out with its licences. */
export function notices(): Plugin {
  return {
    name: "notices",
    apply: "build",
    generateBundle() {
      const asked = ["metadata", "--format-version", "1", "--locked", "--manifest-path", "../Cargo.toml"];
      const metadata = execFileSync("cargo", asked, { encoding: "utf8", maxBuffer: 256 << 20 });
      const lock = JSON.parse(readFileSync("package-lock.json", "utf8")) as Lock;
      const parts = [...crates(JSON.parse(metadata) as CargoMetadata, "server"), ...modules(lock, ".")];
      this.emitFile({ type: "asset", fileName: "third-party.txt", source: told(parts) });
    },
  };
}
