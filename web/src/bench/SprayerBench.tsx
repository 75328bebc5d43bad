import { answered, api, Refused, type Schemas } from "../api/client";
import { useReckoning } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Choice } from "../kit/Choice";
import { useDraft } from "../kit/draft";
import { Figure } from "../kit/Figure";
import { NumberBox } from "../kit/NumberBox";
import { QuantityField } from "../kit/Quantity";
import { Trouble } from "../kit/states";
import { numbersIn } from "../records/amounts";
import { useFarm } from "../shell/farm";
import { plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";

interface Written {
  nozzles: string;
  unit: string;
  spacing: Quantity | null;
  by: "course" | "timed";
  course: Quantity | null;
  time: Quantity | null;
  speed: Quantity | null;
  new_nozzle: string;
  density: Quantity | null;
  aim: Quantity | null;
}

const states: Record<Schemas["NozzleState"], string> = {
  good: "● OK",
  strays: "◐ off target: clean and level",
  worn: "✕ worn: replace",
  blocked: "✕ blocked: clean",
};

/** The sprayer: what goes out per area, and which nozzles are worn. */
export function SprayerBench() {
  const farm = useFarm();
  const units = useUnits();
  const { now, change, forget } = useDraft<Written>(`sprayer.${farm.id}`, {
    nozzles: "",
    unit: units.nozzle,
    spacing: null,
    by: "course",
    course: null,
    time: null,
    speed: null,
    new_nozzle: "",
    density: null,
    aim: null,
  });
  const volume = (value: number) => ({ value, unit: now.unit }) as Schemas["Volume"];
  const gave = numbersIn(now.nozzles.split(/[\s,;]+/));
  const [fresh] = numbersIn([now.new_nozzle]) ?? [];
  const ran: Schemas["NozzleRun"] | null =
    now.by === "course"
      ? now.course && { by: "course", length: now.course as Schemas["Length"] }
      : now.time && now.speed
        ? { by: "timed", time: now.time as Schemas["Time"], speed: now.speed as Schemas["Speed"] }
        : null;
  const ready = gave !== null && ran !== null && now.spacing !== null;
  const request = {
    nozzles: (gave ?? []).map(volume),
    ran: ran as Schemas["NozzleRun"],
    spacing: now.spacing as Schemas["Length"],
    ...(fresh === undefined ? {} : { new_nozzle: volume(fresh) }),
    ...(now.density ? { density: now.density as Schemas["MassPerVolume"] } : {}),
    ...(now.aim ? { aim: now.aim as Schemas["VolumePerArea"] } : {}),
  };
  const told = useReckoning(
    "sprayer.output",
    [units.system, request],
    () => answered(api.POST("/api/reckon/sprayer.output", { body: request })),
    ready,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[26rem_minmax(0,1fr)]">
      <form aria-label="Nozzles" onSubmit={(event) => event.preventDefault()}>
        <NumberBox
          label="Nozzle catches"
          value={now.nozzles}
          onChange={(nozzles) => change({ nozzles })}
          hint="Water, left to right, e.g. 15.2 15.4 15.1"
          error={refused?.at("/nozzles")}
          words
        />
        <div className="grid grid-cols-2 gap-x-4">
          <div className="pt-2">
            <p className="text-sm font-semibold">Unit</p>
            <Choice
              label="Unit"
              value={now.unit}
              options={[
                { value: "floz", text: "fl oz" },
                { value: "mL", text: "mL" },
              ]}
              onChange={(unit) => change({ unit })}
            />
          </div>
          <QuantityField
            label="Nozzle spacing"
            bare={units.spacing}
            value={now.spacing}
            onChange={(spacing) => change({ spacing })}
            error={refused?.at("/spacing")}
            hint="Or the band width."
          />
        </div>
        <p className="pt-2 text-sm font-semibold">Catch time from</p>
        <Choice
          label="Catch time from"
          value={now.by}
          options={[
            { value: "course", text: "test course" },
            { value: "timed", text: "seconds" },
          ]}
          onChange={(by) => change({ by })}
        />
        {now.by === "course" ? (
          <QuantityField
            label="Test course length"
            bare={units.course}
            value={now.course}
            onChange={(course) => change({ course })}
            error={refused?.at("/ran/length")}
          />
        ) : (
          <div className="grid grid-cols-2 gap-x-4">
            <QuantityField
              label="Catch time"
              bare="s"
              value={now.time}
              onChange={(time) => change({ time })}
              error={refused?.at("/ran/time")}
            />
            <QuantityField
              label="Ground speed"
              bare={units.speed}
              value={now.speed}
              onChange={(speed) => change({ speed })}
              error={refused?.at("/ran/speed")}
            />
          </div>
        )}
        <div className="grid grid-cols-2 gap-x-4">
          <NumberBox
            label="New nozzle output"
            value={now.new_nozzle}
            onChange={(new_nozzle) => change({ new_nozzle })}
            hint="From the nozzle chart, over the same time."
          />
          <QuantityField
            label="Target rate"
            bare={units.poured}
            value={now.aim}
            onChange={(aim) => change({ aim })}
            error={refused?.at("/aim")}
          />
          <QuantityField
            label="Liquid density"
            bare="kg/m3"
            value={now.density}
            onChange={(density) => change({ density })}
            error={refused?.at("/density")}
            hint="Leave blank for water (1,000)."
          />
        </div>
        <button type="button" className="line-button" onClick={forget}>
          Clear form
        </button>
      </form>
      <div className="min-w-0 space-y-4" aria-live="polite">
        {!ready && <p className="text-pencil">Enter the nozzle catches and the test course.</p>}
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p>
              <Figure
                quantity={answer.value.of_product}
                explains={answer}
                label="Application rate"
                className="text-4xl font-bold"
              />
              {answer.value.off_aim && (
                <span className="block text-sm text-pencil">
                  {plain({ ...answer.value.off_aim, value: Math.abs(answer.value.off_aim.value) })}{" "}
                  {answer.value.off_aim.value < 0 ? "under" : "over"} target
                  {answer.value.speed_for_aim && <>; on target at {plain(answer.value.speed_for_aim)}</>}
                  {answer.value.pressure_for_aim != null && (
                    <>
                      ; or at {answer.value.pressure_for_aim.toFixed(2)} times the pressure, within the
                      nozzle’s range
                    </>
                  )}
                </span>
              )}
            </p>
            <ol className="border-t-2 border-ink" aria-label="Nozzles">
              {answer.value.nozzles.map((one) => (
                <li
                  key={one.nozzle}
                  data-state={one.state}
                  className="grid grid-cols-[2rem_6rem_5rem_minmax(0,1fr)] gap-x-2 border-b border-rule py-1 text-sm"
                >
                  <span className="text-right text-pencil">{one.nozzle}</span>
                  <span>{plain(one.gave)}</span>
                  <span className="text-pencil">{plain(one.of_mean)}</span>
                  <span className={one.state === "good" ? "text-growth" : "font-semibold text-stop"}>
                    {states[one.state]}
                  </span>
                </li>
              ))}
            </ol>
            <p className="text-sm text-pencil">
              On a {plain(answer.value.course_128th)} course, fluid ounces per nozzle equal gallons per acre.
            </p>
            <Cautions cautions={answer.cautions} />
          </>
        )}
      </div>
    </div>
  );
}
