import { useRef } from "react";
import type { Schemas } from "../api/client";
import { Axis, timeScale } from "../draw/Axis";
import { StepMark, standingOf } from "../draw/marks";
import { apart, placed, roomFor } from "../draw/Strip";
import { useSpan } from "../draw/span";
import { useWidth } from "../draw/useWidth";
import { day, dayText, isoDay } from "../units/format";

const DAY = 86_400_000;
const HEIGHT = 78;

interface Props {
  plan: Schemas["Plan"];
  sowOn: string;
  onSowOn: (day: string) => void;
  today: string;
}

/** The year with the plan in pencil; the sowing mark is dragged, or moved with the arrow keys. */
export function SowingStrip({ plan, sowOn, onSowOn, today }: Props) {
  const [width, ref] = useWidth();
  const { span } = useSpan();
  const scale = timeScale(span, width);
  const dragging = useRef(false);
  const base = HEIGHT - 16;
  const stand = { id: "draft", marks: [], plan } as unknown as Schemas["StandView"];
  const all = apart(
    placed(stand, scale).map((mark) => (mark.kind === "sow" ? { ...mark, x: scale(day(sowOn)) } : mark)),
    width,
  );
  const sides = roomFor(all, width);
  const marks = all.filter((mark) => mark.kind !== "sow");
  const sowX = scale(day(sowOn));
  const now = scale(day(today));
  const move = (days: number) => onSowOn(isoDay(new Date(day(sowOn).getTime() + days * DAY)));
  const sow = plan.steps.find((step) => step.kind === "sow");

  return (
    <div>
      <div ref={ref}>
        <Axis scale={scale} width={width} today={today} />
      </div>
      <div className="relative border-y border-rule" style={{ height: HEIGHT }}>
        <svg width={width} height={HEIGHT} aria-hidden className="absolute inset-0">
          <line x1={0} x2={width} y1={base} y2={base} stroke="var(--rule)" />
          <line x1={now} x2={now} y1={0} y2={HEIGHT} stroke="var(--ink)" strokeWidth={1.5} />
          {marks.map((mark) => (
            <path
              key={mark.key}
              d={`M${mark.x} ${base}H${mark.until}v-6`}
              fill="none"
              stroke={mark.standing === "overdue" ? "var(--stop)" : "var(--pencil)"}
              strokeDasharray="3 2.5"
            />
          ))}
        </svg>
        {marks.map((mark) => (
          <span
            key={mark.key}
            className="absolute"
            style={{ left: mark.x - 7, top: base - 20 - mark.lane * 17 }}
            title={mark.says}
          >
            <StepMark kind={mark.kind} standing={mark.standing} size={14} />
            {sides.get(mark.key) && (
              <span
                className={`absolute -top-0.5 text-[0.8125rem] whitespace-nowrap text-pencil ${sides.get(mark.key) === "right" ? "left-4.5" : "right-4.5"}`}
              >
                {mark.label}
              </span>
            )}
          </span>
        ))}
        <button
          type="button"
          role="slider"
          aria-label="Sowing day"
          aria-valuemin={Math.round(span.from.getTime() / DAY)}
          aria-valuemax={Math.round(span.to.getTime() / DAY)}
          aria-valuenow={Math.round(day(sowOn).getTime() / DAY)}
          aria-valuetext={dayText(sowOn, 0)}
          className="absolute size-8 -translate-x-1/2 cursor-ew-resize touch-none"
          style={{ left: sowX, top: base - 30 }}
          onKeyDown={(event) => {
            const step = event.shiftKey ? 7 : 1;
            if (event.key === "ArrowLeft") move(-step);
            else if (event.key === "ArrowRight") move(step);
            else return;
            event.preventDefault();
          }}
          onPointerDown={(event) => {
            dragging.current = true;
            event.currentTarget.setPointerCapture(event.pointerId);
          }}
          onPointerMove={(event) => {
            if (!dragging.current) return;
            const box = event.currentTarget.parentElement?.getBoundingClientRect();
            if (box) onSowOn(isoDay(scale.invert(Math.min(Math.max(event.clientX - box.left, 0), width))));
          }}
          onPointerUp={() => (dragging.current = false)}
        >
          <span className="absolute inset-0 grid place-items-center">
            <StepMark kind="sow" standing={sow ? standingOf(sow.state) : "pencil"} size={20} />
          </span>
          {sides.get("sow") && (
            <span
              className={`absolute top-1.5 text-sm font-semibold whitespace-nowrap ${sides.get("sow") === "right" ? "left-8" : "right-8"}`}
            >
              sow {dayText(sowOn)}
            </span>
          )}
        </button>
      </div>
    </div>
  );
}
