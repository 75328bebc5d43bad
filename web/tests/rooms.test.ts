import { describe, expect, it } from "vitest";
import { roomsOf } from "../src/field/rooms";

type Told = Parameters<typeof roomsOf>[0];
type Step = NonNullable<Told>["plan"]["steps"][number];

/** A step of the making, or of a season. */
const step = (is: string, season?: number) => ({ state: { is }, season }) as unknown as Step;

const stand = (sown: boolean, sown_on: string, steps: Step[], goal = "hay") =>
  ({ goal, plan: { sown, sown_on, today: "2026-05-14", steps } }) as Told;

const told = (one: Told) => {
  const { rooms, first } = roomsOf(one);
  return [first, ...rooms.map(({ text }) => text)];
};

describe("a field opens on the phase its stand is in", () => {
  it("bare ground", () => expect(told(undefined)).toEqual(["ground", "Ground", "History"]));

  it("a plan, until it is sown", () =>
    expect(told(stand(false, "2026-08-12", [step("ready")]))).toEqual([
      "plan",
      "Plan",
      "Cutting",
      "Ground",
      "History",
    ]));

  it("a new stand, while work of its making is open", () =>
    expect(told(stand(true, "2026-05-09", [step("done"), step("waiting")]))).toEqual([
      "young",
      "New stand",
      "Cutting",
      "Ground",
      "History",
    ]));

  it("its use, once it is made: the seed order is history", () => {
    expect(told(stand(true, "2025-08-14", [step("done"), step("passed"), step("waiting", 2026)]))).toEqual([
      "use",
      "Cutting",
      "Ground",
      "History",
    ]);
    expect(told(stand(true, "2022-08-14", [step("overdue")], "grazing"))[1]).toBe("Grazing");
    expect(told(stand(true, "2022-08-14", [], "wildlife"))[1]).toBe("Upkeep");
  });
});
