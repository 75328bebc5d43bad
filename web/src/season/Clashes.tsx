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
    <section aria-label="Machines wanted at once" className="pt-5">
      <h2>Machines wanted at once</h2>
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
                    <Figure quantity={clash.hours} /> of work, room for <Figure quantity={clash.room} />
                  </>
                ) : (
                  "how long it takes is not known: tell its width under Set-up, Machines"
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
                      ; a week’s wait {one.a_week_costs > 0 ? "costs" : "gains"}{" "}
                      {percent(Math.abs(one.a_week_costs))} of its odds
                    </span>
                  )}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
      <p className="text-sm text-pencil italic">
        Room at ten hours a day and every other day fit: our own assumption.
      </p>
    </section>
  );
}
