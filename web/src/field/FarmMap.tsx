import { Link } from "@tanstack/react-router";
import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { useWidth } from "../draw/useWidth";
import { useFarm } from "../shell/farm";
import { plain } from "../units/format";
import { middleOf, ringsOf } from "./ground";
import { labelSpot } from "./label";
import { inside, planeAround, type Spot } from "./plane";
import { Measures, ringPath, toScreen, viewOf } from "./sheet";

interface Props {
  fields: readonly Schemas["FieldView"][];
  /** What stands on each, in a word or two, by field. */
  stands: ReadonlyMap<string, string>;
  /** As tall as it may be. */
  tallest: number;
}

/** All fields in place and to scale, with what stands on each. */
export function FarmMap({ fields, stands, tallest }: Props) {
  const farm = useFarm();
  const [width, ref] = useWidth();
  const height = Math.min(tallest, Math.max(240, 0.95 * width));
  const drawn = useMemo(() => {
    const plane = planeAround(
      middleOf(
        fields.map((field) => field.boundary),
        [farm.longitude, farm.latitude],
      ),
    );
    return fields
      .map((field) => ({ field, rings: ringsOf(field.boundary, plane) }))
      .filter(({ rings }) => rings.length > 0);
  }, [fields, farm]);
  const size = { width, height };
  const view = viewOf(
    drawn.flatMap(({ rings }) => rings.flat()),
    size,
  );
  return (
    <div ref={ref} className="min-w-0 border-y border-rule">
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label="Farm map">
          {drawn.map(({ field, rings }) => {
            const number = fields.indexOf(field) + 1;
            const stand = stands.get(field.id);
            return (
              <Link
                key={field.id}
                to="/farms/$farm/fields/$field"
                params={{ farm: farm.id, field: field.id }}
                // Of the number and the name one is drawn: both are said.
                aria-label={[number, field.name, plain(field.sown_area), stand].filter(Boolean).join(" ")}
                className="group outline-none"
              >
                <path
                  d={rings.map((ring) => ringPath(ring, view, size)).join("")}
                  fillRule="evenodd"
                  className="group-hover:stroke-3 group-focus-visible:stroke-[4]"
                  fill={stand ? "var(--wash)" : "var(--paper)"}
                  stroke="var(--ink)"
                  strokeWidth={1.6}
                  strokeLinejoin="round"
                />
                <Name
                  field={field}
                  number={number}
                  stand={stand}
                  outline={rings.toSorted((a, b) => inside(b) - inside(a))[0] ?? []}
                  place={(spot) => toScreen(view, size, spot)}
                />
              </Link>
            );
          })}
          <Measures view={view} size={size} />
        </svg>
      )}
    </div>
  );
}

interface NameProps {
  field: Schemas["FieldView"];
  /** Which it is in the list beside the map. */
  number: number;
  stand: string | undefined;
  outline: readonly Spot[];
  place: (spot: Spot) => Spot;
}

/** A field's name in its middle, or its number in the list where that does not fit. */
function Name({ field, number, stand, outline, place }: NameProps) {
  const points = outline.map(place);
  const { middle, room } = labelSpot(points);
  const fits = (text: string, letter: number) => text.length * letter + 16 < room;
  const lines = [
    { text: field.name, bold: true },
    { text: plain(field.sown_area), bold: false },
    ...(stand ? [{ text: stand, bold: false }] : []),
  ].filter(({ text, bold }) => fits(text, bold ? 7.3 : 6.8));
  const [top, bottom] = [Math.min(...points.map(({ y }) => y)), Math.max(...points.map(({ y }) => y))];
  const shown = lines.slice(0, Math.max(0, Math.floor((bottom - top - 10) / 17)));
  if (shown[0]?.bold !== true) shown.splice(0, shown.length, { text: String(number), bold: true });
  return (
    <text textAnchor="middle" fontSize={14} fill="var(--ink)">
      {shown.map(({ text, bold }, index) => (
        <tspan
          key={index}
          x={middle.x}
          y={middle.y + 5 + (index - (shown.length - 1) / 2) * 17}
          fontWeight={bold ? 650 : 400}
          className="group-hover:underline"
        >
          {/* The space parts the lines for those who hear them. */}
          {`${text} `}
        </tspan>
      ))}
    </text>
  );
}
