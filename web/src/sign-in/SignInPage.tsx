import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState, type ReactNode } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { Tuft } from "../draw/marks";
import { Choice } from "../ui/Choice";
import { Labelled } from "../ui/Labelled";
import { Trouble, Waiting } from "../ui/states";

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
      {first.isPending && <Waiting what="Knocking" />}
      {first.isError && <Trouble error={first.error} />}
      {first.data && (first.data.needs_owner ? <FirstVisit /> : <SignIn />)}
    </main>
  );
}

function useEnter() {
  const client = useQueryClient();
  const navigate = useNavigate();
  return (me: Schemas["Me"]) => {
    client.setQueryData(["me"], me);
    const farm = me.farms[0];
    if (farm) void navigate({ to: "/farms/$farm/season", params: { farm: farm.id } });
  };
}

function useSubmit(send: () => Promise<Schemas["Me"]>) {
  const enter = useEnter();
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<Refused>();
  const submit = async (event: React.FormEvent) => {
    event.preventDefault();
    setBusy(true);
    setError(undefined);
    try {
      enter(await send());
    } catch (refused) {
      if (refused instanceof Refused) setError(refused);
      else throw refused;
    } finally {
      setBusy(false);
    }
  };
  return { submit, busy, error };
}

interface TextProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  error?: string | undefined;
  hint?: string;
  type?: string;
  autoComplete?: string;
}

function Text({ label, value, onChange, error, hint, type = "text", autoComplete }: TextProps) {
  return (
    <Labelled label={label} error={error} hint={hint}>
      {(ids) => (
        <input
          {...ids}
          type={type}
          className="entry"
          autoComplete={autoComplete}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
    </Labelled>
  );
}

function Form({
  form,
  button,
  children,
}: {
  form: ReturnType<typeof useSubmit>;
  button: string;
  children: ReactNode;
}) {
  return (
    <form onSubmit={(event) => void form.submit(event)} noValidate className="space-y-1">
      {children}
      {form.error && !form.error.problem.errors?.length && <Trouble error={form.error} />}
      <button type="submit" className="ink-button mt-3" disabled={form.busy}>
        {button}
      </button>
    </form>
  );
}

function SignIn() {
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const form = useSubmit(() => answered(api.POST("/api/sign-in", { body: { email, password } })));
  return (
    <Form form={form} button="Sign in">
      <Text label="E-mail" type="email" autoComplete="username" value={email} onChange={setEmail} />
      <Text
        label="Password"
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={setPassword}
      />
    </Form>
  );
}

function FirstVisit() {
  const [owner, setOwner] = useState({
    email: "",
    name: "",
    password: "",
    farm: "",
    latitude: "",
    longitude: "",
    elevation: "",
  });
  const [units, setUnits] = useState<Schemas["System"]>("us");
  // Typed, or guessed from the place as soon as it is known.
  const [zone, setZone] = useState<string | null>(null);
  const set = (field: keyof typeof owner) => (value: string) => setOwner({ ...owner, [field]: value });
  const number = (text: string) =>
    text.trim() === "" ? Number.NaN : Number(text.replace(",", ".").replace("−", "-"));
  const place = { latitude: number(owner.latitude), longitude: number(owner.longitude) };
  const guess = useQuery({
    queryKey: ["time-zone", place],
    enabled: Number.isFinite(place.latitude) && Number.isFinite(place.longitude),
    queryFn: () => answered(api.GET("/api/time-zone", { params: { query: place } })),
  });
  const shownZone = zone ?? guess.data?.time_zone ?? "";
  const form = useSubmit(() => {
    const degrees = (text: string) => (Number.isFinite(number(text)) ? number(text) : 999);
    return answered(
      api.POST("/api/first-visit", {
        body: {
          ...owner,
          units,
          time_zone: shownZone.trim() || null,
          latitude: degrees(owner.latitude),
          longitude: degrees(owner.longitude),
          elevation: { value: number(owner.elevation) || 0, unit: units === "us" ? "ft" : "m" },
        },
      }),
    );
  });
  const at = (field: string) => form.error?.at(`/${field}`);
  return (
    <>
      <p className="pb-4">Nobody has been here before. You will be the manager of the farm.</p>
      <Form form={form} button="Begin">
        <Text
          label="Your name"
          autoComplete="name"
          value={owner.name}
          onChange={set("name")}
          error={at("name")}
        />
        <Text
          label="E-mail"
          type="email"
          autoComplete="username"
          value={owner.email}
          onChange={set("email")}
          error={at("email")}
        />
        <Text
          label="Password"
          type="password"
          autoComplete="new-password"
          value={owner.password}
          onChange={set("password")}
          error={at("password")}
          hint="at least ten letters"
        />
        <Text label="The farm" value={owner.farm} onChange={set("farm")} error={at("farm")} />
        <div className="grid grid-cols-3 gap-4">
          <Text
            label="Latitude"
            value={owner.latitude}
            onChange={set("latitude")}
            error={at("latitude")}
            hint="degrees, south is −"
          />
          <Text
            label="Longitude"
            value={owner.longitude}
            onChange={set("longitude")}
            error={at("longitude")}
            hint="degrees, west is −"
          />
          <Text
            label="Elevation"
            value={owner.elevation}
            onChange={set("elevation")}
            error={at("elevation")}
            hint={units === "us" ? "feet" : "metres"}
          />
        </div>
        <Text
          label="Time zone"
          value={shownZone}
          onChange={setZone}
          error={at("time_zone")}
          hint="guessed from the place; change it if your clocks go otherwise"
        />
        <Choice
          label="Units"
          value={units}
          onChange={setUnits}
          options={[
            { value: "us", text: "US units" },
            { value: "metric", text: "metric units" },
          ]}
        />
      </Form>
    </>
  );
}
