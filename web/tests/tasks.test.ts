import { describe, expect, it } from "vitest";
import type { Schemas } from "../src/api/client";
import type { Task } from "../src/outbox/waiting";
import { closedBy, inks, taskOf } from "../src/records/tasks";

const STAND = "0190a000-0000-7000-8000-000000000001";
const OTHER = "0190a000-0000-7000-8000-000000000002";

function step(of: Partial<Schemas["Step"]>): Schemas["Step"] {
  const look = { operation: of.record === "step" ? "roll" : "cut" } as Schemas["Look"];
  return {
    step: "cut",
    occurrence: 1,
    times: 3,
    title: "Cut",
    record: "cut",
    on_ground: false,
    asks: [],
    look,
    ...of,
  } as Schemas["Step"];
}

const inked = (of: Partial<Schemas["Step"]>, stand = STAND) => ({
  field: "0190a000-0000-7000-8000-00000000000f",
  field_name: "Long Acre",
  stand,
  step: step(of),
});

describe("the record that inks a step", () => {
  it.each<[string, Partial<Schemas["Step"]>, string, string | undefined]>([
    ["a record of its own", { record: "cut", occurrence: 2 }, "cut", STAND],
    ["of the ground", { record: "dressing", step: "lime", on_ground: true }, "dressing", undefined],
    ["the step itself", { record: "step", step: "roll-after", asks: ["depth"] }, "step", STAND],
    ["of a kind without a form here", { record: "unheard-of" }, "step", STAND],
  ])("%s carries the place that it closes", (_, of, form, stand) => {
    const task = taskOf(inked(of));
    expect(task).toMatchObject({ form, where: "Long Acre" });
    expect(task.stand).toBe(stand);
    expect(task.closes).toEqual({ stand: STAND, step: of.step ?? "cut", occurrence: of.occurrence ?? 1 });
  });

  it("begins with what was planned, and with what the step asks", () => {
    const planned = { what: "lime" } as unknown as Schemas["Dressing"];
    expect(taskOf(inked({ record: "dressing" }), { planned }).with).toEqual({ planned });
    expect(taskOf(inked({ record: "dressing" })).with).toBeUndefined();
    expect(taskOf(inked({ record: "step", asks: ["area"] })).with).toEqual({
      operation: "roll",
      asks: ["area"],
    });
  });
});

describe("what waits on the device", () => {
  const first = taskOf(inked({}));

  it.each([
    ["the same time", inked({}), true],
    ["the next time of the same step", inked({ occurrence: 2 }), false],
    ["another step of the same title", inked({ step: "cut-late" }), false],
    ["the same step of another stand", inked({}, OTHER), false],
    ["the first time of another season", inked({ season: 2027 }), false],
  ])("inks %s or not", (_, asked, whether) => {
    expect(inks(first, asked)).toBe(whether);
  });

  it("written by an older release closes what its form began with", () => {
    const old: Task = {
      form: "step",
      title: "Ink: Roll",
      where: "Long Acre",
      stand: STAND,
      with: { operation: "roll", step: "roll", occurrence: 1, asks: [] },
    };
    expect(closedBy(old)).toEqual({ stand: STAND, step: "roll", occurrence: 1 });
    expect(inks(old, inked({ record: "step", step: "roll" }))).toBe(true);
    expect(inks(old, inked({ record: "step", step: "roll", occurrence: 2 }))).toBe(false);
  });

  it("opened for no step closes none", () => {
    const loose: Task = { form: "cut", title: "Cut", where: "Long Acre", stand: STAND };
    expect(closedBy(loose)).toBeUndefined();
    expect(inks(loose, inked({}))).toBe(false);
  });
});
