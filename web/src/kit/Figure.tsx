import type { Schemas } from "../api/client";
import { joined, shown, type Quantity } from "../units/format";
import { useWorking } from "./working";

export interface Explained {
  working: Schemas["Working"];
  cautions?: Schemas["Caution"][];
}

interface Props {
  quantity: Quantity | null | undefined;
  /** Makes the figure open into its working. */
  explains?: Explained | undefined;
  /** What the figure is, for those who can't see where it stands. */
  label?: string;
  className?: string;
}

/** A figure: the number in ink, the unit smaller and lighter; it opens into its working. */
export function Figure({ quantity, explains, label, className = "" }: Props) {
  const { show } = useWorking();
  if (!quantity) return <span className="text-pencil">–</span>;
  const { number, unit } = shown(quantity);
  const text = (
    <>
      {number}
      {unit && (
        <span className="text-[max(0.55em,0.8125rem)] font-normal text-pencil">
          {joined(unit) ? "" : "\u2009"}
          {unit}
        </span>
      )}
    </>
  );
  if (!explains) return <span className={`whitespace-nowrap ${className}`}>{text}</span>;
  return (
    <button
      type="button"
      className={`thumb border-b border-dotted border-pencil whitespace-nowrap hover:border-solid hover:border-ink ${className}`}
      onClick={(event) => show(explains.working, explains.cautions ?? [], event.currentTarget)}
      aria-label={`${label ?? explains.working.title}: ${number}${joined(unit) ? "" : " "}${unit}; show the working`}
    >
      {text}
    </button>
  );
}
