import { RadioGroup } from "radix-ui";
import type { Schemas } from "../api/client";
import { Figure } from "../kit/Figure";
import { nutrients, nutrientSchools } from "../units/words";

interface Props {
  answer: Schemas["Answer_Needs"];
  chosen?: Schemas["School"] | undefined;
  onChoose?: ((school: Schemas["School"]) => void) | undefined;
  cost?: ((school: Schemas["School"]) => React.ReactNode) | undefined;
}

/** The dressings that a year's need is split into, where it is. */
function Splits({ of, splits }: { of: string; splits: Schemas["NutrientSplit"][] }) {
  if (splits.length < 2) return null;
  const each = splits.map((split) => `${Math.round(split.share.value)}% ${split.when}`);
  return (
    <li>
      Split {of}: {each.join(", ")}.
    </li>
  );
}

/** The same soil test under each school, and what each does to it in four years. */
export function SchoolTable({ answer, chosen, onChoose, cost }: Props) {
  const cell = "py-1.5 pr-3 text-right align-baseline";
  const table = (
    <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Nutrients by method, table">
      <table className="w-full min-w-110">
        <thead>
          <tr className="border-b border-ink text-sm text-pencil">
            <th className="py-1 text-left font-normal">Method</th>
            <th className={`${cell} font-normal`}>P₂O₅</th>
            <th className={`${cell} font-normal`}>Soil P after 4 years</th>
            <th className={`${cell} font-normal`}>K₂O</th>
            <th className={`${cell} font-normal`}>Soil K after 4 years</th>
            <th className={`${cell} font-normal`}>Cost</th>
          </tr>
        </thead>
        <tbody>
          {answer.value.schools.map((side) => (
            <tr key={side.school} className="border-b border-rule" data-school={side.school}>
              <th scope="row" className="py-1.5 pr-3 text-left font-normal">
                {onChoose ? (
                  <RadioGroup.Item
                    value={side.school}
                    className="group flex items-center gap-2 max-sm:min-h-11"
                    aria-label={nutrientSchools[side.school].name}
                  >
                    <span className="grid size-5 place-items-center rounded-full border-2 border-ink">
                      <RadioGroup.Indicator className="size-2.5 rounded-full bg-ink" />
                    </span>
                    <span className="font-semibold">{nutrientSchools[side.school].name}</span>
                  </RadioGroup.Item>
                ) : (
                  <span className="font-semibold">{nutrientSchools[side.school].name}</span>
                )}
                <span className="block text-sm text-pencil">{side.k2o.why}</span>
              </th>
              <td className={cell}>
                <Figure
                  quantity={side.p2o5.rate}
                  explains={answer}
                  label={`P₂O₅ by ${side.school}`}
                  className="font-semibold"
                />
              </td>
              <td className={cell}>
                <Figure quantity={side.p2o5.test_in_four_years} />
              </td>
              <td className={cell}>
                <Figure
                  quantity={side.k2o.rate}
                  explains={answer}
                  label={`K₂O by ${side.school}`}
                  className="font-semibold"
                />
              </td>
              <td className={cell}>
                <Figure quantity={side.k2o.test_in_four_years} />
              </td>
              <td className={cell}>{cost ? cost(side.school) : <Figure quantity={side.cost} />}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="pt-2 text-sm">
        N: <Figure quantity={answer.value.n} explains={answer} label="Nitrogen" className="font-semibold" />{" "}
        <span className="text-pencil">{answer.value.n_why}</span>
      </p>
      {answer.value.n_by_yield && (
        <p className="text-sm">
          N: <Figure quantity={answer.value.n_by_yield.low} className="font-semibold" /> to{" "}
          <Figure quantity={answer.value.n_by_yield.high} className="font-semibold" />{" "}
          <span className="text-pencil">{answer.value.n_by_yield.why}</span>
        </p>
      )}
      {answer.value.others.map((other) => (
        <p key={other.nutrient} className="text-sm">
          {nutrients[other.nutrient]}: <Figure quantity={other.rate} className="font-semibold" />{" "}
          <span className="text-pencil">{other.why}</span>
        </p>
      ))}
      <ul className="text-sm text-pencil">
        {answer.value.n.value > 0 && <Splits of="nitrogen" splits={answer.value.n_splits} />}
        <Splits of="potash" splits={answer.value.k_splits} />
        {answer.value.remarks.map((remark) => (
          <li key={remark}>{remark}</li>
        ))}
      </ul>
    </div>
  );
  if (!onChoose) return table;
  return (
    <RadioGroup.Root
      aria-label="Nutrient method"
      value={chosen ?? null}
      onValueChange={(school) => onChoose(school as Schemas["School"])}
    >
      {table}
    </RadioGroup.Root>
  );
}
