import { useEffect, useRef } from "react";
import type { Schemas } from "../api/client";
import { plain, shown } from "../units/format";
import { originWords, sourceWords } from "../units/words";
import { Cautions } from "./Cautions";
import { Collapse } from "./Collapse";
import { Figure } from "./Figure";
import { useWorking } from "./working";

type Named = Pick<Schemas["Line"], "value" | "in_formula">;

/** The number that a formula of fixed units is about, to four figures: the eye's rounding would leave
 * nothing of a metre's. */
function inFormula({ in_formula }: Named): string | undefined {
  if (!in_formula) return undefined;
  const { unit } = shown({ value: 0, unit: in_formula.unit as Schemas["Quantity"]["unit"] });
  return `${Number(in_formula.number.toPrecision(4))} ${unit}`.trim();
}

/** Beside an amount in the reader's unit, the number that the formulas of this working take it for. */
function TakenFor({ of }: { of: Named }) {
  const taken = inFormula(of);
  if (!taken || of.in_formula?.unit === of.value.unit) return null;
  return <span className="text-sm text-pencil">as used in the formula {taken}</span>;
}

/**
 * The formula with its figures put in: "15.0 lb/ac × 220,000/lb". A formula of fixed units is given the
 * numbers it is about, which needn't be in the reader's unit.
 */
function withFigures(working: Schemas["Working"], line: Schemas["Line"]): string {
  const figure = (named: Named) => (line.in_formula && inFormula(named)) || plain(named.value);
  const known = new Map<string, string>();
  for (const input of working.inputs) known.set(input.name, figure(input));
  for (const other of working.lines) if (other !== line) known.set(other.name, figure(other));
  let text = line.formula;
  const names = [...line.uses].sort((a, b) => b.length - a.length);
  names.forEach((name, index) => (text = text.split(name).join(`\u0001${index}\u0002`)));
  names.forEach((name, index) => (text = text.split(`\u0001${index}\u0002`).join(known.get(name) ?? name)));
  return text;
}

function Sheet({ working, depth = 0 }: { working: Schemas["Working"]; depth?: number }) {
  return (
    <div className={depth ? "border-l border-rule pl-3" : ""}>
      {working.inputs.length > 0 && (
        <ul className="mt-2 space-y-1.5">
          {working.inputs.map((input, index) => {
            const origin = originWords(input.origin);
            return (
              <li key={index}>
                <div className="flex justify-between gap-3">
                  <span>{input.name}</span>
                  <Figure quantity={input.value} className="font-semibold" />
                </div>
                <div className="flex flex-wrap justify-between gap-x-3">
                  <span className={`text-sm ${origin.assumed ? "text-ink italic" : "text-pencil"}`}>
                    {origin.text}
                  </span>
                  <TakenFor of={input} />
                </div>
              </li>
            );
          })}
        </ul>
      )}
      <ol className="mt-3 space-y-2.5">
        {working.lines.map((line, index) => (
          <li key={index} className="border-t border-rule pt-2">
            <div className="flex justify-between gap-3">
              <span className="font-semibold">{line.name}</span>
              <Figure quantity={line.value} className="font-semibold" />
            </div>
            <div className="flex justify-end">
              <TakenFor of={line} />
            </div>
            <p className="text-sm text-pencil">{line.in_words ? line.formula : `= ${line.formula}`}</p>
            {line.uses.length > 0 && !line.in_words && (
              <p className="text-sm text-pencil">= {withFigures(working, line)}</p>
            )}
          </li>
        ))}
      </ol>
      {working.parts.map((part, index) => (
        <Collapse key={index} className="mt-3" titleClass="font-semibold" title={part.title}>
          <Sheet working={part} depth={depth + 1} />
        </Collapse>
      ))}
      {working.sources.length > 0 && (
        <ul className="mt-3 space-y-1 text-sm text-pencil">
          {working.sources.map((source, index) => (
            <li key={index}>{sourceWords(source)}</li>
          ))}
        </ul>
      )}
      {working.would_change.map((sentence) => (
        <p key={sentence} className="mt-2 text-sm">
          {sentence}
        </p>
      ))}
    </div>
  );
}

/** Lies at the side where what it explains does not stand; nothing that was read moves. */
export function WorkingPanel() {
  const { opened, close } = useWorking();
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (opened) heading.current?.focus();
  }, [opened]);
  if (!opened) return null;
  const { working, cautions, side } = opened;
  return (
    <aside
      aria-label="Working"
      data-side={side}
      className={`no-print fixed z-30 overflow-y-auto border-ink bg-paper px-5 py-4 max-lg:inset-x-0 max-lg:bottom-0 max-lg:max-h-[45dvh] max-lg:border-t-2 lg:inset-y-0 lg:w-88 ${side === "right" ? "lg:right-0 lg:border-l-2" : "lg:left-0 lg:border-r-2"}`}
      onKeyDown={(event) => event.key === "Escape" && close()}
    >
      <div className="flex items-start justify-between gap-4">
        <h2 ref={heading} tabIndex={-1} className="outline-none">
          {working.title.charAt(0).toUpperCase() + working.title.slice(1)}
        </h2>
        <button type="button" className="line-button" onClick={close}>
          Close
        </button>
      </div>
      <Sheet working={working} />
      <Cautions cautions={cautions} />
      <p className="mt-4 text-sm text-pencil">Figures are rounded for display only.</p>
    </aside>
  );
}
