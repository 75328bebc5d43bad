import type { Schemas } from "../api/client";
import { Cautions } from "../kit/Cautions";
import { Figure } from "../kit/Figure";

/** What the lime comes to: the rate large, what it was reckoned as beside it. */
export function LimeAnswer({ answer, material }: { answer: Schemas["Answer_LimeNeed"]; material: string }) {
  const { value } = answer;
  if (value.enough) return <p className="py-2 text-lg font-semibold">{value.remarks[0]}</p>;
  return (
    <div aria-live="polite">
      <div className="flex flex-wrap items-end gap-x-8 gap-y-2">
        <p>
          <Figure quantity={value.rate} explains={answer} label="Lime rate" className="text-4xl font-bold" />
          <span className="block text-sm text-pencil">of {material}</span>
        </p>
        {value.total && (
          <p>
            <Figure
              quantity={value.total}
              explains={answer}
              label="Lime for the field"
              className="text-2xl font-bold"
            />
            <span className="block text-sm text-pencil">field total</span>
          </p>
        )}
        {value.cost && (
          <p>
            <Figure
              quantity={value.cost}
              explains={answer}
              label="Cost of lime"
              className="text-2xl font-bold"
            />
            <span className="block text-sm text-pencil">cost, spread</span>
          </p>
        )}
        <p>
          <Figure
            quantity={value.requirement}
            explains={answer}
            label="Lime requirement"
            className="text-2xl font-bold"
          />
          <span className="block text-sm text-pencil">
            of {value.reference}, for <Figure quantity={value.reference_depth} />
          </span>
        </p>
      </div>
      <ul className="pt-2 text-sm">
        {value.passes.map((pass, index) => (
          <li key={index}>
            <Figure quantity={pass.rate} className="font-semibold" /> {pass.when}
          </li>
        ))}
        {value.remarks.map((remark) => (
          <li key={remark} className="text-pencil">
            {remark}
          </li>
        ))}
      </ul>
      <Cautions cautions={answer.cautions} />
    </div>
  );
}
