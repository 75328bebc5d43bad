import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { useGrowth } from "../api/queries";
import { GrowthDrawing } from "../draw/GrowthDrawing";
import { Figure } from "../kit/Figure";
import { NotYet } from "../kit/states";
import { Table } from "../kit/Table";
import type { Farm } from "../shell/farm";
import { dayText, plain, shareOf, shown, yearOf, type Quantity } from "../units/format";

type Cut = Schemas["CutTold"];
type Series = Schemas["Series"];

/** How a stand grows this year, and what each cut is expected to give. */
export function StandGrowth({ farm, stand }: { farm: Farm; stand: string }) {
  const growth = useGrowth(farm.id, stand);
  const answer = growth.data?.told;
  if (growth.data === undefined) return <NotYet what="Modelling growth" of={[growth]} />;
  if (!answer)
    return (
      <section aria-labelledby="growth-title" className="border-t-2 border-ink pt-2">
        <h2 id="growth-title">Growth</h2>
        <p className="text-sm text-pencil">{growth.data.untold}</p>
      </section>
    );
  const { value } = answer;
  const year = yearOf(farm.today);
  return (
    <section aria-labelledby="growth-title" className="border-t-2 border-ink pt-2">
      <h2 id="growth-title">Growth</h2>
      <p className="text-lg">
        <strong>
          <Figure quantity={value.above} explains={answer} label="Standing dry matter" />
        </strong>{" "}
        green dry matter above the stubble, <Figure quantity={value.height} /> tall, {value.stage}
      </p>
      <GrowthDrawing growth={value} today={farm.today} />
      <Link
        to="/farms/$farm/cutting"
        params={{ farm: farm.id }}
        search={{ stand }}
        className="line-button no-print"
      >
        Compare cutting dates
      </Link>
      {value.cuts.length > 0 && (
        <>
          <Table
            label="Cuts and their yields"
            rows={value.cuts}
            rowKey={(cut: Cut) => cut.on}
            columns={[
              {
                key: "day",
                head: "Cut",
                names: true,
                cell: (cut) => (
                  <>
                    <span className="whitespace-nowrap">{dayText(cut.on, year)}</span>
                    {!cut.done && <span className="block text-sm text-pencil">planned</span>}
                  </>
                ),
              },
              {
                key: "yield",
                head: `Dry matter, ${shown(middle(value.year)).unit}`,
                figures: true,
                cell: (cut) => <Yield cut={cut} />,
              },
              {
                key: "height",
                head: "Height",
                figures: true,
                cell: (cut) => <Figure quantity={cut.height} />,
              },
              {
                key: "headed",
                head: value.grass ? "Odds headed" : "Odds in bloom",
                figures: true,
                cell: (cut) =>
                  cut.done
                    ? shareOf(cut.headed) > 0
                      ? "yes"
                      : "no"
                    : `${Math.round(shareOf(cut.headed) * 100)}%`,
              },
              {
                key: "protein",
                head: "Protein",
                figures: true,
                cell: (cut) => `${Math.round(shareOf(cut.feed.protein) * 100)}%`,
              },
              {
                key: "ndf",
                head: "NDF",
                figures: true,
                cell: (cut) => `${Math.round(shareOf(cut.feed.ndf) * 100)}%`,
              },
              {
                key: "quality",
                head: "RFQ",
                figures: true,
                cell: (cut) => cut.feed.quality ?? "–",
              },
            ]}
          />
          <p>
            This growing year: <strong>{range(value.year)}</strong>{" "}
            <span className="text-pencil">
              of dry matter above the stubble. Harvested yield is usually 80–85% of it, and hay is a little
              lower in protein than the standing crop.
            </span>
          </p>
        </>
      )}
      <p className="text-sm text-pencil">
        Modelled from this year’s weather and recorded work; ahead, the range of 8 in 10 of {value.years}{" "}
        weather years. {value.assumed.join(" ")}
        {value.guessed > 0 && ` ${value.guessed} days without weather data were filled from earlier years.`}
      </p>
    </section>
  );
}

function Yield({ cut }: { cut: Cut }) {
  if (cut.weighed)
    return (
      <>
        {plain(cut.weighed)}{" "}
        <span className="block text-sm text-pencil">modelled {shown(middle(cut.taken)).number}</span>
      </>
    );
  return <span className="whitespace-nowrap">{range(cut.taken, true)}</span>;
}

function middle({ values, unit }: Series): Quantity {
  return { value: values[1] ?? 0, unit };
}

/** Low and high: "1.2–1.9", with its unit where no heading tells it. */
function range({ values: [low, , high], unit }: Series, bare = false): string {
  const [from, to] = [low, high].map((value) => plain({ value: value ?? 0, unit })) as [string, string];
  const number = (text: string) => text.split(" ")[0];
  if (bare) return from === to ? `${number(to)}` : `${number(from)}–${number(to)}`;
  return from === to ? to : `${number(from)}–${to}`;
}
