import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useMachines, useReckoning, useSeason, useStand } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Choice } from "../kit/Choice";
import { useDraft } from "../kit/draft";
import { Figure, type Explained } from "../kit/Figure";
import { Pick } from "../kit/Pick";
import { NumberBox } from "../kit/NumberBox";
import { QuantityField } from "../kit/Quantity";
import { NotYet, Trouble } from "../kit/states";
import { Tick } from "../kit/Tick";
import type { Task } from "../outbox/waiting";
import { numberOf, numbersIn } from "../records/amounts";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { plain, shareOf, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { shelved } from "../units/words";
import { FieldPick } from "./FieldPick";
import { RowBars } from "./RowBars";
import { Scale } from "./Scale";

interface Props {
  field: string;
  onField: (field: string) => void;
}

/** The drill: what was caught, how far that is from the aim, and which setting is next. */
export function DrillBench({ field, onField }: Props) {
  const farm = useFarm();
  const season = useSeason(farm.id);
  const machines = useMachines(farm.id);
  const strip = season.data?.strips.find((one) => one.field.id === field);
  const current = strip?.stands.at(-1);
  const stand = useStand(farm.id, current?.id);
  const crops = useCrops();
  if (
    season.data === undefined ||
    machines.data === undefined ||
    crops.data === undefined ||
    (current && stand.data === undefined)
  )
    return <NotYet what="Fetching the drill" of={[season, machines, stand, crops]} />;
  const need = stand.data?.implied.need?.members ?? [];
  // What is set out as plants is not drilled.
  const drilled = (id: string) => crops.data?.some((crop) => crop.id === id && crop.seed);
  return (
    <Boxes
      first={current?.crops.find(drilled) ?? "alfalfa"}
      key={field}
      field={field}
      name={strip?.field.name ?? ""}
      onField={onField}
      stand={current}
      drills={machines.data.machines.filter(({ facts }) => !facts.gone && facts.machine === "drill")}
      need={need}
    />
  );
}

/** Each box of the drill is calibrated for what it holds; what was written for one stands while another is. */
function Boxes(props: BoxesProps) {
  const farm = useFarm();
  const { now, change } = useDraft<{ crop: string }>(`drill.${farm.id}.${props.field}`, {
    crop: props.first,
  });
  return <Worked key={now.crop} {...props} crop={now.crop} onCrop={(crop) => change({ crop })} />;
}

type By = "rows" | "together" | "count";

interface Written {
  /** What else is in the box. */
  also: string[];
  drill: string;
  aim: Quantity | null;
  pls: Quantity | null;
  spacing: Quantity | null;
  by: By;
  way: "measured" | "turns";
  course: Quantity | null;
  turns: string;
  circumference: Quantity | null;
  lifted: boolean;
  skid: Quantity | null;
  unit: string;
  rows: string[];
  mass: string;
  many: string;
  /** Seeds in a mass of the lot, by its tag. */
  per_mass: Quantity | null;
  /** Counted beside what was weighed. */
  beside: boolean;
  on: "row" | "ground";
  seeds: string;
  along: Quantity | null;
  patch: Quantity | null;
  setting: string;
}

interface BoxesProps extends Props {
  /** The seed that is begun with. */
  first: string;
  name: string;
  stand: Schemas["StandView"] | undefined;
  drills: Schemas["MachineView"][];
  need: Schemas["NeededSeed"][];
}

interface WorkedProps extends BoxesProps {
  crop: string;
  onCrop: (crop: string) => void;
}

/** What was written aims at something else than the plan does now. */
function elsewhere(now: Written, planned: Schemas["NeededSeed"]): boolean {
  const off = (a: Quantity | null, b: Quantity | null | undefined) =>
    a !== null && b != null && (a.unit !== b.unit || Math.abs(a.value - b.value) > 0.005 * Math.abs(b.value));
  return off(now.aim, planned.bulk_rate) || off(now.pls, planned.pls);
}

const bys: { value: By; text: string }[] = [
  { value: "rows", text: "each row weighed" },
  { value: "together", text: "rows weighed together" },
  { value: "count", text: "seeds counted" },
];

function Worked({ field, name, onField, stand, drills, need, crop, onCrop }: WorkedProps) {
  const farm = useFarm();
  const units = useUnits();
  const crops = useCrops();
  const [task, setTask] = useState<Task | null>(null);
  const planned = need.find((one) => one.crop === crop);
  const { now, change, forget } = useDraft<Written>(`drill.${farm.id}.${field}.${crop}`, {
    also: [],
    drill: drills[0]?.id ?? "",
    aim: planned?.bulk_rate ?? null,
    pls: planned?.pls ?? null,
    spacing: drills[0]?.facts.row_spacing ?? null,
    by: "rows",
    way: "measured",
    course: null,
    turns: "",
    circumference: null,
    lifted: true,
    skid: null,
    unit: units.small,
    rows: ["", "", "", "", "", "", "", ""],
    mass: "",
    many: "",
    per_mass: planned?.seeds_per_mass ?? null,
    beside: false,
    on: "row",
    seeds: "",
    along: null,
    patch: null,
    setting: "",
  });
  const drill = drills.find(({ id }) => id === now.drill);
  const caught = caughtOf(now);
  const seen = seenOf(now);
  const course = courseOf(now);
  const setting = numberOf(now.setting);
  const ready =
    now.aim !== null &&
    now.pls !== null &&
    (now.by === "count" ? seen !== null : caught !== null && course !== null);
  const others = need.filter((one) => one.crop !== crop);
  const also = others.filter((one) => now.also.includes(one.crop) && one.bulk_rate && one.pls);
  const together = also.map((one) => one.crop).sort();
  const request = {
    crop,
    also: also.map(({ crop, bulk_rate, pls, seeds_per_mass }) => ({
      crop,
      aim: bulk_rate,
      pls,
      seeds_per_mass,
    })),
    seeds_per_mass: now.per_mass as Schemas["CountPerMass"] | null,
    aim: now.aim as Schemas["MassPerArea"],
    pls: now.pls as Schemas["Fraction"],
    row_spacing: now.spacing as Schemas["Length"] | null,
    ...(now.by === "count" || now.beside ? { seen } : {}),
    ...(now.by === "count" ? {} : { caught, course }),
    ...(setting !== null && Number.isFinite(setting) ? { setting } : {}),
    tried: (drill?.catches ?? [])
      .filter(
        ({ catch: one }) =>
          one.crop === crop &&
          [...(one.also ?? [])].sort().join() === together.join() &&
          one.setting != null &&
          one.setting !== setting,
      )
      .map(({ catch: one }) => ({ setting: one.setting as number, rate: one.rate })),
  };
  const told = useReckoning(
    "drill.calibrate",
    [units.system, request],
    () =>
      answered(api.POST("/api/reckon/drill.calibrate", { body: request as Schemas["CalibrationRequest"] })),
    ready,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  const keep = () =>
    answer &&
    setTask({
      form: "drill-set",
      title: "Drill calibrated",
      where: name,
      field,
      stand: stand?.id,
      with: {
        crop,
        ...(together.length > 0 ? { also: together } : {}),
        rate: answer.value.sound_rate,
        ...(setting !== null ? { setting } : {}),
        ...(caught?.by === "rows" ? { rows: caught.masses } : {}),
        ...(answer.value.distance ? { course: answer.value.distance } : {}),
        ...(now.drill ? { machine: now.drill } : {}),
      },
    });
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[26rem_minmax(0,1fr)]">
      <form aria-label="The catch" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} hint="brings what is to be sown there" />
        <div className="grid grid-cols-2 gap-x-4">
          <Pick
            label="Seed of"
            value={crop}
            options={shelved((crops.data ?? []).filter((one) => one.seed))}
            onChange={(crop) => crop && onCrop(crop)}
          />
          {drills.length > 0 && (
            <Pick
              label="Drill"
              value={now.drill}
              empty="another"
              clears
              options={drills.map(({ id, facts }) => ({ value: id, text: facts.name }))}
              onChange={(id) =>
                change({
                  drill: id,
                  spacing: drills.find((one) => one.id === id)?.facts.row_spacing ?? now.spacing,
                })
              }
            />
          )}
          <QuantityField
            label="Aim"
            bare={units.rate}
            value={now.aim}
            onChange={(aim) => change({ aim })}
            error={refused?.at("/aim")}
            hint="out of the bag"
          />
          <QuantityField
            label="Pure live seed"
            bare="%"
            value={now.pls}
            onChange={(pls) => change({ pls })}
            error={refused?.at("/pls")}
            hint="of this lot"
          />
          <QuantityField
            label="Between rows"
            bare={units.spacing}
            value={now.spacing}
            onChange={(spacing) => change({ spacing })}
            error={refused?.at("/row_spacing")}
            hint="empty: the crop’s usual"
          />
          <QuantityField
            label="Seeds, of this lot"
            bare={units.perMass}
            value={now.per_mass}
            onChange={(per_mass) => change({ per_mass })}
            error={refused?.at("/seeds_per_mass")}
            hint="by its tag; empty: as usual"
          />
          <NumberBox label="Setting" value={now.setting} onChange={(setting) => change({ setting })} />
        </div>
        {planned && elsewhere(now, planned) && (
          <button
            type="button"
            className="line-button text-left"
            data-plan
            onClick={() => change({ aim: planned.bulk_rate ?? null, pls: planned.pls ?? null })}
          >
            The plan has{" "}
            {[planned.bulk_rate, planned.pls]
              .filter((one) => one != null)
              .map(plain)
              .join(", ")}
            : take it
          </button>
        )}
        {others.length > 0 && (
          <fieldset className="pt-2">
            <legend className="text-sm font-semibold">With it in this box</legend>
            {others.map((one) => (
              <Tick
                key={one.crop}
                checked={now.also.includes(one.crop)}
                disabled={!one.bulk_rate}
                onChange={(on) =>
                  change({
                    also: on ? [...now.also, one.crop] : now.also.filter((other) => other !== one.crop),
                  })
                }
              >
                {crops.data?.find(({ id }) => id === one.crop)?.name ?? one.crop}
                <span className="text-pencil">
                  {one.bulk_rate ? `, ${plain(one.bulk_rate)}` : ", no lot was chosen for it"}
                </span>
              </Tick>
            ))}
          </fieldset>
        )}
        <p className="pt-2 text-sm font-semibold">Found by</p>
        <Choice label="Found by" value={now.by} options={bys} onChange={(by) => change({ by })} />
        {now.by === "count" ? (
          <Seeds now={now} change={change} refused={refused} />
        ) : (
          <>
            <Way now={now} change={change} refused={refused} />
            <div className="flex items-baseline justify-between pt-2">
              <p className="text-sm font-semibold">Caught</p>
              <Choice
                label="Weighed in"
                value={now.unit}
                options={["g", "oz"].map((value) => ({ value, text: value }))}
                onChange={(unit) => change({ unit })}
              />
            </div>
            {now.by === "rows" ? (
              <>
                <Rows rows={now.rows} unit={now.unit} onRows={(rows) => change({ rows })} />
                {farm.scale && (
                  <Scale
                    cup={`${name} ${crop}`}
                    unit={now.unit === "oz" ? "oz" : "g"}
                    rows={now.rows}
                    // What was written while the scale was waited for stands.
                    onWeighed={(at, weight) =>
                      change(({ rows }) => ({
                        rows: rows.map((row, index) => (index === at && row.trim() === "" ? weight : row)),
                      }))
                    }
                  />
                )}
              </>
            ) : (
              <div className="grid grid-cols-2 gap-x-4">
                <NumberBox
                  label={`Of all, ${now.unit}`}
                  value={now.mass}
                  onChange={(mass) => change({ mass })}
                />
                <NumberBox label="Rows" value={now.many} onChange={(many) => change({ many })} />
              </div>
            )}
            <Tick checked={now.beside} onChange={(beside) => change({ beside })}>
              Seeds were counted, too
            </Tick>
            {now.beside && <Seeds now={now} change={change} refused={refused} />}
          </>
        )}
        <button type="button" className="line-button mt-2" onClick={forget}>
          Begin anew
        </button>
      </form>
      <div className="min-w-0 space-y-4" aria-live="polite">
        {!ready && (
          <p className="text-pencil">
            Say the aim and the lot’s pure live seed, then what was caught, and over which way.
          </p>
        )}
        {refused && <Trouble error={refused} />}
        {answer && (
          <Told
            answer={answer}
            weighed={now.unit}
            names={(id) => crops.data?.find((crop) => crop.id === id)?.name ?? id}
          />
        )}
        {answer && stand && farm.role !== "adviser" && answer.value.verdict !== "nothing" && (
          <button type="button" className="ink-button max-sm:min-h-12 max-sm:w-full" onClick={keep}>
            Keep this calibration
          </button>
        )}
        {answer && <Cautions cautions={answer.cautions} />}
      </div>
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </div>
  );
}

const verdicts: Record<Schemas["CalibrationVerdict"], string> = {
  right: "● Set",
  near: "◐ Near",
  off: "✕ Set it again",
  nothing: "✕ Nothing came out",
};

const hows: Record<Schemas["SettingFrom"], string> = {
  proportion: "by proportion",
  "two-catches": "on the line through two catches",
  curve: "on this drill’s own curve",
};

/** What the count says beside the catch. */
function ofCatch({ value, unit }: Quantity): string {
  const off = plain({ value: Math.abs(value), unit });
  return Math.abs(shareOf({ value, unit })) < 0.005
    ? "as the catch says"
    : `${off} ${value < 0 ? "less" : "more"} than the catch says`;
}

interface ToldProps {
  answer: Explained & { value: Schemas["DrillCalibration"] };
  /** A crop's name. */
  names: (crop: string) => string;
  /** What was weighed is told in this unit again. */
  weighed: string;
}

function Told({ answer, names, weighed }: ToldProps) {
  const { value } = answer;
  const off = value.off_aim;
  return (
    <>
      <p className="text-2xl font-bold" data-verdict={value.verdict}>
        {verdicts[value.verdict]}
      </p>
      <p>
        <Figure
          quantity={value.sound_rate}
          explains={answer}
          label="It came to"
          className="text-4xl font-bold"
        />
        <span className="block text-sm text-pencil">
          {plain({ ...off, value: Math.abs(off.value) })} {off.value < 0 ? "under" : "over"} the aim;{" "}
          {plain(value.live_seeds)} live seeds
        </span>
      </p>
      {value.members.length > 0 && (
        <ul aria-label="Of each in the box" className="border-t border-rule">
          {value.members.map((one) => (
            <li
              key={one.crop}
              data-member={one.crop}
              className="flex justify-between border-b border-rule py-1"
            >
              <span>{names(one.crop)}</span>
              <span>
                {plain(one.bulk_rate)} <span className="text-pencil">{plain(one.pls_rate)} pure live</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      {plain(value.bulk_rate) !== plain(value.sound_rate) && (
        <p>
          With the rows out of line the field gets <Figure quantity={value.bulk_rate} explains={answer} />.
        </p>
      )}
      {value.next && (
        <p data-next={value.next.setting.toFixed(2)}>
          Try setting <strong className="text-2xl">{trimmed(value.next.setting)}</strong>
          <span className="text-pencil">
            , {hows[value.next.how]}
            {value.next.far && "; well beyond what was tried: catch again before you trust it"}
          </span>
        </p>
      )}
      {value.by_count?.against_catch && (
        <p data-against={value.by_count.against_catch.value.toFixed(1)}>
          By count <strong>{plain(value.by_count.bulk_rate)}</strong>, {ofCatch(value.by_count.against_catch)}
          .
        </p>
      )}
      {value.rows && <RowBars found={value.rows} unit={weighed} />}
      {value.rows && value.rows.look_for.length > 0 && (
        <>
          <h2>Look for, from the ground upwards</h2>
          <ol className="list-decimal pl-5">
            {value.rows.look_for.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ol>
        </>
      )}
      {value.remarks.map((one) => (
        <p key={one} className="text-pencil">
          {one}
        </p>
      ))}
    </>
  );
}

const trimmed = (value: number) => value.toPrecision(3).replace(/\.?0+$/, "");

interface WayProps {
  now: Written;
  change: (part: Partial<Written>) => void;
  refused: Refused | undefined;
}

function Way({ now, change, refused }: WayProps) {
  const units = useUnits();
  return (
    <>
      <p className="pt-2 text-sm font-semibold">Over</p>
      <Choice
        label="Over"
        value={now.way}
        options={[
          { value: "measured", text: "a measured way" },
          { value: "turns", text: "turns of the wheel" },
        ]}
        onChange={(way) => change({ way })}
      />
      {now.way === "measured" ? (
        <QuantityField
          label="The way"
          bare={units.course}
          value={now.course}
          onChange={(course) => change({ course })}
          error={refused?.at("/course/length")}
        />
      ) : (
        <div className="grid grid-cols-2 gap-x-4">
          <NumberBox
            label="Turns"
            value={now.turns}
            onChange={(turns) => change({ turns })}
            error={refused?.at("/course/turns")}
          />
          <QuantityField
            label="One turn rolls"
            bare={units.course}
            value={now.circumference}
            onChange={(circumference) => change({ circumference })}
            error={refused?.at("/course/circumference")}
          />
          <QuantityField
            label="Skid in the field"
            bare="%"
            value={now.skid}
            onChange={(skid) => change({ skid })}
            error={refused?.at("/course/skid")}
            hint="empty: none"
          />
          <div className="pt-2">
            <p className="text-sm font-semibold">Turn measured</p>
            <Choice
              label="Turn measured"
              value={now.lifted ? "lifted" : "loaded"}
              options={[
                { value: "lifted", text: "wheel lifted" },
                { value: "loaded", text: "on the ground" },
              ]}
              onChange={(how) => change({ lifted: how === "lifted" })}
            />
          </div>
        </div>
      )}
    </>
  );
}

/** A box for each row; the last one filled brings the next. */
function Rows({ rows, unit, onRows }: { rows: string[]; unit: string; onRows: (rows: string[]) => void }) {
  return (
    <>
      <div className="grid grid-cols-4 gap-x-3">
        {rows.map((text, at) => (
          <NumberBox
            key={at}
            label={`Row ${at + 1}`}
            value={text}
            onChange={(next) => onRows(rows.map((one, index) => (index === at ? next : one)))}
          />
        ))}
      </div>
      <p className="text-sm text-pencil">In {unit}; a row that dropped nothing is 0.</p>
      <button
        type="button"
        className="line-button"
        disabled={rows.length >= 60}
        onClick={() => onRows([...rows, ""])}
      >
        One more row
      </button>
      <button
        type="button"
        className="line-button"
        disabled={rows.length <= 1}
        onClick={() => onRows(rows.slice(0, -1))}
      >
        One less
      </button>
    </>
  );
}

/** Seeds counted along rows, or on a sheet or tray laid in the way: by hand it is sown on one, too. */
function Seeds({ now, change, refused }: WayProps) {
  const units = useUnits();
  const ground = now.on === "ground";
  return (
    <>
      <Choice<Written["on"]>
        label="Counted"
        value={now.on}
        options={[
          { value: "row", text: "along a row" },
          { value: "ground", text: "on a sheet or tray" },
        ]}
        onChange={(on) => change({ on })}
      />
      <div className="grid grid-cols-2 gap-x-4">
        <NumberBox
          label="Seeds in each"
          value={now.seeds}
          onChange={(seeds) => change({ seeds })}
          hint="several counts, with spaces"
          error={refused?.at("/seen/counts")}
          words
        />
        {ground ? (
          <QuantityField
            label="Each is so large"
            bare={units.frame}
            value={now.patch}
            onChange={(patch) => change({ patch })}
            error={refused?.at("/seen/patch")}
          />
        ) : (
          <QuantityField
            label="Along so much row"
            bare={units.course}
            value={now.along}
            onChange={(along) => change({ along })}
            error={refused?.at("/seen/length")}
          />
        )}
      </div>
    </>
  );
}

function caughtOf(now: Written): Schemas["DrillCatch"] | null {
  const mass = (value: number) => ({ value, unit: now.unit }) as Schemas["Mass"];
  if (now.by === "rows") {
    const rows = numbersIn(now.rows);
    return rows && { by: "rows", masses: rows.map(mass) };
  }
  const [all] = numbersIn([now.mass]) ?? [];
  const [many] = numbersIn([now.many]) ?? [];
  return all === undefined || many === undefined
    ? null
    : { by: "together", mass: mass(all), rows: Math.round(many) };
}

function courseOf(now: Written): Schemas["DrillCourse"] | null {
  if (now.way === "measured")
    return now.course && { by: "measured", length: now.course as Schemas["Length"] };
  const [turns] = numbersIn([now.turns]) ?? [];
  if (turns === undefined || now.circumference === null) return null;
  return {
    by: "turns",
    turns,
    circumference: now.circumference as Schemas["Length"],
    off_the_ground: now.lifted,
    skid: now.skid as Schemas["Fraction"] | null,
  };
}

function seenOf(now: Written): Schemas["DrillCount"] | null {
  const counts = numbersIn(now.seeds.split(/[\s,;]+/));
  if (!counts) return null;
  if (now.on === "ground")
    return now.patch && { by: "on-ground", counts, patch: now.patch as Schemas["Area"] };
  return now.along && { by: "in-rows", counts, length: now.along as Schemas["Length"] };
}
