import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import { answered, api, type Schemas } from "../api/client";
import { useCrops } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Collapse } from "../kit/Collapse";
import { Labelled } from "../kit/Labelled";
import { Page } from "../kit/Page";
import { Pick } from "../kit/Pick";
import { NotYet } from "../kit/states";
import { useFarm } from "../shell/farm";
import { useUnits } from "../units/useUnits";
import { shelved, shelves } from "../units/words";
import { figureText, TraitScale, type Trait } from "./TraitScale";
import { Varieties } from "./Varieties";
import { WarmYear } from "./WarmYear";
import { Years } from "./Years";

type CropPage = Schemas["CropPage"];

const topics = [
  ["warmth", "Temperature"],
  ["ground", "Soil and water"],
  ["sowing", "Seed and sowing"],
  ["stand", "Stand"],
] as const;

function useCropPage(crop: string | undefined) {
  const units = useUnits();
  return useQuery({
    queryKey: ["crop", crop, units.system],
    enabled: crop !== undefined,
    queryFn: () => answered(api.GET("/api/crops/{crop}", { params: { path: { crop: crop ?? "" } } })),
    staleTime: Infinity,
  });
}

/** What is known of each crop, drawn on scales that all share; one, or two side by side. */
export function LibraryPage() {
  const farm = useFarm();
  const units = useUnits();
  const crops = useCrops();
  const navigate = useNavigate();
  const asked = useSearch({ strict: false }) as { crop?: string; beside?: string };
  const crop = asked.crop ?? "alfalfa";
  const page = useCropPage(crop);
  const beside = useCropPage(asked.beside);
  const climate = useQuery({
    queryKey: ["farm", farm.id, "climate", units.system],
    queryFn: () => answered(api.GET("/api/farms/{farm}/climate", { params: { path: { farm: farm.id } } })),
  });
  if (crops.data === undefined || page.data === undefined)
    return <NotYet what="Loading crop" of={[crops, page]} />;
  const turn = (search: { crop: string; beside?: string }) =>
    void navigate({ to: "/farms/$farm/library", params: { farm: farm.id }, search });
  const shown = [page.data, ...(asked.beside && beside.data ? [beside.data] : [])];
  const others = crops.data.filter((one) => one.id !== crop);
  return (
    <Page
      title={
        <span className="inline-block first-letter:uppercase">
          {shown.map((one) => one.name).join(" and ")}
        </span>
      }
      about={<em>{shown.map((one) => one.scientific).join("; ")}</em>}
      tools={
        <Link to="/farms/$farm/library/choose" params={{ farm: farm.id }} className="line-button">
          Choose a crop for a field
        </Link>
      }
      aside={<Shelf crops={crops.data} shown={crop} />}
    >
      <div className="grid gap-x-8 sm:grid-cols-2">
        {shown.map((one, at) => (
          <p key={one.id} className="max-w-prose">
            {shown.length > 1 && <strong>{at === 0 ? "■ " : "□ "}</strong>}
            {one.about} <span className="text-pencil">{kindText(one)}.</span>
          </p>
        ))}
      </div>
      <div className="flex flex-wrap items-end gap-x-6 pt-1">
        <div className="w-64">
          <Pick
            label="Compare with"
            value={asked.beside ?? ""}
            empty="none"
            clears
            options={shelved(others)}
            onChange={(other) => turn({ crop, ...(other ? { beside: other } : {}) })}
          />
        </div>
        <Link
          to="/farms/$farm/start"
          params={{ farm: farm.id }}
          search={{ crop }}
          className="line-button mb-2"
        >
          Start stand of {page.data.name}
        </Link>
      </div>
      <Drawn shown={shown} climate={climate.data} />
      {shown.length === 1 && <Varieties key={crop} farm={farm} crop={crop} name={page.data.name} />}
      {topics.map(([topic, title]) => (
        <Topic key={topic} topic={topic} title={title} shown={shown} />
      ))}
      <Sides shown={shown} />
    </Page>
  );
}

const kindText = ({ kind, pathway, life, uses }: CropPage) =>
  `A ${pathway === "C4" ? "warm" : "cool"}-season ${life.replace("short-perennial", "short-lived perennial")} ${kind === "forb" ? "herb" : kind}; for ${uses.join(", ")}`;

function Drawn({
  shown,
  climate,
}: {
  shown: readonly CropPage[];
  climate: Schemas["ClimateView"] | undefined;
}) {
  const most = Math.max(...shown.flatMap((one) => one.seasons.map(({ high }) => high.value)), 0.1);
  const [first] = shown;
  return (
    <div className="grid gap-x-10 gap-y-3 pt-3 xl:grid-cols-[3fr_2fr]">
      {first && climate && shown.length === 1 && (
        <section aria-label="Growing season here">
          <h2>Growing season here</h2>
          <WarmYear view={climate} traits={first.traits} />
        </section>
      )}
      {shown.map((one) => (
        <section key={one.id} aria-label={`Yield of ${one.name} by year`}>
          <h2>Yield by year{shown.length > 1 ? ` of ${one.name}` : ""}</h2>
          <Years page={one} most={most} />
        </section>
      ))}
    </div>
  );
}

interface TopicProps {
  topic: Trait["topic"];
  title: string;
  shown: readonly CropPage[];
}

function Topic({ topic, title, shown }: TopicProps) {
  const names = shown.map((one) => one.name);
  const keys = [
    ...new Set(shown.flatMap((one) => one.traits.filter((t) => t.topic === topic).map((t) => t.key))),
  ];
  return (
    <section aria-label={title} className="pt-4">
      <h2>{title}</h2>
      <div className="grid gap-x-10 gap-y-4 border-t border-rule pt-2 md:grid-cols-2 xl:grid-cols-3">
        {keys.map((key) => {
          const traits = shown.map((one) => one.traits.find((t) => t.key === key));
          const first = traits.find((one) => one !== undefined);
          if (!first) return null;
          return (
            <div key={key}>
              <p>
                {first.name}{" "}
                <strong className="whitespace-nowrap">
                  {traits.map((one) => (one ? figureText(one) : "none")).join("; ")}
                </strong>
              </p>
              <TraitScale traits={traits} names={names} />
              <Collapse title={<span className="text-pencil">why it matters; source</span>}>
                <p className="max-w-90 text-sm">
                  {first.matters}{" "}
                  <span className="text-pencil">
                    {first.source.citation} ({first.source.class.replaceAll("-", " ")})
                  </span>
                </p>
              </Collapse>
            </div>
          );
        })}
      </div>
    </section>
  );
}

/** What no scale can tell. */
function Sides({ shown }: { shown: readonly CropPage[] }) {
  return (
    <div className={`grid gap-x-10 pt-5 ${shown.length > 1 ? "md:grid-cols-2" : ""}`}>
      {shown.map((one) => (
        <section key={one.id} aria-label={`More about ${one.name}`}>
          <h2>{shown.length > 1 ? `${one.name}: restrictions` : "Restrictions"}</h2>
          {one.forbids.length === 0 && <p className="text-pencil">None.</p>}
          <ul className="max-w-prose list-disc pl-5">
            {one.forbids.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
          <h2 className="pt-3">Sowing windows</h2>
          <ul className="max-w-prose">
            {one.timings.map((way) => (
              <li key={way.name}>
                <strong>{way.name}</strong>: {way.for_it}{" "}
                <span className="text-pencil">{way.against_it}</span>
              </li>
            ))}
          </ul>
          <h2 className="pt-3">First harvest and stand count</h2>
          <p className="max-w-prose">
            First harvest: {one.first_use}. Count: {one.counted}.
            {one.inoculant && ` Inoculant: ${one.inoculant}.`}
          </p>
          <Cautions cautions={one.cautions} />
        </section>
      ))}
    </div>
  );
}

/** All crops by kind, to take another from the shelf. */
function Shelf({ crops, shown }: { crops: readonly Schemas["Crop"][]; shown: string }) {
  const farm = useFarm();
  const [wanted, setWanted] = useState("");
  const fits = (crop: Schemas["Crop"]) =>
    [crop.name, crop.scientific, ...crop.also].some((name) =>
      name.toLowerCase().includes(wanted.trim().toLowerCase()),
    );
  const found = crops.filter(fits);
  return (
    <nav aria-label="Crops">
      <Labelled label="Find a crop">
        {(ids) => (
          <input
            {...ids}
            className="entry max-sm:min-h-11"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
          />
        )}
      </Labelled>
      {found.length === 0 && <p className="text-sm text-pencil">No crop by that name.</p>}
      {shelves.map(([kind, title]) => {
        const own = found.filter((crop) => crop.kind === kind).sort((a, b) => a.name.localeCompare(b.name));
        if (own.length === 0) return null;
        return (
          <div key={kind} className="pt-2">
            <h2>{title}</h2>
            <ul className="columns-2 gap-x-4 text-sm">
              {own.map((crop) => (
                <li key={crop.id} className="break-inside-avoid">
                  <Link
                    to="/farms/$farm/library"
                    params={{ farm: farm.id }}
                    search={{ crop: crop.id }}
                    className={`block py-1 leading-tight hover:underline max-sm:py-2.5 ${crop.id === shown ? "font-semibold underline" : ""}`}
                  >
                    {crop.name}
                  </Link>
                </li>
              ))}
            </ul>
          </div>
        );
      })}
    </nav>
  );
}
