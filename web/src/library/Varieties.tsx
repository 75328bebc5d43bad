import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../api/client";
import { Figure, type Explained } from "../kit/Figure";
import type { Task } from "../outbox/waiting";
import { RecordSheet } from "../records/RecordSheet";
import type { Farm } from "../shell/farm";
import { dayText, plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";

const signs: Record<Schemas["VarietyFit"], { sign: string; tone: string }> = {
  fits: { sign: "●", tone: "text-growth" },
  unknown: { sign: "○", tone: "text-pencil" },
  unfit: { sign: "✕", tone: "text-stop" },
};

/** Which kind of a crop fits this farm, and which of its own varieties did best. */
export function Varieties({ farm, crop, name }: { farm: Farm; crop: string; name: string }) {
  const units = useUnits();
  const [task, setTask] = useState<Task | null>(null);
  const varieties = useQuery({
    queryKey: ["farm", farm.id, "varieties", crop, units.system],
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/varieties", { params: { path: { farm: farm.id }, query: { crop } } }),
      ),
  });
  if (varieties.data === undefined) return null;
  const { told, own } = varieties.data;
  const may = farm.role !== "adviser";
  const write = (variety?: Schemas["OwnVarietyView"]) =>
    setTask({
      form: "variety",
      title: variety ? `Edit ${variety.facts.name}` : `New ${name} variety`,
      where: "",
      with: variety
        ? { id: variety.id, crop, facts: variety.facts, after: variety.entry }
        : { id: uuid(), crop },
    });
  const tried = (variety: Schemas["OwnVarietyView"]) =>
    setTask({
      form: "variety-trial",
      title: `Trial of ${variety.facts.name}`,
      where: "",
      with: { id: variety.id },
    });
  // In the order of what is to be expected; those sown no more at the end.
  const sown = own.filter(({ facts }) => !facts.gone);
  const ordered = (told?.value.own ?? []).flatMap((fit) => {
    const variety = sown[fit.index];
    return variety ? [{ variety, fit }] : [];
  });
  const gone = own.filter(({ facts }) => facts.gone);
  return (
    <section aria-label="Variety types" className="pt-4">
      <h2>Variety types</h2>
      {told && told.value.kinds.length > 0 && (
        <ul className="grid gap-x-10 border-t border-rule pt-1 md:grid-cols-2 xl:grid-cols-3">
          {told.value.kinds.map((kind) => (
            <li key={kind.key} data-kind={kind.key} data-fit={kind.fit} className="py-1.5 leading-snug">
              <span aria-hidden className={signs[kind.fit].tone}>
                {signs[kind.fit].sign}
              </span>{" "}
              <strong>{kind.name}</strong> {kind.about}
              {kind.why && <span className="block text-sm text-pencil">Here: {kind.why}.</span>}
            </li>
          ))}
        </ul>
      )}
      {ordered.length > 0 && told && (
        <ol className="max-w-3xl border-t border-rule" aria-label="Our varieties">
          {ordered.map(({ variety, fit }) => (
            <Own
              key={variety.id}
              variety={variety}
              fit={fit}
              told={told}
              onWrite={may ? () => write(variety) : undefined}
              onTried={may ? () => tried(variety) : undefined}
            />
          ))}
        </ol>
      )}
      {gone.length > 0 && (
        <p className="text-sm text-pencil">
          No longer sown: {gone.map(({ facts }) => facts.name).join(", ")}.
        </p>
      )}
      {own.length === 0 && (
        <p className="text-sm text-pencil">
          Add varieties you know and their results in nearby trials; they are ranked here and tell you more
          than a list.
        </p>
      )}
      {may && (
        <button type="button" className="line-button no-print" onClick={() => write()}>
          Add variety
        </button>
      )}
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </section>
  );
}

interface OwnProps {
  variety: Schemas["OwnVarietyView"];
  fit: Schemas["OwnVarietyFit"];
  told: Explained;
  onWrite: (() => void) | undefined;
  onTried: (() => void) | undefined;
}

function Own({ variety, fit, told, onWrite, onTried }: OwnProps) {
  const { facts, trials } = variety;
  const { standing } = fit;
  const interval = standing?.interval as [Quantity, Quantity] | null | undefined;
  const more = [
    facts.dormancy != null && `fall dormancy ${facts.dormancy}`,
    facts.maturity_days != null && `${facts.maturity_days} days`,
    facts.bears && `tolerates ${facts.bears}`,
    facts.note,
  ].filter(Boolean);
  return (
    <li data-variety={facts.name} data-fit={fit.fit} className="border-b border-rule py-2 leading-snug">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <span aria-hidden className={signs[fit.fit].tone}>
          {signs[fit.fit].sign}
        </span>
        <strong>{facts.name}</strong>
        {standing ? (
          <span>
            expected{" "}
            <Figure quantity={standing.expected} explains={told} label={`Expected yield of ${facts.name}`} />{" "}
            of trial mean{" "}
            <span className="text-sm text-pencil">
              , {standing.trials} {standing.trials === 1 ? "trial" : "trials"}, average{" "}
              {plain(standing.of_mean)}
              {interval && ` (${plain(interval[0])} to ${plain(interval[1])})`}
            </span>
          </span>
        ) : (
          <span className="text-pencil">no trials yet</span>
        )}
        <span className="ml-auto flex gap-x-4 no-print">
          {onTried && (
            <button
              type="button"
              className="line-button"
              aria-label={`Add trial result: ${facts.name}`}
              onClick={onTried}
            >
              Add trial result
            </button>
          )}
          {onWrite && (
            <button type="button" className="line-button" aria-label={`Edit ${facts.name}`} onClick={onWrite}>
              Edit
            </button>
          )}
        </span>
      </div>
      {more.length > 0 && <p className="text-sm text-pencil">{more.join(", ")}</p>}
      {fit.why && <p className="text-sm text-stop">Here: {fit.why}.</p>}
      {trials.length > 0 && (
        <p className="text-sm text-pencil">
          {trials
            .slice(0, 4)
            .map(
              (trial) =>
                `${plain(trial.facts.yield)} (trial mean ${plain(trial.facts.mean)}), ${trial.facts.place}, ${dayText(trial.on, 0)}`,
            )
            .join("; ")}
        </p>
      )}
    </li>
  );
}
