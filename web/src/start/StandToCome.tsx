import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { answered, api, type Schemas } from "../api/client";
import { useReckoning } from "../api/queries";
import { useWidth } from "../draw/useWidth";
import { Collapse } from "../kit/Collapse";
import { Figure, type Explained } from "../kit/Figure";

import { useUnits } from "../units/useUnits";
import { seedBoxes } from "../units/words";

const YEARS = 8;
const ROW = 46;
const uses: Record<Schemas["Goal"], Schemas["MixUse"]> = {
  hay: "cut",
  silage: "cut",
  biomass: "cut",
  bedding: "cut",
  wildlife: "cut",
  grazing: "grazed",
  "hay-and-grazing": "both",
};

/** The stand that a mix becomes: each member's share, year by year, with how far it may be off. */
export function StandToCome({ mix, goal }: { mix: Schemas["RecordedMix"]; goal: Schemas["Goal"] }) {
  const units = useUnits();
  const request = { mix: mix as Schemas["MixRequest"], used: uses[goal], years: YEARS };
  const told = useReckoning("mix.design", [units.system, request], () =>
    answered(api.POST("/api/reckon/mix.design", { body: request })),
  );
  // A mix that can't be is told of where it is written.
  if (told.error || !told.data) return null;
  const { members, boxes, inoculants, remarks } = told.data.value;
  return (
    <section aria-label="Stand forecast">
      <h2>Stand forecast</h2>
      <p className="text-sm text-pencil">
        Share of the stand by year after sowing, when {uses[goal] === "both" ? "cut and grazed" : uses[goal]}.
        Our own estimates: direction and rough speed only.
      </p>
      <ul className="border-t border-rule">
        {members.map((member) => (
          <Member key={member.crop} member={member} explains={told.data} />
        ))}
      </ul>
      <ul className="space-y-1 pt-2 text-sm">
        {remarks.map((remark) => (
          <li key={remark} className="border-l border-pencil pl-3">
            {remark}
          </li>
        ))}
      </ul>
      <Collapse title="seed boxes and inoculants" className="pt-1 text-sm">
        <ul>
          {boxes.map((load) => (
            <li key={load.seed_box}>
              <span className="font-semibold">{seedBoxes[load.seed_box]}</span>: {load.members.join(", ")}.{" "}
              <span className="text-pencil">{load.mind}</span>
            </li>
          ))}
          {inoculants.map((one) => (
            <li key={one.group}>
              <span className="font-semibold">Inoculant, {one.group} group</span>: {one.members.join(", ")}.
            </li>
          ))}
        </ul>
      </Collapse>
    </section>
  );
}

function Member({ member, explains }: { member: Schemas["DesignedMember"]; explains: Explained }) {
  const [width, ref] = useWidth();
  const { years } = member;
  const x = scaleLinear([1, YEARS], [8, Math.max(9, width - 8)]);
  const y = scaleLinear([0, 100], [ROW - 6, 4]);
  const band = area<Schemas["ShareInYear"]>()
    .x(({ year }) => x(year))
    .y0(({ low }) => y(low.value))
    .y1(({ high }) => y(high.value));
  const middle = line<Schemas["ShareInYear"]>()
    .x(({ year }) => x(year))
    .y(({ share }) => y(share.value));
  const [first, last] = [years[0], years.at(-1)];
  return (
    <li
      data-member={member.crop}
      className="grid grid-cols-[8.5rem_3.5rem_minmax(0,1fr)_3.5rem] items-center gap-x-2 border-b border-rule text-sm"
    >
      <span className="leading-snug">{member.name}</span>
      <span className="text-right">
        {first && <Figure quantity={first.share} explains={explains} label={`${member.name}, year 1`} />}
      </span>
      <span ref={ref}>
        {width > 0 && (
          <svg width={width} height={ROW} aria-hidden className="block">
            <line x1={0} x2={width} y1={y(0)} y2={y(0)} stroke="var(--rule)" />
            <path d={band(years) ?? ""} fill="var(--wash)" />
            <path
              d={middle(years) ?? ""}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.8}
              strokeDasharray="4 3"
            />
            {years.map(({ year, share }) => (
              <circle
                key={year}
                cx={x(year)}
                cy={y(share.value)}
                r={year === 1 ? 3.2 : 2}
                fill="var(--ink)"
              />
            ))}
          </svg>
        )}
      </span>
      <span>
        {last && <Figure quantity={last.share} />}
        <span className="block text-xs text-pencil">year {last?.year}</span>
      </span>
    </li>
  );
}
