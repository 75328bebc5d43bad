import { z } from "zod";
import { ChoiceOf, TextField } from "../kit/form";
import { words } from "../records/amounts";

/** What somebody new says of themselves, whether they found a farm or come to one. */
export const newPerson = {
  name: words("your name"),
  email: words("your address"),
  password: words("at least ten letters"),
  units: z.enum(["us", "metric"]),
};

export const nobodyYet = { name: "", email: "", password: "", units: "us" as "us" | "metric" };

export function PersonFields() {
  return (
    <>
      <TextField name="name" label="Your name" autoComplete="name" />
      <TextField name="email" label="E-mail" type="email" autoComplete="username" />
      <TextField
        name="password"
        label="Password"
        type="password"
        autoComplete="new-password"
        hint="at least ten letters"
      />
    </>
  );
}

export function UnitsField() {
  return (
    <ChoiceOf
      name="units"
      label="Units"
      options={[
        { value: "us", text: "US units" },
        { value: "metric", text: "metric units" },
      ]}
    />
  );
}
