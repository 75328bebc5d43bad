import { describe, expect, it } from "vitest";
import { after, against, middleOf, movedTo, spreadOf, timesOf } from "../src/cutting/ways";

const tons = (...values: number[]) => ({ unit: "ton/ac", values }) as Parameters<typeof spreadOf>[0];

describe("ways of cutting in words", () => {
  it("a spread of the years without its unit", () => {
    expect(spreadOf(tons(3.1, 4, 4.8))).toBe("3.10–4.80");
    expect(spreadOf(tons(2, 2, 2))).toBe("2.00");
    expect(middleOf(tons(3, 4, 5))).toEqual({ unit: "ton/ac", value: 4 });
  });

  it("cuts to come", () => expect([timesOf([3, 3, 4]), timesOf([2, 2, 2])]).toEqual(["3–4", "2"]));

  it("what one gives more than another, and nothing where they are alike", () => {
    const [held, same] = [middleOf(tons(0, 4, 0)), middleOf(tons(0, 4.001, 0))];
    expect(against(middleOf(tons(0, 4.5, 0)), held)).toBe("+0.50");
    expect(against(middleOf(tons(0, 3.5, 0)), held)).toBe("−0.50");
    expect(against(same, held)).toBeUndefined();
  });
});

describe("a cut that is dragged", () => {
  const days = ["2026-06-01", "2026-07-05", "2026-08-10"];
  const moved = (at: number, to: string) => movedTo(days, at, to, "2026-05-14", "2027-01-01");

  it("goes where it is put", () => expect(moved(1, "2026-07-12")[1]).toBe("2026-07-12"));

  it("never past its neighbors, before today or out of the year", () => {
    expect(moved(1, "2026-05-20")[1]).toBe("2026-06-02");
    expect(moved(1, "2026-09-20")[1]).toBe("2026-08-09");
    expect(moved(0, "2026-03-01")[0]).toBe("2026-05-14");
    expect(moved(2, "2027-04-01")[2]).toBe("2026-12-31");
  });

  it("a day so many days on, over the end of a month and a leap day", () => {
    expect([after("2026-01-31", 1), after("2028-02-28", 1), after("2026-03-01", -1)]).toEqual([
      "2026-02-01",
      "2028-02-29",
      "2026-02-28",
    ]);
  });
});
