import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { percent } from "../draw/odds";
import { Figure } from "../kit/Figure";
import { useFarm } from "../shell/farm";
import { dayText, yearOf } from "../units/format";

/** Where several steps want one machine on the same days, and which of them waits worst. */
export function Clashes({ clashes }: { clashes: readonly Schemas["Clash"][] }) {
  const farm = useFarm();
  const year = yearOf(farm.today);
  if (clashes.length === 0) return null;
  return (
    <section aria-label="Machine conflicts" className="pt-5">
      <h2>Machine conflicts</h2>
      <ul className="border-t border-rule">
        {clashes.map((clash) => (
          <li
            key={`${clash.machine}-${clash.from}`}
            data-clash={clash.machine}
            data-tight={clash.tight}
            className="border-b border-rule py-1.5"
          >
            <p className={clash.tight ? "font-semibold text-stop" : "font-semibold"}>
              <span aria-hidden>{clash.tight ? "✕ " : "◐ "}</span>
              {clash.of > 1 ? `${clash.of} × ${clash.machine}` : clash.machine}, {dayText(clash.from, year)}{" "}
              to {dayText(clash.to, year)}
              <span className="font-normal text-pencil">
                {": "}
                {clash.hours ? (
                  <>
                    <Figure quantity={clash.hours} /> needed, <Figure quantity={clash.room} /> available
                  </>
                ) : (
                  "duration unknown; enter the machine’s width under Set-up, Machines"
                )}
              </span>
            </p>
            <ul className="text-sm">
              {clash.wanted.map((one) => (
                <li key={`${one.stand}-${one.title}-${one.from}`}>
                  <Link
                    to="/farms/$farm/fields/$field"
                    params={{ farm: farm.id, field: one.field }}
                    className="underline"
                  >
                    {one.name}
                  </Link>
                  : {one.title.toLowerCase()}, {dayText(one.from, year)} to {dayText(one.to, year)}
                  {one.hours && (
                    <>
                      , <Figure quantity={one.hours} />
                    </>
                  )}
                  {one.a_week_costs != null && Math.abs(one.a_week_costs) >= 0.01 && (
                    <span className={one.a_week_costs > 0 ? "" : "text-pencil"}>
                      ; waiting a week {one.a_week_costs > 0 ? "lowers" : "raises"} its odds by{" "}
                      {percent(Math.abs(one.a_week_costs))}
                    </span>
                  )}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
      <p className="text-sm text-pencil italic">
        Assumes ten working hours a day and every second day suitable.
      </p>
    </section>
  );
}
