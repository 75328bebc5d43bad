import type { Schemas } from "../api/client";
import { Collapse } from "../kit/Collapse";

const signs: Record<Schemas["Level"], string> = { note: "·", "left-out": "○", stops: "✕" };

/** What was found in a file, line by line; what stops it first. */
export function Findings({ findings, inAll }: { findings: Schemas["Finding"][]; inAll: number }) {
  if (inAll === 0) return null;
  const order: Schemas["Level"][] = ["stops", "left-out", "note"];
  const sorted = [...findings].sort((a, b) => order.indexOf(a.level) - order.indexOf(b.level));
  return (
    <Collapse
      className="text-sm"
      open={sorted[0]?.level === "stops"}
      title={`${inAll} ${inAll === 1 ? "finding" : "findings"}`}
    >
      <ul>
        {sorted.slice(0, 12).map((one, index) => (
          <li key={index} className={one.level === "stops" ? "font-semibold text-stop" : ""}>
            {signs[one.level]} {one.line > 0 && <strong>Line {one.line}: </strong>}
            {one.detail}
          </li>
        ))}
        {inAll > 12 && <li className="text-pencil">and {inAll - Math.min(12, sorted.length)} more</li>}
      </ul>
    </Collapse>
  );
}
