/**
 * Times of the year, with the month in which each begins and the day that stands for it, in the north: people know the
 * season, not the day.
 */
export const times = [
  { value: "spring", text: "spring", begins: 3, month: 5, day: 1 },
  { value: "late-summer", text: "late summer", begins: 7, month: 8, day: 15 },
  { value: "autumn", text: "autumn", begins: 9, month: 10, day: 1 },
  { value: "winter", text: "winter (dormant or frost seeding)", begins: 1, month: 2, day: 15 },
] as const;

/**
 * The day that stands for a season of a year, and the words that say how far it is known. South of the equator the seasons
 * come six months later in the year. In a season that is under way it is today at the latest; one that is still to come keeps
 * its day, which is then refused.
 */
export function sownIn(
  year: number,
  time: string,
  latitude: number,
  today: string,
): { on: string; note: string } {
  const known = times.find(({ value }) => value === time) ?? times[0];
  const iso = (month: number, day: number) => {
    const here = latitude < 0 ? ((month + 5) % 12) + 1 : month;
    return `${String(year).padStart(4, "0")}-${String(here).padStart(2, "0")}-${String(day).padStart(2, "0")}`;
  };
  const [begins, on] = [iso(known.begins, 1), iso(known.month, known.day)];
  const note = `Sown in ${known.text.replace(/ \(.*/, "")} ${year}; the day is not known`;
  return { on: begins <= today && on > today ? today : on, note };
}
