import type { Schemas } from "../api/client";
import { Cautions } from "../kit/Cautions";
import { Collapse } from "../kit/Collapse";
import { dayText } from "../units/format";
import { sourceWords, verdicts } from "../units/words";

type Check = Schemas["SiteCheck"];

/** Dates in the server's sentences, as people read them. */
function readable(text: string): string {
  return text.replace(/\d{4}-\d{2}-\d{2}/g, (iso) => dayText(iso, 0));
}

/** Is the field fit? The sentence first, then what asks for something, then what is as it should be. */
export function Readiness({ answer }: { answer: Schemas["Answer_Readiness"] }) {
  const { verdict, says, checks } = answer.value;
  const open = checks.filter((check) => check.verdict !== "fit" && check.verdict !== "unknown");
  const unknown = checks.filter((check) => check.verdict === "unknown");
  const fit = checks.filter((check) => check.verdict === "fit");
  return (
    <section aria-label="Field suitability" data-verdict={verdict}>
      <h2>Field suitability</h2>
      <p className={`py-1 text-lg leading-snug font-semibold ${verdict === "unfit" ? "text-stop" : ""}`}>
        <span aria-hidden>{verdicts[verdict].sign} </span>
        {readable(says)}
      </p>
      <ul>
        {open.map((check) => (
          <Row key={check.key} check={check} />
        ))}
      </ul>
      {unknown.length > 0 && (
        <Collapse
          className="pt-1 text-sm"
          titleClass="text-pencil"
          title={`${unknown.length} ${unknown.length === 1 ? "check" : "checks"} not made yet`}
        >
          <ul>
            {unknown.map((check) => (
              <Row key={check.key} check={check} />
            ))}
          </ul>
        </Collapse>
      )}
      {fit.length > 0 && (
        <Collapse
          className="pt-1 text-sm"
          titleClass="text-pencil"
          title={`${fit.length} ${fit.length === 1 ? "check" : "checks"} passed`}
        >
          <ul>
            {fit.map((check) => (
              <Row key={check.key} check={check} />
            ))}
          </ul>
        </Collapse>
      )}
      <Cautions cautions={answer.cautions} />
    </section>
  );
}

function Row({ check }: { check: Check }) {
  const { word, sign } = verdicts[check.verdict];
  const bad = check.verdict === "unfit";
  return (
    <li
      className="grid grid-cols-[1.25rem_8rem_minmax(0,1fr)] items-baseline gap-x-2 border-b border-rule py-1.5 text-sm max-sm:grid-cols-[1.25rem_minmax(0,1fr)]"
      data-check={check.key}
      data-verdict={check.verdict}
    >
      <span aria-hidden className={bad ? "font-bold text-stop" : "text-pencil"}>
        {sign}
      </span>
      <span>
        <span className="block font-semibold">{check.title}</span>
        <span className={bad ? "text-stop" : "text-pencil"}>{word}</span>
      </span>
      <span className="max-sm:col-start-2">
        {readable(check.reason)}
        {check.turn && (
          <span className="block text-pencil">
            {check.verdict === "unknown" ? "Needed: " : "To fix: "}
            {readable(check.turn)}.
            {check.ready_on && <strong className="text-ink"> From {dayText(check.ready_on, 0)}.</strong>}
          </span>
        )}
        <span className="block text-pencil italic">{sourceWords(check.source)}</span>
      </span>
    </li>
  );
}
