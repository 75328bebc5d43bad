import { useEffect, useRef, useState, type Dispatch, type KeyboardEvent, type PointerEvent } from "react";
import type { Change, Drawing } from "./drawing";
import { labelSpot } from "./label";
import { distance, type Spot } from "./plane";
import { Measures, ringPath, toGround, toScreen, type Size, type View } from "./sheet";
import { useGroundUnits } from "./useGroundUnits";

interface Props {
  /** It is a line, and no ring. */
  line?: boolean;
  drawing: Drawing;
  change: Dispatch<Change>;
  view: View;
  onView: (view: View) => void;
  size: Size;
  /** The fields around it. */
  neighbours: readonly { name: string; ring: readonly Spot[] }[];
  /** Where the ring crosses itself. */
  crossed: readonly Spot[];
  /** The line being walked. */
  walked: readonly Spot[];
}

/** A corner snaps to a neighbour's from so near, pixels. */
const SNAP = 9;
/** Less is no drag. */
const DRAG = 4;

/** The paper that a field is drawn on: click for a corner, drag a corner or the paper, roll to come nearer. */
export function Paper(props: Props) {
  const { line = false, drawing, change, view, onView, size, neighbours, crossed, walked } = props;
  const { corners, others, picked } = drawing;
  const units = useGroundUnits();
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<{ corner: number | null; at: Spot; view: View; moved: boolean } | null>(null);
  const [snapped, setSnapped] = useState<Spot | null>(null);
  const screen = (spot: Spot) => toScreen(view, size, spot);

  const here = (event: { clientX: number; clientY: number }): Spot => {
    const box = svg.current?.getBoundingClientRect();
    return { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) };
  };
  const snap = (at: Spot): Spot => {
    const near = neighbours
      .flatMap(({ ring }) => ring)
      .map((spot) => ({ spot, away: distance(screen(spot), at) }))
      .filter(({ away }) => away < SNAP)
      .sort((a, b) => a.away - b.away)[0];
    setSnapped(near?.spot ?? null);
    return near?.spot ?? toGround(view, size, at);
  };

  useEffect(() => {
    const paper = svg.current;
    if (!paper) return;
    const roll = (event: WheelEvent) => {
      event.preventDefault();
      const at = here(event);
      const scale = Math.min(50, Math.max(1e-4, view.scale * Math.exp(-event.deltaY / 500)));
      const under = toGround(view, size, at);
      const moved = toGround({ ...view, scale }, size, at);
      onView({
        scale,
        middle: { x: view.middle.x + under.x - moved.x, y: view.middle.y + under.y - moved.y },
      });
    };
    paper.addEventListener("wheel", roll, { passive: false });
    return () => paper.removeEventListener("wheel", roll);
  });

  const down = (event: PointerEvent, corner: number | null) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    svg.current?.setPointerCapture(event.pointerId);
    held.current = { corner, at: here(event), view, moved: false };
  };
  const move = (event: PointerEvent) => {
    const hold = held.current;
    if (!hold) return;
    const at = here(event);
    if (!hold.moved) {
      if (distance(at, hold.at) < DRAG) return;
      hold.moved = true;
      if (hold.corner !== null) change({ to: "take", corner: hold.corner });
    }
    if (hold.corner !== null) change({ to: "move", corner: hold.corner, at: snap(at) });
    else {
      const { middle, scale } = hold.view;
      const [east, north] = [(at.x - hold.at.x) / scale, (at.y - hold.at.y) / scale];
      onView({ scale, middle: { x: middle.x - east, y: middle.y + north } });
    }
  };
  const up = (event: PointerEvent) => {
    const hold = held.current;
    held.current = null;
    if (!hold || hold.moved) return setSnapped(null);
    if (hold.corner !== null) change({ to: "pick", corner: hold.corner });
    else change({ to: "add", at: snap(here(event)) });
    setSnapped(null);
  };
  const key = (event: KeyboardEvent, corner: number) => {
    const by = (event.shiftKey ? 10 : 1) * units.unit.metres;
    const steps: Record<string, Spot> = {
      ArrowLeft: { x: -by, y: 0 },
      ArrowRight: { x: by, y: 0 },
      ArrowUp: { x: 0, y: by },
      ArrowDown: { x: 0, y: -by },
    };
    const step = steps[event.key];
    const spot = corners[corner];
    if (step && spot) {
      change({ to: "take", corner });
      change({ to: "move", corner, at: { x: spot.x + step.x, y: spot.y + step.y } });
    } else if (event.key === "Delete" || event.key === "Backspace") change({ to: "remove", corner });
    else if (event.key === "Enter" || event.key === " ") change({ to: "pick", corner });
    else return;
    event.preventDefault();
  };
  const outline = corners.length > 0 ? ringPath(corners, view, size) : "";
  const ring = line ? outline.replace("Z", "") : outline;
  return (
    <svg
      ref={svg}
      width={size.width}
      height={size.height}
      role="group"
      aria-label="Map: click to add a corner"
      className="block touch-none bg-paper select-none"
      style={{ cursor: "crosshair" }}
      onPointerDown={(event) => down(event, null)}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => (held.current = null)}
    >
      {neighbours.map(({ name, ring }, index) => (
        <path
          key={index}
          d={ringPath(ring, view, size)}
          fill="var(--sunk)"
          stroke="var(--pencil)"
          strokeWidth={1}
        >
          <title>{name}</title>
        </path>
      ))}
      {neighbours.map(({ name, ring }, index) => {
        const { middle, room } = labelSpot(ring.map(screen));
        if (name.length * 6.8 + 8 > room) return null;
        return (
          <text
            key={index}
            x={middle.x}
            y={middle.y + 5}
            textAnchor="middle"
            fontSize={14}
            fill="var(--pencil)"
            pointerEvents="none"
          >
            {name}
          </text>
        );
      })}
      <path
        d={ring + others.map((other) => ringPath(other, view, size)).join("")}
        fill={line ? "none" : "var(--wash)"}
        fillRule="evenodd"
        stroke="var(--ink)"
        strokeWidth={2}
        strokeLinejoin="round"
        {...(corners.length < 3 && !line ? { strokeDasharray: "5 4" } : {})}
      />
      {walked.length > 1 && (
        <path
          d={ringPath(walked, view, size).replace("Z", "")}
          fill="none"
          stroke="var(--rain)"
          strokeWidth={3}
        />
      )}
      {corners.length > 1 &&
        corners.map((corner, index) => {
          const next = corners[(index + 1) % corners.length];
          if (!next || ((corners.length === 2 || line) && index === corners.length - 1)) return null;
          const half = { x: (corner.x + next.x) / 2, y: (corner.y + next.y) / 2 };
          const [at, from, to] = [screen(half), screen(corner), screen(next)];
          if (distance(from, to) < 60) return null;
          // Beside the line, on the side away from its middle on the paper.
          const away = Math.atan2(to.y - from.y, to.x - from.x) + Math.PI / 2;
          return (
            <g key={index}>
              <circle
                cx={at.x}
                cy={at.y}
                r={5}
                fill="var(--paper)"
                stroke="var(--ink)"
                strokeDasharray="2 2"
                style={{ cursor: "copy" }}
                aria-hidden
                onPointerDown={(event) => {
                  event.stopPropagation();
                  change({ to: "insert", after: index, at: half });
                }}
              />
              <text
                x={at.x + 32 * Math.cos(away)}
                y={at.y + 17 * Math.sin(away) + 5}
                textAnchor="middle"
                fontSize={14}
                fill="var(--pencil)"
                aria-hidden
                pointerEvents="none"
              >
                {units.length(distance(corner, next))}
              </text>
            </g>
          );
        })}
      {corners.map((corner, index) => {
        const { x, y } = screen(corner);
        return (
          <circle
            key={index}
            cx={x}
            cy={y}
            r={index === picked ? 8 : 6}
            fill={index === picked ? "var(--ink)" : "var(--paper)"}
            stroke="var(--ink)"
            strokeWidth={2}
            tabIndex={0}
            role="button"
            aria-label={`Corner ${index + 1}: arrow keys move, Delete removes`}
            style={{ cursor: "move" }}
            onPointerDown={(event) => down(event, index)}
            onKeyDown={(event) => key(event, index)}
          />
        );
      })}
      {crossed.map((spot, index) => {
        const { x, y } = screen(spot);
        return (
          <path
            key={index}
            d={`M${x - 8} ${y - 8}l16 16m0 -16l-16 16`}
            stroke="var(--stop)"
            strokeWidth={3}
          />
        );
      })}
      {snapped && (
        <circle
          cx={screen(snapped).x}
          cy={screen(snapped).y}
          r={11}
          fill="none"
          stroke="var(--growth)"
          strokeWidth={2}
        />
      )}
      <Measures view={view} size={size} />
    </svg>
  );
}
