import { useIrrigation } from "../api/queries";
import type { Farm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { dayText, yearOf } from "../units/format";

/** When a field that has water needs it, by the balance, beside what people do by rule. */
export function FieldWater({ farm, field }: { farm: Farm; field: string }) {
  const water = useIrrigation(farm.id, field);
  if (!water.data?.irrigated) return null;
  const answer = water.data.advice;
  const year = yearOf(farm.today);
  if (!answer)
    return (
      <p className="text-sm text-pencil">
        Water can be brought; without this year’s weather there is no telling when.
      </p>
    );
  const advice = answer.value;
  return (
    <section aria-labelledby="water-title" className="border-t-2 border-ink pt-2">
      <h2 id="water-title">Water</h2>
      {advice.every_days != null ? (
        <p className="text-lg">
          <strong>
            <Figure quantity={advice.depth} explains={answer} label="Water to bring" />{" "}
            {advice.every_days < 1.5 ? "every day" : `every ${Math.round(advice.every_days)} days`}
          </strong>{" "}
          while it does not rain: light and often, until it is up.
        </p>
      ) : advice.by ? (
        <p className="text-lg">
          <strong>
            By {dayText(advice.by, year)},{" "}
            <Figure quantity={advice.depth} explains={answer} label="Water to bring" />
          </strong>{" "}
          <span className="text-pencil">
            in half of the years; in one of ten by {advice.earliest && dayText(advice.earliest, year)}
            {advice.latest && `, in nine by ${dayText(advice.latest, year)}`}
          </span>
        </p>
      ) : (
        <p className="text-lg">
          <strong>None needed</strong>{" "}
          <span className="text-pencil">in most years within the half-year ahead.</span>
        </p>
      )}
      <p className="text-sm">
        The root zone lacks{" "}
        <Figure quantity={advice.missing} explains={answer} label="Missing from the root zone" /> of the{" "}
        <Figure quantity={advice.readily_available} explains={answer} label="Readily available" /> it can
        spare; it uses <Figure quantity={advice.use_today} /> now.
      </p>
      <p className="text-sm text-pencil">{advice.rule_of_thumb}</p>
    </section>
  );
}
