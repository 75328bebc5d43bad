import { Link } from "@tanstack/react-router";
import type { ReactNode } from "react";
import { useFields, useSeason, useWeather } from "../api/queries";
import { Page } from "../kit/Page";
import { NotYet } from "../kit/states";
import { useFarm } from "../shell/farm";
import { placeText } from "../units/format";

interface Part {
  title: string;
  /** How it stands. */
  says: string;
  done: boolean;
  /** It can be left for later, and nothing is worse for it at first. */
  waits?: string;
  ways?: (look: string) => ReactNode;
}

/** From an empty farm to the first stand: what is there, what comes next, and where each is found later. */
export function SetUpPage() {
  const farm = useFarm();
  const fields = useFields(farm.id);
  const season = useSeason(farm.id);
  const weather = useWeather(farm.id, farm.today, farm.today);
  if (fields.data === undefined || season.data === undefined || weather.data === undefined)
    return <NotYet what="Looking what is there" of={[fields, season, weather]} />;
  const worked = fields.data.filter((field) => !field.retired);
  const undrawn = worked.filter((field) => !field.boundary).length;
  const stands = season.data.strips.filter((strip) => strip.stands.length > 0).length;
  const { basis, station } = weather.data;
  const at = { farm: farm.id };
  const parts: Part[] = [
    {
      title: "The farm",
      says: `${farm.name}, ${placeText(farm)}, clocks of ${farm.time_zone}`,
      done: true,
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/farm" params={at}>
          To the farm
        </Link>
      ),
    },
    {
      title: "Fields",
      says:
        worked.length === 0
          ? "None yet. A name and an area are enough to begin with."
          : `${worked.length} ${worked.length === 1 ? "field" : "fields"}${undrawn > 0 ? `, ${undrawn} not drawn` : ""}`,
      done: worked.length > 0,
      ways: (look) => (
        <Link className={look} to="/farms/$farm/fields" params={at}>
          {worked.length === 0 ? "Add the first field" : "To the fields"}
        </Link>
      ),
    },
    {
      title: "Weather",
      says:
        basis === "record"
          ? `The days of ${station?.name ?? "a station"}`
          : basis === "normals"
            ? "Years made from what is usual: odds are wide. A record of days takes their place."
            : "None yet: there are no odds without it. A climate table is enough to begin with.",
      done: basis != null,
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/weather" params={at}>
          {basis ? "To the weather" : "Tell the usual weather, or read days in"}
        </Link>
      ),
    },
    {
      title: "Soil and site",
      says: "A walk over each field and a soil test: lime, nutrients and whether a crop fits hang on them.",
      done: false,
      waits: "may wait",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/fields" params={at}>
          On each field’s page
        </Link>
      ),
    },
    {
      title: "The first stand",
      says:
        stands === 0
          ? "In pencil: nothing is binding."
          : `${stands} ${stands === 1 ? "field has" : "fields have"} one`,
      done: stands > 0,
      ways: (look) => (
        <Link className={look} to="/farms/$farm/start" params={at}>
          Start a stand
        </Link>
      ),
    },
    {
      title: "People",
      says: "Crew who record what they do, an adviser who reads: by a link.",
      done: false,
      waits: "may wait",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/people" params={at}>
          Who is there
        </Link>
      ),
    },
    {
      title: "Machines",
      says: "What each does in an hour, and what it costs.",
      done: false,
      waits: "may wait",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/machines" params={at}>
          To the machines
        </Link>
      ),
    },
    {
      title: "Products and prices",
      says: "Your own fertilisers, limes, manures and labels: the benches weigh them in place of ordinary ones.",
      done: false,
      waits: "may wait",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/products" params={at}>
          To the products
        </Link>
      ),
    },
    {
      title: "Data",
      says: "The whole farm in open files, to take along; and how old the last backup is.",
      done: false,
      waits: "at any time",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/data" params={at}>
          To the data
        </Link>
      ),
    },
  ];
  const next = parts.findIndex((part) => !part.done && !part.waits);
  const manager = farm.manages;
  return (
    <Page title="Set-up">
      <ol className="max-w-4xl divide-y divide-rule border-y border-rule">
        {parts.map((part, index) => (
          <li key={part.title} className="grid gap-x-6 py-3 sm:grid-cols-[2rem_11rem_minmax(0,1fr)_auto]">
            <span aria-hidden className={part.done ? "font-bold" : "text-pencil"}>
              {part.done ? "●" : "○"}
            </span>
            <h2 className="leading-6">{part.title}</h2>
            <p>
              {part.says}{" "}
              <span className="text-pencil">
                {part.done ? <span className="sr-only">There.</span> : (part.waits ?? "")}
              </span>
            </p>
            {manager && part.ways && (
              <p className="max-sm:pt-1.5 sm:-mt-1" data-next={index === next || undefined}>
                {part.ways(index === next ? "ink-button inline-flex items-center" : "line-button")}
              </p>
            )}
          </li>
        ))}
      </ol>
    </Page>
  );
}
