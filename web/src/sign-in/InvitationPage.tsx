import { zodResolver } from "@hookform/resolvers/zod";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { homePage } from "../shell/home";
import { pageAddress } from "../shell/usePages";
import { useForm } from "react-hook-form";
import { z } from "zod";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useMe } from "../api/queries";
import { Form } from "../kit/form";
import { NotYet, Trouble } from "../kit/states";
import { Doorway } from "./Doorway";
import { newPerson, nobodyYet, PersonFields, UnitsField } from "./PersonFields";

const roles: Record<Schemas["Role"], string> = {
  manager: "a manager",
  crew: "crew",
  adviser: "an adviser",
};

/** What a link asks to: to come to a farm, as who one is, or as somebody new. */
export function InvitationPage() {
  const { key = "" } = useParams({ strict: false });
  const me = useMe();
  const asked = useQuery({
    queryKey: ["invitation", key],
    retry: false,
    queryFn: () => answered(api.GET("/api/invitations/{key}", { params: { path: { key } } })),
  });
  return (
    <Doorway>
      {asked.data === undefined ? (
        <NotYet what="Loading invitation" of={[asked]} />
      ) : (
        <>
          <p className="pb-5 text-lg">
            {asked.data.by} invited you to <strong>{asked.data.farm}</strong> as {roles[asked.data.role]}.
          </p>
          {me.data ? <Join invitation={key} me={me.data} /> : me.data === null && <SignUp invitation={key} />}
        </>
      )}
    </Doorway>
  );
}

/** Into the farm, with all that was read as somebody else forgotten. */
function useArrive() {
  const client = useQueryClient();
  const navigate = useNavigate();
  return async (farm: string) => {
    await client.resetQueries({ queryKey: ["me"] });
    void navigate({ to: pageAddress(farm, homePage()) });
  };
}

function Join({ invitation, me }: { invitation: string; me: Schemas["Me"] }) {
  const arrive = useArrive();
  const [failed, setFailed] = useState<Refused>();
  const join = async () => {
    try {
      const path = { key: invitation };
      await arrive((await answered(api.POST("/api/invitations/{key}/join", { params: { path } }))).farm);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      setFailed(error);
    }
  };
  return (
    <>
      {failed && <Trouble error={failed} />}
      <button type="button" className="ink-button self-start" onClick={() => void join()}>
        Join as {me.name}
      </button>
      <p className="pt-3 text-sm text-pencil">
        You are signed in as {me.name}. Not you? Sign out, then open the link again.
      </p>
    </>
  );
}

const newcomer = z.object(newPerson);

function SignUp({ invitation }: { invitation: string }) {
  const arrive = useArrive();
  const form = useForm({
    resolver: zodResolver(newcomer),
    defaultValues: nobodyYet,
  });
  return (
    <>
      <Form
        form={form}
        submit="Create account and join"
        onSubmit={async (body) => {
          const path = { key: invitation };
          await arrive(
            (await answered(api.POST("/api/invitations/{key}/sign-up", { params: { path }, body }))).farm,
          );
        }}
      >
        <PersonFields />
        <UnitsField />
      </Form>
      <p className="pt-4 text-sm text-pencil">
        Already have an account?{" "}
        <Link to="/sign-in" className="underline">
          Sign in
        </Link>
        , then open the link again.
      </p>
    </>
  );
}
