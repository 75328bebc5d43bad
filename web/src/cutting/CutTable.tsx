import { Figure } from "../kit/Figure";
import { Table } from "../kit/Table";
import { dayText, shareOf, shown } from "../units/format";
import { middleOf, spreadOf, type Way } from "./ways";

/** The cuts to come of one way, over the years. */
export function CutTable({ way, year }: { way: Way; year: number }) {
  const first = way.cuts[0];
  if (!first)
    return <p className="border-t-2 border-ink pt-2 text-pencil">No more cuts this year, {way.title}.</p>;
  return (
    <Table
      label={`Cuts to come, ${way.title}`}
      rows={way.cuts}
      rowKey={(cut) => cut.on}
      columns={[
        {
          key: "on",
          head: `Cuts to come, ${way.title}`,
          names: true,
          cell: (cut) => (
            <>
              <span className="font-semibold whitespace-nowrap">{dayText(cut.on, year)}</span>
              {(cut.from !== cut.to || shareOf(cut.comes) < 0.995) && (
                <span className="block text-sm text-pencil">
                  {cut.from !== cut.to && `${dayText(cut.from, year)} to ${dayText(cut.to, year)}`}
                  {shareOf(cut.comes) < 0.995 && ` in ${Math.round(shareOf(cut.comes) * 100)}% of years`}
                </span>
              )}
            </>
          ),
        },
        {
          key: "taken",
          head: `Dry matter, ${shown(middleOf(first.taken)).unit}`,
          figures: true,
          cell: (cut) => <span className="whitespace-nowrap">{spreadOf(cut.taken)}</span>,
        },
        { key: "height", head: "Height", figures: true, cell: (cut) => <Figure quantity={cut.height} /> },
        { key: "quality", head: "RFQ", figures: true, cell: (cut) => cut.feed.quality ?? "–" },
        {
          key: "ndf",
          head: "NDF",
          figures: true,
          cell: (cut) => `${Math.round(shareOf(cut.feed.ndf) * 100)}%`,
        },
      ]}
    />
  );
}
