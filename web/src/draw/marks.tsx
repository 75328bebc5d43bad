import type { Schemas } from "../api/client";

/**
 * The marks. A step keeps one outline; how it stands is told by the line: pencil is open and grey,
 * ink is filled and dark, struck has a stroke through it, overdue is open in the one red.
 */
export type Standing = "pencil" | "ink" | "struck" | "overdue";

const outlines: Record<string, string> = {
  // a corer in the ground
  corer: "M3.5 2.5h9v2.6H9.6V11L8 14 6.4 11V5.1H3.5z",
  // a pot with a shoot
  pot: "M8 8V3.2C8 2 9.4 1.6 11.4 1.6 11.4 4 10 5.6 8 5.6M3 8h10l-1.6 6H4.6z",
  heap: "M1.6 13 8 3.4 14.4 13z",
  grains: "M4 3.2a2 2 0 1 0 .01 0zM12 3.2a2 2 0 1 0 .01 0zM8 9a2 2 0 1 0 .01 0z",
  sack: "M4 4.5h8l1 8.5H3z",
  furrows: "M2 4.5h12v2.6H2zM2 9.5h12v2.6H2z",
  balance: "M8 2.2 13.8 8 8 13.8 2.2 8z",
  // seed going down
  seed: "M1.8 3h12.4L8 14z",
  sprout: "M8 14V9C8 5 5 3 1.8 3c0 3.6 2.4 6 6.2 6 3.8 0 6.2-2.4 6.2-6C11 3 8 5 8 9z",
  // a ring thrown on the ground
  ring: "M8 2.4a5.6 5.6 0 1 0 .01 0z",
  // drops under a bar
  fan: "M1.8 2.6h12.4v2H1.8zM4 7.6l1.4 3.6a1.5 1.5 0 1 1-2.8 0zM12 7.6l1.4 3.6a1.5 1.5 0 1 1-2.8 0zM8 6.6l1.4 3.6a1.5 1.5 0 1 1-2.8 0z",
  // a way through the stand
  path: "M2 13.4c2.4-3.6 4.2-1 6-5s3.4-2.6 6-6v4c-2.6 2.6-3.4 1.4-5.2 5.4S4.4 11.4 2 15z",
  // burning
  flame:
    "M8 1.6c.6 3 4.6 4.4 4.6 8a4.6 4.6 0 0 1-9.2 0c0-2 1.2-3 1.8-4.6.8.6 1.2 1.2 1.4 2C7.6 5.6 8.2 3.8 8 1.6z",
  // a mown swath
  blade: "M1.8 12.6C5 8 10.4 4.6 14.2 3.4 12.8 8 8.4 12.2 4.6 13.8z",
};

/** A mark that this version does not know is drawn as a ring. */
function outline(mark: string): string {
  return outlines[mark] ?? outlines["ring"] ?? "";
}

const paint: Record<Standing, { stroke: string; fill: string }> = {
  pencil: { stroke: "var(--pencil)", fill: "var(--paper)" },
  ink: { stroke: "var(--ink)", fill: "var(--ink)" },
  struck: { stroke: "var(--pencil)", fill: "var(--paper)" },
  overdue: { stroke: "var(--stop)", fill: "var(--paper)" },
};

export function StepMark({ mark, standing, size = 15 }: { mark: string; standing: Standing; size?: number }) {
  const { stroke, fill } = paint[standing];
  return (
    <svg
      viewBox="0 0 16 16"
      width={size}
      height={size}
      aria-hidden
      className="block shrink-0 overflow-visible"
    >
      <path d={outline(mark)} fill={fill} stroke={stroke} strokeWidth={1.5} strokeLinejoin="round" />
      {standing === "struck" && (
        <path d="M-2 14 18 2" stroke="var(--ink)" strokeWidth={1.8} strokeLinecap="round" />
      )}
    </svg>
  );
}

export function standingOf(state: Schemas["State"]): Standing {
  if (state.is === "done") return "ink";
  return state.is === "overdue" ? "overdue" : "pencil";
}

/**
 * Blades along a stretch: taller and closer where the chance is better, bare where there is none.
 * Returned as one path; y is the ground, `height` what certainty reaches.
 */
export function blades(
  chance: (x: number) => number,
  from: number,
  to: number,
  y: number,
  height: number,
  /** Stretches kept clear for words. */
  clear: readonly (readonly [number, number])[] = [],
) {
  const parts: string[] = [];
  for (let x = from + 2; x < to;) {
    const here = chance(x);
    const words = clear.some(([left, right]) => x > left - 4 && x < right);
    if (here >= 0.04 && !words) {
      const tall = height * here;
      // A tall blade leans no more than a few days: its foot is its day.
      const lean = Math.min(tall * 0.3, 7);
      parts.push(`M${x.toFixed(1)} ${y}l${lean.toFixed(1)} ${(-tall).toFixed(1)}`);
    }
    x += 7.5 - 4.5 * here;
  }
  return parts.join("");
}

/** The tuft, small: also our sign. */
export function Tuft({ odds, width, height }: { odds: number[]; width: number; height: number }) {
  const step = width / odds.length;
  const path = odds.flatMap((chance, index) => {
    if (chance < 0.05) return [];
    const x = (index + 0.5) * step;
    const tall = height * chance;
    const lean = (index / (odds.length - 1) - 0.5) * tall * 0.5 + tall * 0.18;
    return [`M${x.toFixed(1)} ${height}L${(x + lean).toFixed(1)} ${(height - tall).toFixed(1)}`];
  });
  return (
    <svg width={width} height={height + 1} aria-hidden className="overflow-visible">
      <path d={path.join("")} stroke="var(--ink)" strokeWidth={1.4} strokeLinecap="round" fill="none" />
      <path d={`M0 ${height + 0.5}H${width}`} stroke="var(--ink)" strokeWidth={1} />
    </svg>
  );
}
