import { describe, expect, it } from "vitest";
import { readable, selected, WORTH } from "../src/api/kept";

const query = (key: unknown[], dataUpdatedAt: number) => ({
  queryKey: key,
  queryHash: JSON.stringify(key),
  dehydratedAt: 0,
  state: {
    data: 1,
    dataUpdatedAt,
    dataUpdateCount: 1,
    error: new Error("later"),
    errorUpdateCount: 1,
    errorUpdatedAt: 0,
    fetchFailureCount: 3,
    fetchFailureReason: new Error("later"),
    fetchMeta: null,
    isInvalidated: false,
    status: "error" as const,
    fetchStatus: "idle" as const,
  },
});

describe("what was last read", () => {
  it("comes back for the same version of the application", () => {
    const state = { mutations: [], queries: [query(["me"], 1_000)] };
    expect(readable({ shape: "a", state }, "a", 2_000)?.queries).toHaveLength(1);
  });

  it.each([
    ["of another version", { shape: "b", state: { mutations: [], queries: [query(["me"], 1_000)] } }],
    ["of no shape", "a string"],
    ["half of one", { shape: "a" }],
    ["nothing", undefined],
  ])("is dropped when it is %s", (_, kept) => {
    expect(readable(kept, "a", 2_000)).toBeNull();
  });

  it("grows too old", () => {
    const state = { mutations: [], queries: [query(["me"], 0), query(["crops"], WORTH)] };
    const left = readable({ shape: "a", state }, "a", WORTH + 1)?.queries.map((one) => one.queryKey);
    expect(left).toEqual([["crops"]]);
  });

  it("holds all of the farm, the latest what-ifs only, and no failure", () => {
    const whatIfs = Array.from({ length: 40 }, (_, index) => query(["farm", "f", "windows", index], index));
    const kept = selected({ mutations: [], queries: [query(["farm", "f", "season"], 0), ...whatIfs] });
    expect(kept.queries).toHaveLength(13);
    expect(kept.queries.at(-1)?.queryKey.at(-1)).toBe(28);
    expect(kept.queries.every((one) => one.state.status === "success" && one.state.error === null)).toBe(
      true,
    );
  });
});
