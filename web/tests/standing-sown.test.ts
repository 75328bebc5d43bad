import { describe, expect, it } from "vitest";
import { sownIn } from "../src/start/standing";

const [NORTH, SOUTH] = [42.5, -33.9];

describe("the day that stands for a season", () => {
  it.each([
    ["spring in the north", 2024, "spring", NORTH, "2024-05-01"],
    ["autumn in the south comes in April", 2024, "autumn", SOUTH, "2024-04-01"],
    ["late summer in the south in February", 2026, "late-summer", SOUTH, "2026-02-15"],
    ["winter in the south in August", 2025, "winter", SOUTH, "2025-08-15"],
    // Its day is over in the middle of May.
    ["this spring", 2026, "spring", NORTH, "2026-05-01"],
    // Nobody has sown this autumn yet: the server refuses the day.
    ["a season to come", 2026, "autumn", NORTH, "2026-10-01"],
  ] as const)("%s", (_, year, time, latitude, on) =>
    expect(sownIn(year, time, latitude, "2026-05-14").on).toBe(on),
  );

  it("in a season that is under way is today at the latest", () => {
    expect(sownIn(2026, "spring", NORTH, "2026-04-20").on).toBe("2026-04-20");
    expect(sownIn(2026, "spring", NORTH, "2026-02-20").on).toBe("2026-05-01");
  });

  it("says that the day is not known", () => {
    expect(sownIn(2023, "winter", NORTH, "2026-05-14").note).toBe(
      "Sown in winter 2023; the day is not known",
    );
  });
});
