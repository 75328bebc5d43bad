import { describe, expect, it } from "vitest";
import { pasted } from "../src/setup/table";

const across = [
  "Lowest °C  -9,4 −8.9 -4.4 1.4 7 12.2 14.8 14 10 4.2 -0.4 -5.8  3.0",
  "Highest °C -0.4 1 6 13.6 20.2 24.6 27 26.1 22.1 15.2 8.2 2  13.8",
  "Rain mm    54 50 68 80 84 98 96 93 98 92 76 65  954",
  "Rainy days 14 12 13.5 13.5 13 12.5 11 10.5 10.5 12.5 13.5 14.5  151",
].join("\n");

describe("a climate table, pasted", () => {
  it("is read across, the year's figures left out", () => {
    const months = pasted(across);
    expect(months).toHaveLength(12);
    expect(months[0]).toEqual({ lowest: "-9.4", highest: "-0.4", rain: "54", rainy_days: "14" });
    expect(months[1]).toEqual({ lowest: "-8.9", highest: "1", rain: "50", rainy_days: "12" });
    expect(months[11]).toEqual({ lowest: "-5.8", highest: "2", rain: "65", rainy_days: "14.5" });
  });

  it("is read down, months by lines", () => {
    const rows = Array.from(
      { length: 12 },
      (_, month) => `month ${"x".repeat(month)} ${month} ${month + 9} 50 8`,
    );
    const months = pasted(["Month low high rain days", ...rows].join("\r\n"));
    expect(months[3]).toEqual({ lowest: "3", highest: "12", rain: "50", rainy_days: "8" });
  });

  it.each(["", "1 2 3 4", across.split("\n").slice(0, 3).join("\n"), `${across}\n1 2 3 4 5`])(
    "says what it takes instead of %j",
    (text) => {
      expect(pasted(text)).toContain("Paste four rows of twelve numbers");
    },
  );
});
