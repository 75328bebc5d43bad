import { isSowing } from "../draw/Strip";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { useOddsLevel } from "../api/queries";
import { percent, percentRange } from "../draw/odds";
import { dayText, yearOf } from "../units/format";
import { ofYears } from "./years";

/** The odds of a plan's sowing on its day, in a sentence. */
export function OddsLine({ plan, children }: { plan: Schemas["Plan"]; children?: ReactNode }) {
  const level = percent(useOddsLevel());
  const step = plan.steps.find(isSowing);
  const odds = step?.odds;
  if (!step || !odds) return null;
  const year = yearOf(plan.today);
  const { opens, best, closes } = odds.edges;
  return (
    <p data-odds={Math.round(odds.odds * 100)} className="pt-1">
      <strong className="text-xl">{percent(odds.odds)}</strong> {ofYears(odds)} if sown{" "}
      {dayText(step.from, year)} ({odds.name})
      <span className="text-pencil"> (likely range {percentRange(odds.low, odds.high)})</span>
      {odds.limited_by && <>. Main limit: {odds.limited_by}</>}.{" "}
      {opens && closes && best ? (
        <span className="text-pencil">
          {level} or better from {dayText(opens.on, year)} to {dayText(closes.on, year)}; best{" "}
          {dayText(best.on, year)} ({percent(best.odds)}).{" "}
        </span>
      ) : (
        best && (
          <span className="text-pencil">
            Never reaches {level}; best {dayText(best.on, year)} ({percent(best.odds)}).{" "}
          </span>
        )
      )}
      {children}
    </p>
  );
}
