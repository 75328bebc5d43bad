import "fake-indexeddb/auto";
import { beforeEach, describe, expect, it } from "vitest";
import { Refused } from "../src/api/client";
import { outcomeOf, sendInOrder, UnknownForm } from "../src/outbox/send";
import { all, fresh, keep, onChange, remove, settle } from "../src/outbox/store";
import { inOrder, MOST_BYTES, type Waiting } from "../src/outbox/waiting";

const record = (id: string, written: number, more: Partial<Waiting> = {}): Waiting => ({
  id,
  person: "mara",
  personName: "Mara",
  farm: "hollow",
  farmName: "Hollow",
  task: { form: "note", title: "Note", where: "" },
  on: "2026-05-14",
  values: { text: id },
  written,
  ...more,
});

const problem = (status: number, type = "/problems/refused") =>
  new Refused(status, { type, title: "", status, detail: "no" });

beforeEach(async () => {
  for (const item of await all()) await remove(item.id);
});

describe("sending", () => {
  const post = (answers: Record<string, Refused | undefined>) => {
    const sent: string[] = [];
    return {
      sent,
      deliver: async (item: Waiting) => {
        sent.push(item.id);
        const error = answers[item.id];
        if (error) throw error;
      },
      fresh,
      settle,
    };
  };
  const left = async () => inOrder(await all()).map((item) => item.id);

  it("goes in the order in which they were written, each once", async () => {
    for (const item of [record("a", 1), record("b", 2), record("c", 3)]) await keep(item);
    const through = post({});
    expect(await sendInOrder(await all(), "mara", through)).toEqual({ taken: 3, signedOut: false });
    expect(through.sent).toEqual(["a", "b", "c"]);
    expect(await left()).toEqual([]);
  });

  it("goes in that order also when the device's clock jumps back, and after a correction", async () => {
    for (const item of [record("b", 900), record("a", 5), record("c", 7)]) await keep(item);
    await keep(record("b", 9_999, { values: { text: "corrected" } }));
    expect(await left()).toEqual(["b", "a", "c"]);
    const through = post({});
    await sendInOrder(await all(), "mara", through);
    expect(through.sent).toEqual(["b", "a", "c"]);
  });

  it("a refused one stays with its reason and holds nobody up", async () => {
    for (const item of [record("a", 1), record("b", 2)]) await keep(item);
    expect((await sendInOrder(await all(), "mara", post({ a: problem(422) }))).taken).toBe(1);
    const [kept] = await all();
    expect(kept?.refused?.detail).toBe("no");
    expect(kept?.values).toEqual({ text: "a" });
    // It is not tried again by itself.
    const again = post({});
    expect((await sendInOrder(await all(), "mara", again)).taken).toBe(0);
    expect(again.sent).toEqual([]);
  });

  it("another's records are not sent under this name", async () => {
    await keep(record("a", 1, { person: "tobias" }));
    const through = post({});
    expect((await sendInOrder(await all(), "mara", through)).taken).toBe(0);
    expect(through.sent).toEqual([]);
    expect(await left()).toEqual(["a"]);
  });

  it.each([
    ["nobody answers", problem(0)],
    ["the gateway finds nobody", problem(502)],
    ["it is too much just now", problem(429)],
    ["it came too slowly", problem(408)],
    ["the sign-in has run out", problem(401, "/problems/signed-out")],
    ["somebody else is signed in", problem(409, "/problems/another-person")],
  ])("when %s all wait, as they are", async (_, error) => {
    for (const item of [record("a", 1), record("b", 2)]) await keep(item);
    const through = post({ a: error });
    expect((await sendInOrder(await all(), "mara", through)).taken).toBe(0);
    expect(through.sent).toEqual(["a"]);
    expect((await all()).map((item) => item.refused)).toEqual([undefined, undefined]);
  });

  it("one on which the server fails time and again stands in the way no more", async () => {
    for (const item of [record("a", 1), record("b", 2)]) await keep(item);
    for (let turn = 0; turn < 4; turn++) await sendInOrder(await all(), "mara", post({ a: problem(500) }));
    expect(await left()).toEqual(["a", "b"]);
    expect((await sendInOrder(await all(), "mara", post({ a: problem(500) }))).taken).toBe(1);
    // It is no refusal: it is told, and tried again.
    const [waits] = await all();
    expect([waits?.refused, waits?.trouble?.detail]).toEqual([undefined, "no"]);
    expect((await sendInOrder(await all(), "mara", post({}))).taken).toBe(1);
    expect(await left()).toEqual([]);
  });

  it("one that this device fails on holds up none for good", async () => {
    for (const item of [record("a", 1), record("b", 2)]) await keep(item);
    const broken = {
      ...post({}),
      deliver: async (item: Waiting) => {
        if (item.id === "a") throw new TypeError("a slip of ours");
      },
    };
    for (let turn = 0; turn < 5; turn++) await sendInOrder(await all(), "mara", broken);
    const [waits] = await all();
    expect([await left(), waits?.refused]).toEqual([["a"], undefined]);
    expect(waits?.trouble?.detail).toContain("tried again");
  });

  it("one whose form this version does not have stays, and the others go", async () => {
    for (const item of [record("a", 1), record("b", 2)]) await keep(item);
    const without = {
      ...post({}),
      deliver: async (item: Waiting) => {
        if (item.id === "a") throw new UnknownForm("note");
      },
    };
    expect((await sendInOrder(await all(), "mara", without)).taken).toBe(1);
    const [waits] = await all();
    expect([waits?.id, waits?.refused, waits?.trouble?.title]).toEqual(["a", undefined, "No form for it"]);
  });

  it("one that is corrected while those before it are on their way goes as it was corrected", async () => {
    for (const item of [record("a", 1), record("b", 2)]) await keep(item);
    const through = post({});
    const words: unknown[] = [];
    const deliver = async (item: Waiting) => {
      words.push(item.values["text"]);
      if (item.id === "a") await keep(record("b", 2, { saved: "again", values: { text: "corrected" } }));
    };
    await sendInOrder(await all(), "mara", { ...through, deliver });
    expect(words).toEqual(["a", "corrected"]);
    expect(await left()).toEqual([]);
  });

  it("an error that is none of the server's is told, and no refusal", () => {
    expect(outcomeOf(new TypeError("a slip of ours"))).toMatchObject({ is: "failed" });
  });
});

describe("the store", () => {
  it("keeps a record over what stood there, and tells of it", async () => {
    let told = 0;
    const end = onChange(() => (told += 1));
    await keep(record("a", 1));
    await keep(record("a", 1, { on: "2026-05-15" }));
    end();
    expect((await all()).map((item) => item.on)).toEqual(["2026-05-15"]);
    expect(told).toBe(2);
  });

  it("brings nothing back that was thrown away meanwhile", async () => {
    await settle(record("gone", 1), record("gone", 1));
    expect(await all()).toEqual([]);
  });

  it("what was corrected while it was on its way stays as it was corrected", async () => {
    const sent = record("a", 1, { saved: "first" });
    const corrected = record("a", 1, { saved: "second", values: { text: "corrected" } });
    await keep(corrected);
    // Taken or refused, it was the older one.
    await settle(sent, null);
    await settle(sent, { ...sent, refused: problem(422).problem });
    expect(await all()).toEqual([corrected]);
  });

  it("refuses what is larger than a record", async () => {
    const photo = record("a", 1, { values: { picture: "x".repeat(MOST_BYTES + 1) } });
    await expect(keep(photo)).rejects.toThrow("this record is too large");
  });
});
