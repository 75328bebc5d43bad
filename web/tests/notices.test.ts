import { describe, expect, it } from "vitest";
import { crates, modules, told } from "../notices.ts";

const registry = "registry";
const crate = (name: string, source: string | null = registry) => ({
  id: name,
  name,
  version: "1.0.0",
  license: "MIT",
  source,
  manifest_path: `/crates/${name}/Cargo.toml`,
});
const on = (pkg: string, kind: string | null = null) => ({ pkg, dep_kinds: [{ kind }] });

describe("notices", () => {
  it("names what the server is built of, and not what builds or tests it", () => {
    const metadata = {
      packages: [
        crate("server", null),
        crate("core", null),
        crate("deep"),
        crate("tester"),
        crate("builder"),
      ],
      resolve: {
        nodes: [
          { id: "server", deps: [on("core"), on("tester", "dev"), on("builder", "build")] },
          { id: "core", deps: [on("deep"), on("server", "dev")] },
          { id: "deep", deps: [] },
        ],
      },
    };
    expect(crates(metadata, "server").map(({ name, folder }) => [name, folder])).toEqual([
      ["deep", "/crates/deep"],
    ]);
    expect(() => crates(metadata, "nothing")).toThrow("nothing");
  });

  it("names what the pages are made of, and of tools what leaves traces", () => {
    const packages = {
      "": {},
      "node_modules/react": { version: "19.0.0", license: "MIT" },
      "node_modules/radix-ui/node_modules/@radix-ui/react-slot": { version: "1.0.0", license: "MIT" },
      "node_modules/eslint": { version: "10.0.0", license: "MIT", dev: true },
      "node_modules/workbox-build": { version: "7.0.0", license: "MIT", dev: true },
      "node_modules/workbox-core": { version: "7.0.0", license: "MIT", dev: true },
      "node_modules/fsevents": { version: "2.0.0", license: "MIT", optional: true },
    };
    expect(modules({ packages }, ".").map((one) => one.name)).toEqual([
      "react",
      "@radix-ui/react-slot",
      "workbox-core",
    ]);
  });

  it("tells each text once, under all that it goes with", () => {
    const part = (name: string) => ({ name, version: "1.0.0", license: "MIT", folder: name });
    const text = told([part("b"), part("a"), part("c")], (folder) =>
      folder === "c" ? ["other"] : ["same words"],
    );
    expect(text.match(/same words/g)).toHaveLength(1);
    expect(text).toContain("a 1.0.0, b 1.0.0\n");
    expect(text).toContain("c 1.0.0: MIT");
  });
});
