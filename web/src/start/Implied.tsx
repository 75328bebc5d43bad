import type { Schemas } from "../api/client";
import { Cautions } from "../kit/Cautions";
import { Figure } from "../kit/Figure";
import { plain } from "../units/format";

type Implied = Schemas["Implied"];

/** The figures a decision turns on, large. */
export function Headline({ implied }: { implied: Implied }) {
  const { mix, plants, order } = implied;
  const big = "text-2xl font-bold";
  return (
    <dl className="flex flex-wrap gap-x-8 gap-y-2">
      <Pair term="sown area">
        <Figure quantity={implied.sown_area} className={big} />
      </Pair>
      {mix && (
        <>
          <Pair term="pure live seed">
            <Figure
              quantity={mix.value.pls_rate}
              explains={mix}
              label="Pure live seed (PLS)"
              className={big}
            />
          </Pair>
          <Pair term="live seeds">
            <Figure quantity={mix.value.live_seeds} explains={mix} label="Live seeds" className={big} />
          </Pair>
          {mix.value.members.length > 1 && (
            <Pair term="share of full rate">
              <Figure
                quantity={mix.value.full_rate_share}
                explains={mix}
                label="Share of full rate"
                className={big}
              />
            </Pair>
          )}
        </>
      )}
      {plants && (
        <>
          <Pair term="pieces to order">
            <Figure quantity={{ value: plants.value.pieces, unit: "1" }} explains={plants} className={big} />
          </Pair>
          <Pair term="expected to survive">
            <Figure quantity={plants.value.established_per_area} explains={plants} className={big} />
          </Pair>
        </>
      )}
      {order && (
        <Pair term={order.value.unpriced.length ? "seed cost, priced lots only" : "seed"}>
          <Figure quantity={order.value.cost} explains={order} label="Cost of the seed" className={big} />
        </Pair>
      )}
    </dl>
  );
}

function Pair({ term, children }: { term: string; children: React.ReactNode }) {
  return (
    <div className="flex flex-col-reverse">
      <dt className="text-sm text-pencil">{term}</dt>
      <dd>{children}</dd>
    </div>
  );
}

/** What a good agronomist would remark. */
export function Remarks({ implied }: { implied: Implied }) {
  const remarks = [...(implied.mix?.value.remarks ?? []), ...(implied.plants?.value.remarks ?? [])];
  const cautions = [...(implied.mix?.cautions ?? []), ...(implied.plants?.cautions ?? [])];
  if (remarks.length + cautions.length === 0) return null;
  return (
    <div className="text-sm">
      <ul className="space-y-1">
        {remarks.map((remark) => (
          <li key={remark} className="border-l border-pencil pl-3">
            {remark}
          </li>
        ))}
      </ul>
      <Cautions cautions={cautions} />
    </div>
  );
}

/** The seed order, lot by lot. */
export function OrderTable({ implied, names }: { implied: Implied; names: (crop: string) => string }) {
  const { order, need } = implied;
  const cell = "py-1 pr-3 text-right";
  return (
    <section aria-label="Seed order">
      <h2>Seed order</h2>
      {order && (
        <table className="w-full">
          <thead>
            <tr className="border-b border-ink text-sm text-pencil">
              <th className="py-1 pr-3 text-left font-normal">Lot</th>
              <th className={`${cell} font-normal`}>PLS</th>
              <th className={`${cell} font-normal`}>Bulk</th>
              <th className={`${cell} font-normal`}>Bags</th>
              <th className={`${cell} font-normal`}>Left over</th>
              <th className="py-1 text-right font-normal">Cost</th>
            </tr>
          </thead>
          <tbody>
            {order.value.lines.map((line) => (
              <tr key={line.crop + line.lot} className="border-b border-rule">
                <td className="py-1 pr-3">
                  <span className="font-semibold">{line.lot}</span>{" "}
                  <span className="text-sm text-pencil">{names(line.crop)}</span>
                </td>
                <td className={cell}>
                  <Figure quantity={line.pls} />
                </td>
                <td className={cell}>
                  <Figure quantity={line.bulk_mass} explains={order} label={`${line.lot}, bulk`} />
                </td>
                <td className={cell}>
                  {line.bags === null || line.bags === undefined ? "loose" : `${line.bags} × `}
                  {line.bag && <Figure quantity={line.bag} />}
                </td>
                <td className={cell}>
                  <Figure quantity={line.remainder} />
                </td>
                <td className="py-1 text-right">
                  {line.cost ? <Figure quantity={line.cost} /> : "no price entered"}
                </td>
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr className="font-semibold">
              <td className="py-1" colSpan={2}>
                Total
              </td>
              <td className={cell} colSpan={2}>
                <Figure quantity={order.value.mass} explains={order} label="Seed bought" />
              </td>
              <td className="py-1 text-right" colSpan={2}>
                <Figure quantity={order.value.cost} explains={order} label="Seed order" />
              </td>
            </tr>
          </tfoot>
        </table>
      )}
      {order?.value.short.map((short) => (
        <p key={short.crop} className="text-sm font-semibold text-stop">
          ✕ Chosen {names(short.crop)} lots are {plain(short.pls_mass)} PLS short. Add a lot.
        </p>
      ))}
      {need?.members
        .filter((member) => need.without_lot.includes(member.crop))
        .map((member) => (
          <p key={member.crop} className="py-1 text-sm">
            {names(member.crop)}: <Figure quantity={member.pls_mass} className="font-semibold" /> PLS needed;
            choose a lot to see bags and cost.
          </p>
        ))}
    </section>
  );
}
