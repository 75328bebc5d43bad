import { zodResolver } from "@hookform/resolvers/zod";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useController, useForm, useWatch } from "react-hook-form";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { Tuft } from "../draw/marks";
import { Form, NumberField, TextField } from "../kit/form";
import { Labelled } from "../kit/Labelled";
import { NotYet } from "../kit/states";
import { useOutbox } from "../outbox/useOutbox";
import { figure, numberOf, words } from "../records/amounts";
import { newPerson, nobodyYet, PersonFields, UnitsField } from "./PersonFields";

/** The door: signing in, or on the very first visit making the owner and the farm. */
export function SignInPage() {
  const first = useQuery({ queryKey: ["first-visit"], queryFn: () => answered(api.GET("/api/first-visit")) });
  return (
    <main className="mx-auto flex min-h-dvh max-w-md flex-col justify-center px-6 py-10">
      <Tuft
        odds={[0.1, 0.2, 0.35, 0.5, 0.7, 0.85, 0.95, 1, 0.97, 0.9, 0.75, 0.6, 0.4, 0.25, 0.12]}
        width={110}
        height={46}
      />
      <h1 className="pt-3 pb-1 text-3xl">Ink Meadow</h1>
      <p className="pb-6 text-pencil">Plan in pencil, record in ink.</p>
      {first.data === undefined && <NotYet what="Knocking" of={[first]} />}
      {first.data && (first.data.needs_owner ? <FirstVisit /> : <SignIn />)}
    </main>
  );
}

function useEnter() {
  const client = useQueryClient();
  const navigate = useNavigate();
  return (me: Schemas["Me"], page: "season" | "set-up" = "season") => {
    const before = client.getQueryData<Schemas["Me"] | null>(["me"]);
    // What another person read on this device is not shown to this one.
    if (before?.id !== me.id) client.clear();
    client.setQueryData(["me"], me);
    const farm = me.farms[0];
    if (farm) void navigate({ to: `/farms/$farm/${page}`, params: { farm: farm.id } });
  };
}

const known = z.object({ email: words("your address"), password: words("your password") });

function SignIn() {
  const enter = useEnter();
  const form = useForm({ resolver: zodResolver(known), defaultValues: { email: "", password: "" } });
  return (
    <>
      <Form
        form={form}
        submit="Sign in"
        onSubmit={async (body) => enter(await answered(api.POST("/api/sign-in", { body })))}
      >
        <TextField name="email" label="E-mail" type="email" autoComplete="username" />
        <TextField name="password" label="Password" type="password" autoComplete="current-password" />
      </Form>
      <Left />
    </>
  );
}

/** Whose records wait on this device: they go when that person signs in. */
function Left() {
  const items = useOutbox();
  if (items.length === 0) return null;
  const names = [...new Set(items.map((item) => item.personName))].join(" and ");
  return (
    <p className="pt-5 text-sm" data-left={items.length}>
      {items.length === 1 ? "One record" : `${items.length} records`} of {names}{" "}
      {items.length === 1 ? "waits" : "wait"} on this device, to be sent when they sign in.
    </p>
  );
}

const owner = z.object({
  ...newPerson,
  farm: words("what is the farm called?"),
  latitude: figure("how many degrees?"),
  longitude: figure("how many degrees?"),
  elevation: figure(),
  // Typed, or guessed from the place as soon as it is known.
  time_zone: z.string().nullable(),
});

const number = (text: string) => numberOf(text.replace("−", "-")) ?? Number.NaN;

function FirstVisit() {
  const enter = useEnter();
  const form = useForm({
    resolver: zodResolver(owner),
    defaultValues: {
      ...nobodyYet,
      farm: "",
      latitude: "",
      longitude: "",
      elevation: "",
      time_zone: null,
    } as z.infer<typeof owner>,
  });
  const [latitude, longitude, units, zone] = useWatch({
    control: form.control,
    name: ["latitude", "longitude", "units", "time_zone"],
  });
  const place = { latitude: number(latitude), longitude: number(longitude) };
  const guess = useQuery({
    queryKey: ["time-zone", place],
    enabled: Number.isFinite(place.latitude) && Number.isFinite(place.longitude),
    queryFn: () => answered(api.GET("/api/time-zone", { params: { query: place } })),
  });
  const shownZone = zone ?? guess.data?.time_zone ?? "";
  return (
    <>
      <p className="pb-4">Nobody has been here before. You will be the manager of the farm.</p>
      <Form
        form={form}
        submit="Begin"
        onSubmit={async (written) => {
          const body = {
            ...written,
            time_zone: shownZone.trim() || null,
            latitude: number(written.latitude),
            longitude: number(written.longitude),
            elevation: {
              value: number(written.elevation) || 0,
              unit: written.units === "us" ? ("ft" as const) : ("m" as const),
            },
          };
          enter(await answered(api.POST("/api/first-visit", { body })), "set-up");
        }}
      >
        <PersonFields />
        <TextField name="farm" label="The farm" />
        <div className="grid grid-cols-3 gap-4">
          <NumberField name="latitude" label="Latitude" hint="degrees, south is −" />
          <NumberField name="longitude" label="Longitude" hint="degrees, west is −" />
          <NumberField name="elevation" label="Elevation" hint={units === "us" ? "feet" : "metres"} />
        </div>
        <Zone shown={shownZone} />
        <UnitsField />
      </Form>
    </>
  );
}

/** The time zone: as typed, or as guessed while nothing was. */
function Zone({ shown }: { shown: string }) {
  const { field, fieldState } = useController<z.infer<typeof owner>, "time_zone">({ name: "time_zone" });
  return (
    <Labelled
      label="Time zone"
      hint="guessed from the place; change it if your clocks go otherwise"
      error={fieldState.error?.message}
    >
      {(ids) => (
        <input
          {...ids}
          className="entry"
          value={shown}
          onChange={(event) => field.onChange(event.target.value)}
        />
      )}
    </Labelled>
  );
}
