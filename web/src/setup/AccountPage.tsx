import { zodResolver } from "@hookform/resolvers/zod";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { z } from "zod";
import { answered, api } from "../api/client";
import { useMe } from "../api/queries";
import { Form, TextField } from "../kit/form";
import { Page } from "../kit/Page";
import { NotYet } from "../kit/states";
import { useTell } from "../kit/Told";
import { words } from "../records/amounts";
import { dayText } from "../units/format";

/** One's own password, and where one is signed in. */
export function AccountPage() {
  const me = useMe().data;
  return (
    <Page title="My account">
      <p className="pb-4 text-pencil">
        {me?.name}, {me?.email}
      </p>
      <div className="grid gap-x-12 gap-y-6 lg:grid-cols-2">
        <Sessions />
        <Password />
      </div>
    </Page>
  );
}

const sessionsKey = ["sessions"];

function Sessions() {
  const client = useQueryClient();
  const list = useQuery({
    queryKey: sessionsKey,
    queryFn: () => answered(api.GET("/api/me/sessions")),
  });
  if (list.data === undefined) return <NotYet what="Loading sign-ins" of={[list]} />;
  const end = async (body: { id: string } | { others: true }) =>
    client.setQueryData(sessionsKey, await answered(api.POST("/api/me/sessions/end", { body })));
  const { sessions } = list.data;
  return (
    <section aria-labelledby="sessions-title">
      <h2 id="sessions-title">Where you are signed in</h2>
      <ul className="divide-y divide-rule border-y border-rule">
        {sessions.map(({ id, device, began, used, this: here }, index) => (
          <li key={id ?? index} className="flex flex-wrap items-baseline justify-between gap-x-4 py-1.5">
            <span>
              {device} {here && <span className="text-pencil">(this device)</span>}
              <span className="block text-sm text-pencil">
                {began && `signed in ${dayText(began.slice(0, 10), 0)}, `}last used{" "}
                {dayText(used.slice(0, 10), 0)}
              </span>
            </span>
            {id && !here && (
              <button type="button" className="line-button" onClick={() => void end({ id })}>
                Sign out
              </button>
            )}
          </li>
        ))}
      </ul>
      {sessions.length > 1 && (
        <button type="button" className="line-button mt-2" onClick={() => void end({ others: true })}>
          Sign out all others
        </button>
      )}
    </section>
  );
}

const values = z.object({
  old: words("Enter your current password."),
  password: words("Use at least 10 characters."),
});

function Password() {
  const client = useQueryClient();
  const tell = useTell();
  const form = useForm({ resolver: zodResolver(values), defaultValues: { old: "", password: "" } });
  return (
    <section aria-labelledby="password-title">
      <h2 id="password-title">Change password</h2>
      <Form
        form={form}
        submit="Save password"
        onSubmit={async (body) => {
          await answered(api.POST("/api/me/password", { body }));
          form.reset();
          tell("Password changed. All other sign-ins were ended.");
          await client.invalidateQueries({ queryKey: sessionsKey });
        }}
      >
        <TextField name="old" label="Current password" type="password" autoComplete="current-password" />
        <TextField
          name="password"
          label="New password"
          type="password"
          autoComplete="new-password"
          hint="Use at least 10 characters."
        />
      </Form>
    </section>
  );
}
