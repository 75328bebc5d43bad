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
    return <NotYet what="Loading set-up" of={[fields, season, weather]} />;
  const worked = fields.data.filter((field) => !field.retired);
  const undrawn = worked.filter((field) => !field.boundary).length;
  const stands = season.data.strips.filter((strip) => strip.stands.length > 0).length;
  const { basis, station } = weather.data;
  const at = { farm: farm.id };
  const parts: Part[] = [
    {
      title: "The farm",
      says: `${farm.name}, ${placeText(farm)}, time zone ${farm.time_zone}`,
      done: true,
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/farm" params={at}>
          Open farm
        </Link>
      ),
    },
    {
      title: "Fields",
      says:
        worked.length === 0
          ? "None yet. A name and an area are enough to start."
          : `${worked.length} ${worked.length === 1 ? "field" : "fields"}${undrawn > 0 ? `, ${undrawn} not drawn` : ""}`,
      done: worked.length > 0,
      ways: (look) => (
        <Link className={look} to="/farms/$farm/fields" params={at}>
          {worked.length === 0 ? "Add first field" : "Open fields"}
        </Link>
      ),
    },
    {
      title: "Weather",
      says:
        basis === "record"
          ? `Daily records from ${station?.name ?? "a station"}`
          : basis === "normals"
            ? "Generated from average weather, so odds have a wide range. Daily records replace them."
            : "None yet. Odds need weather; a climate table is enough to start.",
      done: basis != null,
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/weather" params={at}>
          {basis ? "Open weather" : "Enter average weather or import daily records"}
        </Link>
      ),
    },
    {
      title: "Soil and site",
      says: "A site walk and a soil test for each field: lime, nutrients and crop suitability depend on them.",
      done: false,
      waits: "optional for now",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/fields" params={at}>
          Found on each field page
        </Link>
      ),
    },
    {
      title: "First stand",
      says:
        stands === 0
          ? "Planned only; nothing is binding."
          : `${stands} ${stands === 1 ? "field has a stand" : "fields have a stand"}`,
      done: stands > 0,
      ways: (look) => (
        <Link className={look} to="/farms/$farm/start" params={at}>
          Start stand
        </Link>
      ),
    },
    {
      title: "People",
      says: "Invite crew to record work, or an adviser to read, by link.",
      done: false,
      waits: "optional for now",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/people" params={at}>
          Open people
        </Link>
      ),
    },
    {
      title: "Machines",
      says: "Work rate and cost of each machine.",
      done: false,
      waits: "optional for now",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/machines" params={at}>
          Open machines
        </Link>
      ),
    },
    {
      title: "Products and prices",
      says: "Your own fertilizers, limes, manures and labels, used on the bench in place of typical ones.",
      done: false,
      waits: "optional for now",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/products" params={at}>
          Open products
        </Link>
      ),
    },
    {
      title: "Data",
      says: "Export the whole farm as open files, and check the last backup.",
      done: false,
      waits: "at any time",
      ways: (look) => (
        <Link className={look} to="/farms/$farm/set-up/data" params={at}>
          Open data
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
                {part.done ? <span className="sr-only">Done.</span> : (part.waits ?? "")}
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
