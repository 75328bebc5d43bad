import { useState } from "react";
import { v7 as uuid } from "uuid";
import type { Schemas } from "../api/client";
import { useProducts } from "../api/queries";
import { Figure } from "../kit/Figure";
import { Page } from "../kit/Page";
import { Empty, NotYet } from "../kit/states";
import { Table } from "../kit/Table";
import type { Task } from "../outbox/waiting";
import { RecordSheet } from "../records/RecordSheet";
import { useFarm } from "../shell/farm";
import { dayText, plain, range } from "../units/format";
import { natures, nutrients } from "../units/words";

type Product = Schemas["ProductView"];

/** What is bought for the fields: what is in it, what it costs, what lies in the shed. */
export function ProductsPage() {
  const farm = useFarm();
  const products = useProducts(farm.id);
  const [task, setTask] = useState<Task | null>(null);
  if (products.data === undefined) return <NotYet what="Loading products" of={[products]} />;
  const manager = farm.role === "manager";
  const tell = (told?: Product) =>
    setTask({
      form: "product",
      title: told ? told.facts.name : "Product",
      where: "",
      about:
        "From the seller’s analysis or the label. The bench uses your products in place of typical ones.",
      with: { id: told?.id ?? uuid(), told },
    });
  const about = (form: string, title: string, { id, facts }: Product) =>
    setTask({ form, title, where: facts.name, with: { id } });
  return (
    <Page
      title="Products and prices"
      tools={
        manager && (
          <button type="button" className="line-button" onClick={() => tell()}>
            Add product
          </button>
        )
      }
    >
      {products.data.products.length === 0 ? (
        <Empty>
          Fertilizers, limes and manures with their analysis, inoculants, twine, and sprays with label
          details. Until you add yours, the bench uses typical products at made-up prices.
        </Empty>
      ) : (
        <Table
          label="Products"
          stacks
          rows={products.data.products}
          rowKey={(one) => one.id}
          rowProps={(one) => ({ "data-product": one.facts.name })}
          columns={[
            {
              key: "name",
              head: "Product",
              names: true,
              cell: (one) => (
                <>
                  <strong>{one.facts.name}</strong>{" "}
                  <span className="text-pencil">
                    {natures[one.facts.nature.is].toLowerCase()}
                    {one.facts.gone && ", no longer bought"}
                  </span>
                  <span className="block text-sm text-pencil">{inIt(one)}</span>
                </>
              ),
            },
            {
              key: "price",
              head: "Price",
              figures: true,
              cell: ({ price, price_since }) =>
                price ? (
                  <>
                    <Figure quantity={price} className="font-semibold" />
                    {price_since && (
                      <span className="block text-sm text-pencil">since {dayText(price_since, 0)}</span>
                    )}
                  </>
                ) : (
                  <span className="text-pencil">no price</span>
                ),
            },
            {
              key: "stock",
              head: "Stock",
              figures: true,
              cell: ({ stock }) =>
                stock ? (
                  <>
                    <Figure quantity={stock} />
                    <span className="text-pencil sm:hidden"> in stock</span>
                  </>
                ) : (
                  <span className="max-sm:hidden">–</span>
                ),
            },
            {
              key: "deeds",
              head: "",
              headLabel: "Actions",
              figures: true,
              cell: (one) => (
                <span className="flex flex-wrap justify-end gap-x-4 max-sm:justify-start">
                  {manager && (
                    <>
                      <Deed one={one} text="Price" act={() => about("price", "Purchase or quote", one)} />
                      <Deed one={one} text="Edit" act={() => tell(one)} />
                    </>
                  )}
                  {farm.role !== "adviser" && (
                    <Deed one={one} text="Count stock" act={() => about("stock-count", "Stock count", one)} />
                  )}
                </span>
              ),
            },
          ]}
        />
      )}
      {task && <RecordSheet task={task} onDone={() => setTask(null)} />}
    </Page>
  );
}

function Deed({ one, text, act }: { one: Product; text: string; act: () => void }) {
  return (
    <button type="button" className="line-button" aria-label={`${text}: ${one.facts.name}`} onClick={act}>
      {text}
    </button>
  );
}

/** What is in it, in a line. */
function inIt({ facts: { nature, package: bag }, told_on, told_by }: Product): string {
  const parts: string[] = [];
  switch (nature.is) {
    case "fertiliser":
    case "manure":
      for (const [key, share] of Object.entries(nature.analysis))
        parts.push(`${nutrients[key] ?? key} ${plain(share)}`);
      break;
    case "lime":
      parts.push(`${plain(nature.cce)} calcium carbonate equivalent`);
      break;
    case "inoculant":
      parts.push(`for ${nature.serves}`);
      break;
    case "spray":
      parts.push(nature.ingredients.map(({ name }) => name).join(", "));
      if (nature.lowest && nature.highest) parts.push(`label rate ${range(nature.lowest, nature.highest)}`);
      if (nature.grazing_days != null) parts.push(`${nature.grazing_days}-day grazing interval`);
      parts.push(`label entered ${dayText(told_on, 0)} by ${told_by}`);
      break;
    case "binding":
      break;
  }
  if (bag) parts.push(`${plain(bag)} bags`);
  return parts.join(", ");
}
