import { Figure, type Explained } from "../kit/Figure";
import { Table, type Column } from "../kit/Table";
import { shareOf, shown } from "../units/format";
import { against, middleOf, spreadOf, timesOf, type Cutting, type Way } from "./ways";

interface Props {
  told: Explained & { value: Cutting };
  /** Key of the way that is drawn. */
  drawn: string;
  onDraw: (key: string) => void;
}

/** The ways side by side, each held against the first: the plan, where cuts are planned. */
export function WayTable({ told, drawn, onDraw }: Props) {
  const { ways } = told.value;
  const held = ways[0];
  if (!held) return null;
  const percent = (share: Parameters<typeof shareOf>[0] | null | undefined) =>
    share ? `${Math.round(shareOf(share) * 100)}%` : "–";
  const columns: Column<Way>[] = [
    {
      key: "way",
      head: "Cut",
      names: true,
      cell: (way) => (
        <button
          type="button"
          aria-pressed={way.key === drawn}
          className={`min-h-6 text-left underline decoration-dotted underline-offset-4 max-sm:min-h-11 ${way.key === drawn ? "font-bold decoration-solid" : ""}`}
          onClick={() => onDraw(way.key)}
        >
          {way.title}
        </button>
      ),
    },
    { key: "times", head: "Cuts to come", figures: true, cell: (way) => timesOf(way.times) },
    {
      key: "year",
      head: `Dry matter this year, ${shown(middleOf(held.year)).unit}`,
      figures: true,
      cell: (way) => {
        const more = way === held ? undefined : against(middleOf(way.year), middleOf(held.year));
        return (
          <>
            <Figure
              quantity={{ ...middleOf(way.year) }}
              explains={told}
              label={`Dry matter this year, ${way.title}`}
              className="font-semibold"
            />
            <span className="block text-sm whitespace-nowrap text-pencil">
              {spreadOf(way.year)}
              {more && ` (${more})`}
            </span>
          </>
        );
      },
    },
    { key: "quality", head: "RFQ", figures: true, cell: (way) => way.quality ?? "–" },
    { key: "protein", head: "Protein", figures: true, cell: (way) => percent(way.protein) },
    { key: "rained", head: "Rain on cut hay", figures: true, cell: (way) => percent(way.rained) },
  ];
  if (ways.some((way) => way.stored))
    columns.push({
      key: "stored",
      head: "Reserves at frost",
      figures: true,
      cell: (way) => percent(way.stored),
    });
  if (ways.some((way) => way.spring))
    columns.push({
      key: "spring",
      head: "Growth next spring",
      figures: true,
      cell: (way) => <Figure quantity={way.spring} />,
    });
  if (ways.some((way) => way.worth))
    columns.push({
      key: "worth",
      head: "Value less cuts",
      figures: true,
      cell: (way) => <Figure quantity={way.worth} />,
    });
  return (
    <Table
      label="Ways of cutting"
      rows={ways}
      rowKey={(way) => way.key}
      rowProps={(way) => ({ "data-way": way.key, "aria-current": way.key === drawn || undefined })}
      columns={columns}
    />
  );
}
