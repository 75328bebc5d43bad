import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useMe, useRecord } from "../api/queries";
import { Choice } from "../kit/Choice";
import { Page } from "../kit/Page";
import { optionsOf, Pick } from "../kit/Pick";
import { NotYet, Trouble } from "../kit/states";
import { useFarm } from "../shell/farm";
import { linkOf, OpensBy } from "./OpensBy";
import { dayText } from "../units/format";

const roles: Record<Schemas["Role"], string> = {
  manager: "manager",
  crew: "crew",
  adviser: "adviser",
};

const may: Record<Schemas["Role"], string> = {
  manager: "Plans, records, strikes entries and manages set-up",
  crew: "Records, and strikes their own entries",
  adviser: "Reads everything, changes nothing",
};

/** Who is at the farm, who is asked to come, and what each may do. */
export function PeoplePage() {
  const farm = useFarm();
  const people = useQuery({
    queryKey: ["farm", farm.id, "people"],
    queryFn: () => answered(api.GET("/api/farms/{farm}/people", { params: { path: { farm: farm.id } } })),
  });
  if (people.data === undefined) return <NotYet what="Loading people" of={[people]} />;
  const manager = farm.role === "manager";
  return (
    <Page title="People">
      <div className="grid gap-x-12 gap-y-6 lg:grid-cols-2">
        <ul aria-label="People on this farm" className="self-start divide-y divide-rule border-y border-rule">
          {people.data.people.map((one) => (
            <Mate key={one.id} mate={one} manager={manager} />
          ))}
        </ul>
        {manager && <Invite open={people.data.invitations} />}
      </div>
    </Page>
  );
}

function Mate({ mate, manager }: { mate: Schemas["MateView"]; manager: boolean }) {
  const farm = useFarm();
  const me = useMe().data;
  const [sure, setSure] = useState(false);
  const change = useRecord(farm.id, (role: Schemas["Role"] | null) =>
    answered(
      api.PUT("/api/farms/{farm}/people/{person}", {
        params: { path: { farm: farm.id, person: mate.id } },
        body: { id: uuid(), role },
      }),
    ),
  );
  const own = me?.id === mate.id;
  const [link, setLink] = useState<string>();
  const reset = useRecord(farm.id, () =>
    answered(
      api.POST("/api/farms/{farm}/people/{person}/reset", {
        params: { path: { farm: farm.id, person: mate.id } },
        body: { id: uuid() },
      }),
    ),
  );
  const forgotten = () => reset.mutate(undefined, { onSuccess: ({ key }) => setLink(linkOf("resets", key)) });
  return (
    <li className="grid gap-x-4 py-2 sm:grid-cols-[minmax(0,1fr)_9rem_7rem]">
      <span>
        <strong>{mate.name}</strong>
        {own && <span className="text-pencil"> (you)</span>}
        <span className="block text-sm text-pencil">{mate.email ?? may[mate.role]}</span>
      </span>
      {manager ? (
        <Pick
          label={`Role of ${mate.name}`}
          hideLabel
          value={mate.role}
          onChange={(role) => role && role !== mate.role && change.mutate(role)}
          options={optionsOf(roles)}
        />
      ) : (
        <span>{roles[mate.role]}</span>
      )}
      {manager && (
        <button
          type="button"
          className="line-button justify-self-start self-start"
          onClick={() => (sure ? change.mutate(null) : setSure(true))}
          aria-label={`${sure ? "Yes, remove access" : "Remove access"}: ${mate.name}`}
          onBlur={() => setSure(false)}
        >
          {sure ? "Yes, remove access" : "Remove access"}
        </button>
      )}
      {(change.error ?? reset.error) && (
        <div className="col-span-full">
          <Trouble error={change.error ?? reset.error} />
        </div>
      )}
      {manager && !own && mate.role === "manager" && (
        <p className="col-span-full text-sm text-pencil">
          A manager who has forgotten the password gets a link from whoever runs the server.
        </p>
      )}
      {manager && !own && mate.role !== "manager" && (
        <div className="col-span-full">
          {link ? (
            <>
              <p className="text-sm text-pencil">
                {mate.name} can set a new password with this link. Valid for one day; shown once.
              </p>
              <OpensBy link={link} />
            </>
          ) : (
            <button
              type="button"
              className="line-button text-sm"
              aria-label={`Reset password: ${mate.name}`}
              onClick={forgotten}
            >
              Reset password
            </button>
          )}
        </div>
      )}
    </li>
  );
}

function Invite({ open }: { open: readonly Schemas["InvitationView"][] }) {
  const farm = useFarm();
  const client = useQueryClient();
  const [role, setRole] = useState<Schemas["Role"]>("crew");
  const [link, setLink] = useState<string>();
  const [failed, setFailed] = useState<Refused>();
  const read = () => client.invalidateQueries({ queryKey: ["farm", farm.id, "people"] });
  const attempt = async (work: () => Promise<unknown>) => {
    setFailed(undefined);
    try {
      await work();
      await read();
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      setFailed(error);
    }
  };
  const make = () =>
    attempt(async () => {
      const made = await answered(
        api.POST("/api/farms/{farm}/invitations", {
          params: { path: { farm: farm.id } },
          body: { id: uuid(), role, days: 7 },
        }),
      );
      setLink(linkOf("invitations", made.key));
    });
  const withdraw = (invitation: string) =>
    attempt(() =>
      answered(
        api.POST("/api/farms/{farm}/invitations/{invitation}/withdraw", {
          params: { path: { farm: farm.id, invitation } },
        }),
      ),
    );
  return (
    <section aria-labelledby="invite-title">
      <h2 id="invite-title">Invite person</h2>
      <p className="text-sm text-pencil">
        A link for one person, valid for seven days. It is shown once, so copy it now.
      </p>
      <Choice
        label="Role"
        value={role}
        onChange={setRole}
        options={Object.entries(roles).map(([value, text]) => ({ value: value as Schemas["Role"], text }))}
      />
      <p className="pb-2 text-sm text-pencil">{may[role]}</p>
      <button type="button" className="ink-button" onClick={() => void make()}>
        Create link
      </button>
      {failed && <Trouble error={failed} />}
      {link && <OpensBy link={link} />}
      {open.length > 0 && (
        <>
          <h3 className="pt-4">Open invitations</h3>
          <ul className="divide-y divide-rule border-t border-rule">
            {open.map((one) => (
              <li key={one.id} className="flex flex-wrap items-baseline justify-between gap-x-4 py-1.5">
                <span>
                  {roles[one.role]}{" "}
                  <span className="text-pencil">until {dayText(one.expires_at.slice(0, 10), 0)}</span>
                </span>
                <button type="button" className="line-button" onClick={() => void withdraw(one.id)}>
                  Cancel invitation
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
