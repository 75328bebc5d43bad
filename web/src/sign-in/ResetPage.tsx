import { zodResolver } from "@hookform/resolvers/zod";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { useForm } from "react-hook-form";
import { z } from "zod";
import { answered, api } from "../api/client";
import { Form, TextField } from "../kit/form";
import { NotYet } from "../kit/states";
import { words } from "../records/amounts";
import { Doorway } from "./Doorway";
import { useEnter } from "./useEnter";

const values = z.object({ password: words("Use at least 10 characters.") });

/** A new password, by the link that a manager handed on. */
export function ResetPage() {
  const { key = "" } = useParams({ strict: false });
  const enter = useEnter();
  const asked = useQuery({
    queryKey: ["reset", key],
    retry: false,
    queryFn: () => answered(api.GET("/api/resets/{key}", { params: { path: { key } } })),
  });
  const form = useForm({ resolver: zodResolver(values), defaultValues: { password: "" } });
  return (
    <Doorway>
      {asked.data === undefined ? (
        <NotYet what="Loading link" of={[asked]} />
      ) : (
        <>
          <p className="pb-4 text-lg">
            New password for {asked.data.name} (<strong>{asked.data.email}</strong>).
          </p>
          <Form
            form={form}
            submit="Save password and sign in"
            onSubmit={async (body) =>
              enter(await answered(api.POST("/api/resets/{key}", { params: { path: { key } }, body })))
            }
          >
            <TextField
              name="password"
              label="New password"
              type="password"
              autoComplete="new-password"
              hint="Use at least 10 characters."
            />
          </Form>
        </>
      )}
    </Doorway>
  );
}
