import { useIrrigation } from "../api/queries";
import type { Farm } from "../shell/farm";
import { Cautions } from "../kit/Cautions";
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
      <p className="text-sm text-pencil">Irrigation is available, but timing needs this year’s weather.</p>
    );
  const advice = answer.value;
  return (
    <section aria-labelledby="water-title" className="border-t-2 border-ink pt-2">
      <h2 id="water-title">Water</h2>
      {advice.every_days != null ? (
        <p className="text-lg">
          <strong>
            <Figure quantity={advice.depth} explains={answer} label="Water to apply" />{" "}
            {advice.every_days < 1.5 ? "every day" : `every ${Math.round(advice.every_days)} days`}
          </strong>{" "}
          if there is no rain. Light and frequent until emergence.
        </p>
      ) : advice.by ? (
        <p className="text-lg">
          <strong>
            By {dayText(advice.by, year)},{" "}
            <Figure quantity={advice.depth} explains={answer} label="Water to apply" />
          </strong>{" "}
          <span className="text-pencil">
            in 50% of years; by {advice.earliest && dayText(advice.earliest, year)} in 10%
            {advice.latest && `, by ${dayText(advice.latest, year)} in 90%`}
          </span>
        </p>
      ) : (
        <p className="text-lg">
          <strong>No irrigation needed</strong>{" "}
          <span className="text-pencil">in most years over the next six months.</span>
        </p>
      )}
      <p className="text-sm">
        Root-zone deficit <Figure quantity={advice.missing} explains={answer} label="Root-zone deficit" /> of{" "}
        <Figure quantity={advice.readily_available} explains={answer} label="Readily available water" />{" "}
        readily available. Current use <Figure quantity={advice.use_today} />.
      </p>
      <p className="text-sm text-pencil">{advice.rule_of_thumb}</p>
      <Cautions cautions={answer.cautions} />
    </section>
  );
}
