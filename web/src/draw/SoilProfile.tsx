import type { Schemas } from "../api/client";
import { range } from "../units/format";

/** Depth of an edge, centimetres, whatever it is written in. */
function cm(length: Schemas["Length"]): number {
  return length.value * ({ in: 2.54, cm: 1, mm: 0.1, m: 100, ft: 30.48 }[length.unit] ?? 1);
}

interface Props {
  layers: Schemas["Layer"][];
  /** Least pH below the plough layer, where the crop asks for one. */
  least?: number | null;
  height?: number;
}

/** The soil as dug: layers by depth, a sour one hatched. */
export function SoilProfile({ layers, least, height = 150 }: Props) {
  const deepest = Math.max(30, ...layers.map((layer) => cm(layer.to)));
  const y = (depth: number) => (depth / deepest) * (height - 10) + 5;
  const sour = (layer: Schemas["Layer"]) => layer.ph < (least ?? 5.5);
  const says = layers.map((layer) => `${range(layer.from, layer.to)}: pH ${layer.ph}`).join("; ");
  return (
    <svg
      width={150}
      height={height}
      role="img"
      aria-label={`Soil profile. ${says}`}
      className="block shrink-0"
    >
      <defs>
        <pattern id="sour" width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1={0} x2={0} y1={0} y2={6} stroke="var(--stop)" strokeWidth={1.6} />
        </pattern>
      </defs>
      <path d={`M0 ${y(0)}H86`} stroke="var(--growth)" strokeWidth={3} />
      {layers.map((layer) => {
        const [top, bottom] = [y(cm(layer.from)), y(cm(layer.to))];
        return (
          <g key={top}>
            <rect
              x={0}
              y={top}
              width={40}
              height={bottom - top}
              fill={sour(layer) ? "url(#sour)" : "var(--sunk)"}
              stroke="var(--ink)"
              strokeWidth={1.2}
            />
            <text x={48} y={(top + bottom) / 2 + 2} fontSize={15} fontWeight={700} fill="var(--ink)">
              pH {layer.ph.toFixed(1)}
            </text>
            <text x={48} y={(top + bottom) / 2 + 17} fontSize={13} fill="var(--pencil)">
              {range(layer.from, layer.to)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
