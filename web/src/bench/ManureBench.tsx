import { answered, api, Refused, type Schemas } from "../api/client";
import { useReckoning } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Choice } from "../kit/Choice";
import { Figure } from "../kit/Figure";
import { useLive } from "../kit/live";
import { optionsOf, Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { NotYet, Trouble } from "../kit/states";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { manures, nutrients } from "../units/words";
import { FieldPick } from "./FieldPick";
import { amountsOf, useNeeds } from "./needs";

interface Props {
  field: string;
  onField: (field: string) => void;
}

const limits: Record<Schemas["Limit"], string> = {
  p: "P₂O₅ need is met",
  k: "K₂O need is met",
  n: "nitrogen limit is reached",
};

const days = [
  { value: "0", text: "injected" },
  { value: "1", text: "within a day" },
  { value: "3", text: "within three days" },
  { value: "left", text: "not incorporated" },
] as const;

/** How a laboratory writes what it holds. */
const ways = [
  { value: "weight", text: "by weight" },
  { value: "volume", text: "by volume" },
] as const;

type Way = (typeof ways)[number]["value"];

const held = (unit: string, n: number, ammonium: number, p: number, k: number): Record<string, Quantity> => ({
  total_n: { value: n, unit },
  ammonium_n: { value: ammonium, unit },
  p2o5: { value: p, unit },
  k2o: { value: k, unit },
});

/** Manure and compost: how far they go towards the needs, with no other product. */
export function ManureBench({ field, onField }: Props) {
  const worked = useNeeds(field);
  if (worked.waiting || worked.needs.isPending)
    return <NotYet what="Working out manure rate" of={[worked.needs]} />;
  const first = worked.needs.data ? amountsOf(worked.needs.data.value, "build-maintain") : {};
  return <Worked key={`${field} ${JSON.stringify(first)}`} field={field} onField={onField} first={first} />;
}

interface Written {
  needs: Record<string, Quantity | null>;
  cap: Quantity | null;
  worked: (typeof days)[number]["value"];
  manure: Schemas["ManureKind"];
  dry: Quantity | null;
  by: Way;
  /** Each way has its own: what was written by weight is still there after a look by volume. */
  analysis: Record<Way, Record<string, Quantity>>;
}

function Worked({ field, onField, first }: Props & { first: Record<string, Schemas["MassPerArea"]> }) {
  const units = useUnits();
  const { now, change } = useLive<Written>({
    needs: first,
    cap: null,
    worked: "1",
    manure: "cattle",
    dry: null,
    by: "weight",
    // Of a pen's manure, and of a slurry.
    analysis: {
      weight: held("%", 0.5, 0.2, 0.25, 0.45),
      volume: units.system === "us" ? held(units.held, 28, 12, 13, 25) : held(units.held, 3.4, 1.4, 1.6, 3),
    },
  });
  const { needs, cap, worked, manure, dry, by } = now;
  const analysis = now.analysis[by];
  const request = {
    manure,
    analysis: { ...analysis, ...(dry ? { dry_matter: dry } : {}) } as unknown as Schemas["ManureAnalysis"],
    needs: Object.fromEntries(Object.entries(needs).filter(([, mass]) => mass)) as Record<
      string,
      Schemas["MassPerArea"]
    >,
    ...(worked === "left" ? {} : { days_to_incorporation: Number(worked) }),
    ...(cap ? { n_cap: cap as Schemas["MassPerArea"] } : {}),
  };
  const rate = useReckoning("manure.rate", [units.system, request], () =>
    answered(api.POST("/api/reckon/manure.rate", { body: request })),
  );
  const refused = rate.error instanceof Refused ? rate.error : undefined;
  const answer = refused ? undefined : rate.data;
  const cell = "py-1 pr-4 text-right";
  const share = (key: string, label: string) => (
    <QuantityField
      label={label}
      bare={by === "weight" ? "%" : units.held}
      value={analysis[key] ?? null}
      onChange={(value) =>
        value &&
        change((old) => ({ analysis: { ...old.analysis, [by]: { ...old.analysis[by], [key]: value } } }))
      }
      error={refused?.at(`/analysis/${key}`)}
    />
  );
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[24rem_minmax(0,1fr)]">
      <form aria-label="Manure" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} />
        <h2>Analysis (as spread)</h2>
        <Choice label="Analysis by" value={by} onChange={(by) => change({ by })} options={[...ways]} />
        <div key={by} className="grid grid-cols-2 gap-x-4">
          <Pick
            label="Manure type"
            value={manure}
            onChange={(manure) => manure && change({ manure })}
            options={optionsOf(manures)}
          />
          <QuantityField
            label="Dry matter"
            bare="%"
            value={dry}
            onChange={(dry) => change({ dry })}
            error={refused?.at("/analysis/dry_matter")}
            hint="Leave blank if not tested."
          />
          {share("total_n", "Total N")}
          {share("ammonium_n", "Ammonium N")}
          {share("p2o5", "P₂O₅")}
          {share("k2o", "K₂O")}
        </div>
        <p className="text-sm font-semibold">Incorporated</p>
        <Choice
          label="Incorporated"
          value={worked}
          onChange={(worked) => change({ worked })}
          options={[...days]}
        />
        <h2 className="pt-3">Nutrients needed</h2>
        <div className="grid grid-cols-2 gap-x-4">
          {["n", "p2o5", "k2o"].map((key) => (
            <QuantityField
              key={key}
              label={`${nutrients[key]} needed`}
              bare={units.rate}
              value={needs[key] ?? null}
              onChange={(mass) => change((old) => ({ needs: { ...old.needs, [key]: mass } }))}
            />
          ))}
          <QuantityField
            label="Maximum available N"
            bare={units.rate}
            value={cap}
            onChange={(cap) => change({ cap })}
            error={refused?.at("/n_cap")}
            hint="Limit set by the stand or by local rules."
          />
        </div>
      </form>
      <div className="min-w-0 space-y-4" aria-live="polite">
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p>
              <Figure
                quantity={answer.value.rate}
                explains={answer}
                label="Rate of manure"
                className="text-4xl font-bold"
              />
              <span className="block text-sm text-pencil">
                {answer.value.volume && (
                  <>
                    or <Figure quantity={answer.value.volume} />,{" "}
                  </>
                )}
                as spread{answer.value.binds && `; ${limits[answer.value.binds]}`}
              </span>
            </p>
            <ul className="text-sm">
              {answer.value.limits.map((one) => (
                <li key={one.limit}>
                  <Figure quantity={one.rate} className="font-semibold" />: {limits[one.limit]}
                </li>
              ))}
            </ul>
            <table aria-label="Nutrients from the manure">
              <thead>
                <tr className="border-b border-ink text-sm text-pencil">
                  <th className="pr-4 text-left font-normal">Nutrient</th>
                  <th className={`${cell} font-normal`}>Supplied this year</th>
                  <th className={`${cell} font-normal`}>Still needed</th>
                </tr>
              </thead>
              <tbody>
                {Object.entries(answer.value.brings).map(([key, mass]) => (
                  <tr key={key} className="border-b border-rule" data-brings={key}>
                    <th scope="row" className="text-left font-semibold">
                      {nutrients[key]}
                    </th>
                    <td className={cell}>
                      <Figure quantity={mass} />
                    </td>
                    <td className={cell}>
                      <Figure quantity={answer.value.still_needed[key]} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="text-sm">
              Also releases <Figure quantity={answer.value.n_in_later_years[0]} /> N in year 2 and{" "}
              <Figure quantity={answer.value.n_in_later_years[1]} /> in year 3.
            </p>
            <ul className="text-sm text-pencil">
              {answer.value.remarks.map((remark) => (
                <li key={remark}>{remark}</li>
              ))}
            </ul>
            <Cautions cautions={answer.cautions} />
          </>
        )}
      </div>
    </div>
  );
}
