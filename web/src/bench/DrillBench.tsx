import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useMachines, useReckoning, useSeason, useStand } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Choice } from "../kit/Choice";
import { useDraft } from "../kit/draft";
import { Pick } from "../kit/Pick";
import { NumberBox } from "../kit/NumberBox";
import { QuantityField } from "../kit/Quantity";
import { NotYet, Trouble } from "../kit/states";
import { Tick } from "../kit/Tick";
import type { Task } from "../outbox/waiting";
import { numberOf } from "../records/amounts";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { plain } from "../units/format";
import { useUnits } from "../units/useUnits";
import { shelved } from "../units/words";
import { bys, caughtOf, courseOf, elsewhere, seenOf, type Written } from "./drill";
import { Rows, Seeds, Way } from "./DrillCatch";
import { Told } from "./DrillTold";
import { FieldPick } from "./FieldPick";
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
    return <NotYet what="Loading drill" of={[season, machines, stand, crops]} />;
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
    spacing: stand?.row_spacing ?? drills[0]?.facts.row_spacing ?? null,
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
      <form aria-label="Catch" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} hint="Fills in the planned seed and rate." />
        <div className="grid grid-cols-2 gap-x-4">
          <Pick
            label="Crop"
            value={crop}
            options={shelved((crops.data ?? []).filter((one) => one.seed))}
            onChange={(crop) => crop && onCrop(crop)}
          />
          {drills.length > 0 && (
            <Pick
              label="Drill"
              value={now.drill}
              empty="other drill"
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
            label="Target rate"
            bare={units.rate}
            value={now.aim}
            onChange={(aim) => change({ aim })}
            error={refused?.at("/aim")}
            hint="Bulk rate, as the seed comes from the bag."
          />
          <QuantityField
            label="Pure live seed (PLS)"
            bare="%"
            value={now.pls}
            onChange={(pls) => change({ pls })}
            error={refused?.at("/pls")}
            hint="For this lot."
          />
          <QuantityField
            label="Row spacing"
            bare={units.spacing}
            value={now.spacing}
            onChange={(spacing) => change({ spacing })}
            error={refused?.at("/row_spacing")}
            hint="Leave blank to use the crop’s usual spacing."
          />
          <QuantityField
            label="Seeds per pound or kilogram (this lot)"
            bare={units.perMass}
            value={now.per_mass}
            onChange={(per_mass) => change({ per_mass })}
            error={refused?.at("/seeds_per_mass")}
            hint="From the tag. Leave blank to use the crop’s usual count."
          />
          <NumberBox label="Drill setting" value={now.setting} onChange={(setting) => change({ setting })} />
        </div>
        {planned && elsewhere(now, planned) && (
          <button
            type="button"
            className="line-button text-left"
            data-plan
            onClick={() => change({ aim: planned.bulk_rate ?? null, pls: planned.pls ?? null })}
          >
            Use plan:{" "}
            {[planned.bulk_rate, planned.pls]
              .filter((one) => one != null)
              .map(plain)
              .join(", ")}
          </button>
        )}
        {others.length > 0 && (
          <fieldset className="pt-2">
            <legend className="text-sm font-semibold">Also in this box</legend>
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
                  {one.bulk_rate ? `, ${plain(one.bulk_rate)}` : ", no lot chosen"}
                </span>
              </Tick>
            ))}
          </fieldset>
        )}
        <p className="pt-2 text-sm font-semibold">Calibration method</p>
        <Choice label="Calibration method" value={now.by} options={bys} onChange={(by) => change({ by })} />
        {now.by === "count" ? (
          <Seeds now={now} change={change} refused={refused} />
        ) : (
          <>
            <Way now={now} change={change} refused={refused} />
            <div className="flex items-baseline justify-between pt-2">
              <p className="text-sm font-semibold">Catch</p>
              <Choice
                label="Weight unit"
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
                  label={`Total catch, ${now.unit}`}
                  value={now.mass}
                  onChange={(mass) => change({ mass })}
                />
                <NumberBox label="Rows caught" value={now.many} onChange={(many) => change({ many })} />
              </div>
            )}
            <Tick checked={now.beside} onChange={(beside) => change({ beside })}>
              Add a seed count
            </Tick>
            {now.beside && <Seeds now={now} change={change} refused={refused} />}
          </>
        )}
        <button type="button" className="line-button mt-2" onClick={forget}>
          Clear form
        </button>
      </form>
      <div className="min-w-0 space-y-4" aria-live="polite">
        {!ready && (
          <p className="text-pencil">Enter the target rate and PLS, then the catch and the test course.</p>
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
            Save calibration
          </button>
        )}
        {answer && <Cautions cautions={answer.cautions} />}
      </div>
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </div>
  );
}
