import { useState } from "react";
import { v7 as uuid } from "uuid";
import type { Schemas } from "../api/client";
import { useMixes } from "../api/queries";
import { Pick } from "../kit/Pick";
import type { Task } from "../outbox/waiting";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { goals } from "../units/words";
import { recordedMix, type Change, type Draft } from "./draft";

/** Begin with a mix of the farm's own or one that is commonly sown; keep the one at hand. */
export function TakeMix({ draft, change }: { draft: Draft; change: Change }) {
  const farm = useFarm();
  const mixes = useMixes(farm.id);
  const [taken, setTaken] = useState("");
  const [task, setTask] = useState<Task | null>(null);
  const own = (mixes.data?.own ?? []).filter(({ now }) => !now.facts.gone);
  const goal = goals[draft.goal].toLowerCase();
  const ready = mixes.data?.ready ?? [];
  const fitting = ready.filter((mix) => mix.goals.includes(goal));
  const others = ready.filter((mix) => !mix.goals.includes(goal));
  const option = ({ key, name }: Schemas["ReadyMix"]) => ({ value: key, text: name });
  const groups = [
    { heading: "Our mixes", options: own.map(({ id, now }) => ({ value: id, text: now.facts.name })) },
    { heading: `Common mixes for ${goal}`, options: fitting.map(option) },
    { heading: "Common mixes", options: others.map(option) },
  ].filter(({ options }) => options.length > 0);
  const take = (value: string) => {
    setTaken(value);
    const kept = own.find(({ id }) => id === value)?.now.facts.mix;
    const begun = ready.find(({ key }) => key === value);
    if (kept)
      change({
        by: kept.by,
        total: kept.total ?? null,
        members: kept.members.map(({ crop, rate, share }) => ({
          crop,
          amount: (kept.by === "mass" ? rate : share) ?? null,
        })),
        lots: [],
      });
    else if (begun)
      change({
        by: "full-rate",
        total: null,
        members: begun.members.map(({ crop, share }) => ({ crop, amount: share })),
        lots: [],
      });
  };
  const was = own.find(({ id }) => id === taken);
  const mix = recordedMix(draft);
  const keep = () =>
    mix &&
    setTask({
      form: "own-mix",
      title: was ? `Save as ${was.now.facts.name}` : "Save mix",
      where: farm.name,
      with: { id: was?.id ?? uuid(), mix, name: was?.now.facts.name ?? "", after: was?.now.entry },
    });
  const why = ready.find(({ key }) => key === taken)?.why ?? was?.now.facts.note ?? undefined;
  return (
    <div className="flex flex-wrap items-end gap-x-4 pt-2">
      <Pick
        className="min-w-60 flex-1"
        label="Start from a mix"
        value={taken}
        onChange={take}
        empty="our mixes or common mixes"
        options={groups}
        hint={why}
      />
      {mix && mix.members.length > 1 && (
        <button type="button" className="line-button mb-6" onClick={keep}>
          {was ? "Save changes" : "Save mix"}
        </button>
      )}
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </div>
  );
}
