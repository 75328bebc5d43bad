import type { Schemas } from "../api/client";
import { dayText, plain, yearOf } from "../units/format";
import { oddSpots, weedKinds, weedStages } from "../units/words";
import { recentWeeds, stillForbidden } from "./weeds";

/** Weeds that were seen this year, what sprays still forbid, and spots unlike the rest. */
export function FieldWeeds({ view, today }: { view: Schemas["GroundView"]; today: string }) {
  const weeds = recentWeeds(view, today);
  const waits = stillForbidden(view, today);
  const year = yearOf(today);
  const odd = view.ground.odd;
  return (
    <>
      {waits.length > 0 && (
        <ul aria-label="Label restrictions" className="border-l-3 border-stop pl-3 text-sm">
          {waits.map(({ deed, free, why, on }) => (
            <li key={`${deed}-${on}-${why}`}>
              No {deed} until {dayText(free, year)}: {why} sprayed {dayText(on, year)} (your label entry).
            </li>
          ))}
        </ul>
      )}
      {weeds.length > 0 && (
        <section aria-label="Weeds" className="pt-2">
          <h3>Weeds</h3>
          <ul>
            {weeds.map(({ entry, on, what }) => (
              <li key={entry} className="border-b border-rule py-1 text-sm">
                <span className="font-semibold">{what.name}</span>{" "}
                <span className="text-pencil">
                  {[
                    weedKinds[what.weed],
                    what.stage && weedStages[what.stage],
                    what.height && `${plain(what.height)} tall`,
                    what.cover && `${plain(what.cover)} cover`,
                    dayText(on, year),
                  ]
                    .filter(Boolean)
                    .join(", ")}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {odd.length > 0 && (
        <section aria-label="Odd spots" className="pt-2">
          <h3>Odd spots</h3>
          <ul>
            {odd.map(({ entry, on, what }) => (
              <li key={entry} className="border-b border-rule py-1 text-sm">
                <span className="font-semibold">{what.odd === "other" ? what.note : oddSpots[what.odd]}</span>{" "}
                <span className="text-pencil">
                  {[
                    what.radius && `${plain(what.radius)} radius`,
                    what.at ? "on the map" : "not on the map",
                    dayText(on, year),
                    what.odd !== "other" && what.note,
                  ]
                    .filter(Boolean)
                    .join(", ")}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
