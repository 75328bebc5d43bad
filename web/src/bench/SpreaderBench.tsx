import { Link } from "@tanstack/react-router";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useReckoning } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Choice } from "../kit/Choice";
import { useDraft } from "../kit/draft";
import { Figure } from "../kit/Figure";
import { NumberBox } from "../kit/NumberBox";
import { QuantityField } from "../kit/Quantity";
import { Trouble } from "../kit/states";
import { Tick } from "../kit/Tick";
import { numbersIn } from "../records/amounts";
import { useFarm } from "../shell/farm";
import { plain, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";

interface Written {
  trays: string;
  unit: string;
  spacing: Quantity | null;
  passes: Schemas["Passes"];
  width: Quantity | null;
  mass: Quantity | null;
  time: Quantity | null;
  speed: Quantity | null;
  aim: Quantity | null;
  twice: boolean;
}

/** The spreader: how wide it spreads evenly, and how much. */
export function SpreaderBench() {
  const farm = useFarm();
  const units = useUnits();
  const { now, change, forget } = useDraft<Written>(`spreader.${farm.id}`, {
    trays: "",
    unit: "g",
    spacing: null,
    passes: "back-and-forth",
    width: null,
    mass: null,
    time: null,
    speed: null,
    aim: null,
    twice: true,
  });
  const trays = numbersIn(now.trays.split(/[\s,;]+/));
  const ready = trays !== null && now.spacing !== null;
  const flowing = now.mass && now.time && now.speed;
  const request = {
    trays: (trays ?? []).map((value) => ({ value, unit: now.unit })) as Schemas["Mass"][],
    tray_spacing: now.spacing as Schemas["Length"],
    passes: now.passes,
    ...(now.width ? { width: now.width as Schemas["Length"] } : {}),
    ...(flowing
      ? {
          flow: {
            mass: now.mass as Schemas["Mass"],
            time: now.time as Schemas["Time"],
            speed: now.speed as Schemas["Speed"],
            two_passes: now.twice,
            ...(now.aim ? { aim: now.aim as Schemas["MassPerArea"] } : {}),
          },
        }
      : {}),
  };
  const told = useReckoning(
    "spreader.pattern",
    [units.system, request],
    () => answered(api.POST("/api/reckon/spreader.pattern", { body: request })),
    ready,
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const answer = refused || !ready ? undefined : told.data;
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[26rem_minmax(0,1fr)]">
      <form aria-label="Trays" onSubmit={(event) => event.preventDefault()}>
        <NumberBox
          label="Tray weights, left to right"
          value={now.trays}
          onChange={(trays) => change({ trays })}
          hint="Use an odd number, with the middle tray on the driving line."
          error={refused?.at("/trays")}
          words
        />
        <div className="grid grid-cols-2 gap-x-4">
          <div className="pt-2">
            <p className="text-sm font-semibold">Weight unit</p>
            <Choice
              label="Weight unit"
              value={now.unit}
              options={["g", "oz"].map((value) => ({ value, text: value }))}
              onChange={(unit) => change({ unit })}
            />
          </div>
          <QuantityField
            label="Tray spacing"
            bare={units.course}
            value={now.spacing}
            onChange={(spacing) => change({ spacing })}
            error={refused?.at("/tray_spacing")}
          />
        </div>
        <p className="pt-2 text-sm font-semibold">Driving pattern</p>
        <Choice<Schemas["Passes"]>
          label="Driving pattern"
          value={now.passes}
          options={[
            { value: "back-and-forth", text: "back and forth" },
            { value: "round-and-round", text: "round and round" },
          ]}
          onChange={(passes) => change({ passes })}
        />
        <QuantityField
          label="Pass width"
          bare={units.course}
          value={now.width}
          onChange={(width) => change({ width })}
          error={refused?.at("/width")}
          hint="Leave blank to use the widest even width."
        />
        <h2 className="pt-3">Application rate</h2>
        <div className="grid grid-cols-2 gap-x-4">
          <QuantityField
            label="Amount collected"
            bare={units.mass}
            value={now.mass}
            onChange={(mass) => change({ mass })}
            error={refused?.at("/flow/mass")}
          />
          <QuantityField
            label="Collection time"
            bare="s"
            value={now.time}
            onChange={(time) => change({ time })}
            error={refused?.at("/flow/time")}
          />
          <QuantityField
            label="Speed"
            bare={units.speed}
            value={now.speed}
            onChange={(speed) => change({ speed })}
            error={refused?.at("/flow/speed")}
          />
          <QuantityField
            label="Target rate"
            bare={units.rate}
            value={now.aim}
            onChange={(aim) => change({ aim })}
            error={refused?.at("/flow/aim")}
          />
        </div>
        <Tick checked={now.twice} onChange={(twice) => change({ twice })}>
          Two passes at right angles, half rate each
        </Tick>
        <p className="text-sm text-pencil">
          Sowing by hand? Lay out sheets or trays and{" "}
          <Link
            to="/farms/$farm/bench"
            params={{ farm: farm.id }}
            search={{ at: "drill" }}
            className="underline"
          >
            count the seeds on them
          </Link>
          .
        </p>
        <button type="button" className="line-button" onClick={forget}>
          Clear form
        </button>
      </form>
      <div className="min-w-0 space-y-4" aria-live="polite">
        {!ready && (
          <p className="text-pencil">
            Set trays across the driving line, make one pass, and weigh each tray.
          </p>
        )}
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <p>
              {answer.value.even_to ? (
                <>
                  <Figure
                    quantity={answer.value.even_to}
                    explains={answer}
                    label="Widest even pass"
                    className="text-4xl font-bold"
                  />
                  <span className="block text-sm text-pencil">widest even pass</span>
                </>
              ) : (
                <span className="text-2xl font-bold">✕ Not even at any width</span>
              )}
            </p>
            <Widths widths={answer.value.widths} />
            {answer.value.at && (
              <Across
                across={answer.value.across}
                width={answer.value.at.width}
                by={answer.value.at.variation}
              />
            )}
            {answer.value.rate && (
              <p>
                Applies{" "}
                <Figure quantity={answer.value.rate.per_pass} explains={answer} label="Rate per pass" /> per
                pass, <strong>{plain(answer.value.rate.in_all)}</strong> total
                {answer.value.rate.open_to && (
                  <>; for the target rate set the flow to {plain(answer.value.rate.open_to)}</>
                )}
                .
              </p>
            )}
            {answer.value.remarks.map((one) => (
              <p key={one} className="text-pencil">
                {one}
              </p>
            ))}
            <Cautions cautions={answer.cautions} />
          </>
        )}
      </div>
    </div>
  );
}

/** How uneven it is at each width: under the line it is even. */
function Widths({ widths }: { widths: readonly Schemas["SwathTried"][] }) {
  const high = 96;
  const most = Math.max(40, ...widths.map((one) => one.variation.value));
  const step = 100 / widths.length;
  return (
    <figure aria-label="Variation at each pass width">
      <svg viewBox={`0 0 100 ${high}`} preserveAspectRatio="none" className="h-24 w-full" aria-hidden>
        {widths.map((one, at) => {
          const tall = (high * Math.min(one.variation.value, most)) / most;
          return (
            <rect
              key={at}
              x={at * step + step * 0.1}
              width={step * 0.8}
              y={high - tall}
              height={Math.max(tall, 1)}
              className={one.variation.value <= 15 ? "fill-growth" : "fill-rule"}
            />
          );
        })}
        <line
          x1="0"
          x2="100"
          y1={high - (high * 15) / most}
          y2={high - (high * 15) / most}
          className="stroke-ink"
          vectorEffect="non-scaling-stroke"
          strokeDasharray="4 3"
        />
      </svg>
      <figcaption className="flex justify-between text-sm text-pencil">
        <span>{plain(widths[0]?.width ?? { value: 0, unit: "m" })}</span>
        <span>pass width; even below the dashed line (15%)</span>
        <span>{plain(widths.at(-1)?.width ?? { value: 0, unit: "m" })}</span>
      </figcaption>
    </figure>
  );
}

/** What falls across one width, passes beside it added. */
function Across({ across, width, by }: { across: readonly number[]; width: Quantity; by: Quantity }) {
  const most = Math.max(1.4, ...across);
  return (
    <figure aria-label="Spread across the pass">
      <div className="flex h-16 items-end gap-px border-b-2 border-ink" aria-hidden>
        {across.map((one, at) => (
          <div key={at} className="flex-1 bg-straw" style={{ height: `${(100 * one) / most}%` }} />
        ))}
      </div>
      <figcaption className="text-sm text-pencil">
        over {plain(width)} with overlap: variation {plain(by)}
      </figcaption>
    </figure>
  );
}
