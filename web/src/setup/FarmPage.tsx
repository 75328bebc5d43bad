import { zodResolver } from "@hookform/resolvers/zod";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { useRecord } from "../api/queries";
import { Collapse } from "../kit/Collapse";
import { AmountField, Form, PickOf, TextField } from "../kit/form";
import { Page } from "../kit/Page";
import { NotYet, Trouble } from "../kit/states";
import { useTell } from "../kit/Told";
import { amount, blank, readAmounts, words, written } from "../records/amounts";
import { useFarm } from "../shell/farm";
import { latitudeOf, longitudeOf, place, PlaceFields, useZone } from "../sign-in/PlaceFields";
import { dayText, monthText, placeText } from "../units/format";
import { useUnits } from "../units/useUnits";

/** What the farm is called and where it lies; one more farm; and its end. */
export function FarmPage() {
  const { id } = useFarm();
  const farm = useQuery({
    queryKey: ["farm", id, "facts"],
    queryFn: () => answered(api.GET("/api/farms/{farm}", { params: { path: { farm: id } } })),
  });
  if (farm.data === undefined) return <NotYet what="Loading farm" of={[farm]} />;
  return <Facts facts={farm.data} />;
}

function Facts({ facts }: { facts: Schemas["FarmView"] }) {
  const { manages } = useFarm();
  return (
    <Page title="Farm name">
      <div className="grid gap-x-12 gap-y-6 lg:grid-cols-2">
        <section aria-label="Farm details">
          {facts.closed_on && (
            <p role="status" className="pb-3 font-semibold">
              Closed on {dayText(facts.closed_on, 0)}: read-only.
            </p>
          )}
          {manages && !facts.closed_on ? (
            <Correct key={facts.version} facts={facts} />
          ) : (
            <p>
              <strong>{facts.name}</strong>: {placeText(facts)}, time zone {facts.time_zone}
            </p>
          )}
        </section>
        <div className="space-y-6">
          <Another />
          {manages && <End facts={facts} />}
        </div>
      </div>
    </Page>
  );
}

const months = Array.from({ length: 12 }, (_, month) => String(month + 1));
const years = ["default for the hemisphere", ...months] as const;

const values = z.object({
  name: words("Enter a farm name."),
  ...place,
  elevation: amount("Enter the elevation."),
  currency: z.string().regex(/^\s*[A-Za-z]{3}\s*$/, "Enter the three-letter code, e.g. USD."),
  year: z.enum(years),
});
type Values = z.infer<typeof values>;

async function factsOf(written: Values, zone: string) {
  const { name, latitude, longitude, elevation, currency, year } = await readAmounts(written);
  return {
    name,
    latitude: latitudeOf(latitude),
    longitude: longitudeOf(longitude),
    elevation: elevation as Schemas["Length"],
    time_zone: zone.trim() || null,
    currency: currency.trim().toUpperCase(),
    year_begins: year === years[0] ? null : Number(year),
  };
}

function useFacts(first: Values) {
  const form = useForm({ resolver: zodResolver(values), defaultValues: first });
  const [latitude, longitude, own] = useWatch({
    control: form.control,
    name: ["latitude", "longitude", "time_zone"],
  });
  return { form, zone: useZone({ latitude, longitude, written: own }) };
}

function Fields({ zone }: { zone: string }) {
  return (
    <>
      <TextField name="name" label="Farm name" />
      <PlaceFields zone={zone}>
        <AmountField name="elevation" label="Elevation" />
      </PlaceFields>
      <TextField name="currency" label="Currency" hint="Three-letter code, e.g. USD, EUR, ARS." />
      <PickOf
        name="year"
        label="Year starts in"
        options={[
          { value: years[0], text: "Default: January in the north, July in the south." },
          ...months.map((month) => ({ value: month, text: monthText(Number(month)) })),
        ]}
      />
    </>
  );
}

function Correct({ facts }: { facts: Schemas["FarmView"] }) {
  const units = useUnits();
  const client = useQueryClient();
  const tell = useTell();
  const [id] = useState(() => uuid());
  const { form, zone } = useFacts({
    name: facts.name,
    latitude: String(facts.latitude),
    longitude: String(facts.longitude),
    elevation: written(facts.elevation, units.elevation),
    time_zone: facts.time_zone,
    currency: facts.currency,
    year: facts.year_begins ? String(facts.year_begins) : years[0],
  });
  return (
    <Form
      form={form}
      label="Farm name"
      root="/facts"
      submit="Save farm"
      onSubmit={async (words) => {
        const body = { id, after: facts.version, facts: await factsOf(words, zone) };
        await answered(api.PUT("/api/farms/{farm}", { params: { path: { farm: facts.id } }, body }));
        tell("Farm saved.");
        await client.invalidateQueries();
      }}
    >
      <Fields zone={zone} />
    </Form>
  );
}

/** One more farm, with its own fields, weather, people and ledger. */
function Another() {
  const units = useUnits();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [ids] = useState(() => ({ id: uuid(), entry: uuid() }));
  const { form, zone } = useFacts({
    name: "",
    latitude: "",
    longitude: "",
    elevation: blank(units.elevation),
    time_zone: null,
    currency: useFarm().currency,
    year: years[0],
  });
  return (
    <section aria-label="Add farm">
      <Collapse title="Add farm">
        <p className="py-2 text-sm text-pencil">
          It has its own fields, weather, people and ledger. You will be its manager.
        </p>
        <Form
          form={form}
          label="Add farm"
          root="/facts"
          submit="Create farm"
          onSubmit={async (words) => {
            const body = { ...ids, facts: await factsOf(words, zone) };
            client.setQueryData(["me"], await answered(api.POST("/api/farms", { body })));
            await navigate({ to: "/farms/$farm/set-up", params: { farm: ids.id } });
          }}
        >
          <Fields zone={zone} />
        </Form>
      </Collapse>
    </section>
  );
}

function End({ facts }: { facts: Schemas["FarmView"] }) {
  const closed = Boolean(facts.closed_on);
  const client = useQueryClient();
  const [sure, setSure] = useState(false);
  const turn = useRecord(facts.id, () =>
    answered(
      api.POST("/api/farms/{farm}/close", {
        params: { path: { farm: facts.id } },
        body: { id: uuid(), closed: !closed },
      }),
    ),
  );
  const go = () =>
    turn.mutate(undefined, {
      onSuccess: () => {
        setSure(false);
        void client.invalidateQueries({ queryKey: ["me"] });
      },
    });
  return (
    <section aria-labelledby="end-title">
      <h2 id="end-title">{closed ? "Reopen farm" : "Close farm"}</h2>
      <p className="pb-1 text-sm text-pencil">
        {closed
          ? "Recording starts again and plans continue from today."
          : "For a farm that is sold or given up. It becomes read-only; nothing is deleted."}
      </p>
      {!closed && (
        <p className="pb-1 text-sm">
          Export your data first:{" "}
          <a href={`/api/farms/${facts.id}/archive.zip`} download={`${facts.name}.zip`} className="underline">
            download whole farm
          </a>
          .
        </p>
      )}
      <button
        type="button"
        className="line-button"
        onClick={() => (closed || sure ? go() : setSure(true))}
        onBlur={() => setSure(false)}
      >
        {closed ? "Reopen farm" : sure ? `Yes, close ${facts.name}` : "Close farm"}
      </button>
      {turn.error && <Trouble error={turn.error} />}
    </section>
  );
}
