/** How far two time zones are apart, in hours, the shorter way round; 0 where one is not known. */
export function apart(one: string, other: string): number {
  const offsets = [one, other].map(offset);
  const [here, there] = offsets;
  if (here == null || there == null) return 0;
  const hours = Math.abs(here - there) % 24;
  return Math.min(hours, 24 - hours);
}

/** Hours ahead of UTC, now. */
function offset(zone: string): number | null {
  try {
    const at = new Date();
    const there = at.toLocaleString("sv-SE", { timeZone: zone });
    const utc = at.toLocaleString("sv-SE", { timeZone: "UTC" });
    return (Date.parse(there.replace(" ", "T")) - Date.parse(utc.replace(" ", "T"))) / 3_600_000;
  } catch {
    return null;
  }
}
