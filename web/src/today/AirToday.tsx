import { useWeather } from "../api/queries";
import type { Farm } from "../shell/farm";
import { day, plain, range, type Quantity } from "../units/format";
import { dateFormat } from "../units/intl";

/** A chance of rain below this is not worth a word. */
const WORTH_SAYING = 0.1;

/** Temperature and rain of today and the days after it, in words. */
export function AirToday({ farm }: { farm: Farm }) {
  const weather = useWeather(farm.id, farm.today, farm.today);
  const ahead = weather.data?.ahead ?? [];
  if (ahead.length === 0) return null;
  return (
    <ul aria-label="Weather ahead" className="flex flex-wrap gap-x-6 pb-2 text-sm text-pencil">
      {ahead.map((one) => (
        <li key={one.on} className="whitespace-nowrap">
          {name(one.on, farm.today)}{" "}
          <span className="text-ink">{range(whole(one.low), whole(one.high))}</span>
          {one.rain && one.rain_odds.value >= 100 * WORTH_SAYING && (
            <>
              , {plain(one.rain_odds)} chance of rain ({plain(one.rain)})
            </>
          )}
        </li>
      ))}
    </ul>
  );
}

/** A forecast is not good to the tenth. */
const whole = ({ value, unit }: Quantity) => ({ value: Math.round(value), unit });

function name(on: string, today: string): string {
  const ahead = (day(on).getTime() - day(today).getTime()) / 86_400_000;
  if (ahead === 0) return "Today";
  if (ahead === 1) return "Tomorrow";
  return dateFormat("en", { weekday: "long" }).format(day(on));
}
