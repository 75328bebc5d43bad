import { describe, expect, it } from "vitest";
import { MOST_BYTES } from "../src/outbox/waiting";
import { SMALL, TRIES, within } from "../src/records/picture";

describe("a picture", () => {
  it.each([
    [8000, 6000, 1600, [1600, 1200]],
    [3000, 4000, 1600, [1200, 1600]],
    [640, 480, 1600, [640, 480]],
    [40_000, 1, 800, [800, 1]],
    [1, 1, 800, [1, 1]],
  ])("of %i by %i is drawn within %i", (width, height, longest, wanted) => {
    expect(within(width, height, longest)).toEqual(wanted);
  });

  it("is tried ever smaller, and fits the outbox in Base64", () => {
    for (const [at, [longest, quality]] of TRIES.entries()) {
      const [before, finer] = TRIES[at - 1] ?? [Infinity, Infinity];
      expect(longest < before || quality < finer).toBe(true);
      expect(longest <= before && quality <= finer).toBe(true);
    }
    expect(Math.ceil(SMALL / 3) * 4).toBeLessThan(MOST_BYTES);
  });
});
