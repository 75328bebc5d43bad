import type { Spot } from "./plane";

/** Where an area bears its name: in the middle of its widest part at the height of its centre; and how wide that is. */
export function labelSpot(outline: readonly Spot[]): { middle: Spot; room: number } {
  const { x, y } = centre(outline);
  const cuts = outline
    .flatMap((here, index) => {
      const next = outline[(index + 1) % outline.length] ?? here;
      if (here.y > y === next.y > y) return [];
      return [here.x + ((y - here.y) / (next.y - here.y)) * (next.x - here.x)];
    })
    .sort((a, b) => a - b);
  let [left, right] = [x, x];
  for (let at = 0; at + 1 < cuts.length; at += 2) {
    const [from = 0, to = 0] = [cuts[at], cuts[at + 1]];
    if (to - from > right - left) [left, right] = [from, to];
  }
  return { middle: { x: (left + right) / 2, y }, room: right - left };
}

function centre(points: readonly Spot[]): Spot {
  let [twice, x, y] = [0, 0, 0];
  points.forEach((here, index) => {
    const next = points[(index + 1) % points.length] ?? here;
    const part = here.x * next.y - next.x * here.y;
    twice += part;
    x += (here.x + next.x) * part;
    y += (here.y + next.y) * part;
  });
  if (twice === 0) return points[0] ?? { x: 0, y: 0 };
  return { x: x / (3 * twice), y: y / (3 * twice) };
}
