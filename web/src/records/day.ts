import { day, isoDay } from "../units/format";

const DAY = 86_400_000;

/** The calendar day in a time zone at an instant of this device's clock. */
function dayIn(zone: string, at: number): string {
  // The Swedish way of writing a date is the ISO one.
  return new Intl.DateTimeFormat("sv-SE", { timeZone: zone }).format(at);
}

export interface FarmDay {
  /** The day the server told. */
  today: string;
  time_zone: string;
  /** A practice farm's clock stands still. */
  practice: boolean;
}

/**
 * The farm's day now: the day the server told, and the days gone by on this device since it was told.
 * A device whose clock is a day off gets it right all the same: only its difference counts.
 */
export function dayNow(farm: FarmDay, toldAt: number, now: number): string {
  if (farm.practice || toldAt === 0) return farm.today;
  const [then, here] = [dayIn(farm.time_zone, toldAt), dayIn(farm.time_zone, now)];
  const gone = Math.round((day(here).getTime() - day(then).getTime()) / DAY);
  // A clock that was set back does not take the farm into the past.
  return gone <= 0 ? farm.today : isoDay(new Date(day(farm.today).getTime() + gone * DAY));
}
