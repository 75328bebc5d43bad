import { describe, expect, it } from "vitest";
import { dayNow } from "../src/records/day";
import { agoText } from "../src/units/format";

const farm = { today: "2026-05-14", time_zone: "America/New_York", practice: false };
const at = (text: string) => new Date(text).getTime();

describe("the farm's day without signal", () => {
  it.each([
    ["the same evening", "2026-05-14T12:00Z", "2026-05-15T02:00Z", "2026-05-14"],
    ["past midnight at the farm", "2026-05-14T12:00Z", "2026-05-15T05:00Z", "2026-05-15"],
    ["three days later", "2026-05-14T12:00Z", "2026-05-17T12:00Z", "2026-05-17"],
    ["a device a day ahead", "2026-05-15T12:00Z", "2026-05-16T12:00Z", "2026-05-15"],
    ["a device set back meanwhile", "2026-05-14T12:00Z", "2026-05-12T12:00Z", "2026-05-14"],
  ])("%s", (_, told, now, expected) => {
    expect(dayNow(farm, at(told), at(now))).toBe(expected);
  });

  it("a practice farm's stands still", () => {
    expect(dayNow({ ...farm, practice: true }, at("2026-05-14T12:00Z"), at("2027-01-01T12:00Z"))).toBe(
      "2026-05-14",
    );
  });
});

describe("how long ago", () => {
  it.each([
    [20_000, "just now"],
    [60_000, "1 minute ago"],
    [50 * 60_000, "50 minutes ago"],
    [3 * 3_600_000, "3 hours ago"],
    [50 * 3_600_000, "2 days ago"],
  ])("%i ms", (gone, expected) => expect(agoText(gone)).toBe(expected));
});
