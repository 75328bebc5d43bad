import { dayText, yearOf } from "../units/format";
import { describeGrowth, type Growth } from "./growthPaths";
import { StandingDrawing } from "./StandingDrawing";

/** Dry matter that stands, with the cuts of the plan as notches. */
export function GrowthDrawing({ growth, today }: { growth: Growth; today: string }) {
  const notches = growth.cuts.map((cut) => ({
    on: cut.on,
    done: cut.done,
    says: `${cut.done ? "Cut" : "Planned cut"}, ${dayText(cut.on, yearOf(today))}`,
  }));
  return (
    <StandingDrawing
      curves={growth}
      today={today}
      describes={describeGrowth(growth, today)}
      notches={notches}
    />
  );
}
