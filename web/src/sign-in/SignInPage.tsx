import { zodResolver } from "@hookform/resolvers/zod";
import { useQuery } from "@tanstack/react-query";
import { useForm, useWatch } from "react-hook-form";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { Form, TextField } from "../kit/form";
import { NotYet } from "../kit/states";
import { useOutbox } from "../outbox/useOutbox";
import { words } from "../records/amounts";
import { Doorway } from "./Doorway";
import { newPerson, nobodyYet, PersonFields, UnitsField } from "./PersonFields";
import { readHere } from "../units/read";
import { latitudeOf, longitudeOf, place, PlaceFields, useZone } from "./PlaceFields";
import { useEnter } from "./useEnter";

/** The door: signing in, or on the very first visit making the owner and the farm. */
export function SignInPage() {
  const first = useQuery({ queryKey: ["first-visit"], queryFn: () => answered(api.GET("/api/first-visit")) });
  return (
    <Doorway>
      <p className="pb-6 text-pencil">Plan in pencil, record in ink.</p>
      {first.data === undefined && <NotYet what="Loading" of={[first]} />}
      {first.data && (first.data.needs_owner ? <FirstVisit /> : <SignIn />)}
    </Doorway>
  );
}

const known = z.object({
  email: words("Enter your e-mail address."),
  password: words("Enter your password."),
});

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
      {items.length === 1 ? "1 record" : `${items.length} records`} by {names}{" "}
      {items.length === 1 ? "waits" : "wait"} on this device and will be sent when they sign in.
    </p>
  );
}

const owner = z
  .object({
    ...newPerson,
    farm: words("Enter a farm name."),
    ...place,
    elevation: z.string().max(40, "Too long; shorten it."),
  })
  .refine(({ elevation, units }) => heightOf(elevation, units) !== null, {
    path: ["elevation"],
    message: "Enter the elevation, e.g. 1,200 ft or 370 m.",
  });

/** An elevation as it is written, before there is anybody whose units are known; some farms lie below the sea. */
function heightOf(text: string, units: "us" | "metric") {
  const [, sign = "", rest = ""] = /^\s*([-−]?)(.*)$/.exec(text) ?? [];
  const read = readHere(rest, units === "us" ? "ft" : "m");
  return read && { ...read, value: sign === "" ? read.value : -read.value };
}

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
  const [latitude, longitude, units, written] = useWatch({
    control: form.control,
    name: ["latitude", "longitude", "units", "time_zone"],
  });
  const zone = useZone({ latitude, longitude, written });
  return (
    <>
      <p className="pb-4">Set up the first farm. You will be its manager.</p>
      <Form
        form={form}
        submit="Create farm"
        onSubmit={async (written) => {
          const body = {
            ...written,
            time_zone: zone.trim() || null,
            latitude: latitudeOf(written.latitude),
            longitude: longitudeOf(written.longitude),
            elevation: heightOf(written.elevation, written.units) as Schemas["Length"],
          };
          enter(await answered(api.POST("/api/first-visit", { body })), "set-up");
        }}
      >
        <PersonFields />
        <TextField name="farm" label="Farm name" />
        <PlaceFields zone={zone}>
          <TextField name="elevation" label="Elevation" hint={units === "us" ? "feet" : "meters"} />
        </PlaceFields>
        <UnitsField />
      </Form>
    </>
  );
}
