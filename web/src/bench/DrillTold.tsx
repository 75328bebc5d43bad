import type { Schemas } from "../api/client";
import { Figure, type Explained } from "../kit/Figure";
import { plain, shareOf, type Quantity } from "../units/format";
import { RowBars } from "./RowBars";

const verdicts: Record<Schemas["CalibrationVerdict"], string> = {
  right: "● On target",
  near: "◐ Close",
  off: "✕ Change the setting",
  blocked: "✕ Row blocked",
  nothing: "✕ No seed came out",
};

const hows: Record<Schemas["SettingFrom"], string> = {
  proportion: "by proportion from one catch",
  "two-catches": "from two catches",
  curve: "from this drill’s curve",
};

/** What the count says beside the catch. */
function ofCatch({ value, unit }: Quantity): string {
  const off = plain({ value: Math.abs(value), unit });
  return Math.abs(shareOf({ value, unit })) < 0.005
    ? "same as the catch"
    : `${off} ${value < 0 ? "less" : "more"} than the catch`;
}

interface ToldProps {
  answer: Explained & { value: Schemas["DrillCalibration"] };
  /** A crop's name. */
  names: (crop: string) => string;
  /** What was weighed is told in this unit again. */
  weighed: string;
}

export function Told({ answer, names, weighed }: ToldProps) {
  const { value } = answer;
  const off = value.off_aim;
  return (
    <>
      <p className="text-2xl font-bold" data-verdict={value.verdict}>
        {value.verdict === "blocked" && value.rows ? blockedRows(value.rows.rows) : verdicts[value.verdict]}
      </p>
      <p>
        <Figure
          quantity={value.sound_rate}
          explains={answer}
          label="Calibrated rate"
          className="text-4xl font-bold"
        />
        <span className="block text-sm text-pencil">
          {value.verdict === "blocked" && "from the rows that run: "}
          {plain({ ...off, value: Math.abs(off.value) })} {off.value < 0 ? "under" : "over"} target;{" "}
          {plain(value.live_seeds)} live seeds
        </span>
      </p>
      {value.members.length > 0 && (
        <ul aria-label="Rate of each seed in the box" className="border-t border-rule">
          {value.members.map((one) => (
            <li
              key={one.crop}
              data-member={one.crop}
              className="flex justify-between border-b border-rule py-1"
            >
              <span>{names(one.crop)}</span>
              <span>
                {plain(one.bulk_rate)} <span className="text-pencil">{plain(one.pls_rate)} PLS</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      {plain(value.bulk_rate) !== plain(value.sound_rate) && (
        <p>
          Including the rows that are off, the field gets{" "}
          <Figure quantity={value.bulk_rate} explains={answer} />.
        </p>
      )}
      {value.next && (
        <p data-next={value.next.setting.toFixed(2)}>
          Try setting <strong className="text-2xl">{trimmed(value.next.setting)}</strong>
          <span className="text-pencil">
            , {hows[value.next.how]}
            {value.next.far && "; outside the tested range, so catch again before relying on it"}
          </span>
        </p>
      )}
      {value.by_count?.against_catch && (
        <p data-against={value.by_count.against_catch.value.toFixed(1)}>
          Seed count: <strong>{plain(value.by_count.bulk_rate)}</strong>,{" "}
          {ofCatch(value.by_count.against_catch)}.
        </p>
      )}
      {value.rows && <RowBars found={value.rows} unit={weighed} />}
      {value.rows && value.rows.look_for.length > 0 && (
        <>
          <h2>What to check, from the ground up</h2>
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

/** "✕ Row 5 blocked". */
function blockedRows(rows: readonly Schemas["DrillRowFound"][]): string {
  const blocked = rows.filter((row) => row.state === "nothing").map((row) => row.row);
  return `✕ ${blocked.length === 1 ? "Row" : "Rows"} ${blocked.join(", ")} blocked`;
}

const trimmed = (value: number) => value.toPrecision(3).replace(/\.?0+$/, "");
