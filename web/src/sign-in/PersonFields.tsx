import { z } from "zod";
import { ChoiceOf, TextField } from "../kit/form";
import { words } from "../records/amounts";

/** What somebody new says of themselves, whether they found a farm or come to one. */
export const newPerson = {
  name: words("Enter your name."),
  email: words("Enter your e-mail address."),
  password: words("Use at least 10 characters."),
  units: z.enum(["us", "metric"]),
};

export const nobodyYet = { name: "", email: "", password: "", units: "us" as "us" | "metric" };

export function PersonFields() {
  return (
    <>
      <TextField name="name" label="Name" autoComplete="name" />
      <TextField name="email" label="E-mail" type="email" autoComplete="username" />
      <TextField
        name="password"
        label="Password"
        type="password"
        autoComplete="new-password"
        hint="Use at least 10 characters."
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
        { value: "metric", text: "Metric units" },
      ]}
    />
  );
}
