import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import { grouped } from "../kit/grouped";
import { Page } from "../kit/Page";
import { NotYet } from "../kit/states";
import { useFarm } from "../shell/farm";
import { dayText } from "../units/format";

/** What is theirs, to take along; and how old the last backup is. */
export function DataPage() {
  const farm = useFarm();
  return (
    <Page title="Data">
      <div className="grid gap-x-12 gap-y-6 lg:grid-cols-2">
        <section aria-labelledby="along-title">
          <h2 id="along-title">Take it along</h2>
          <p className="pb-2">
            All of the farm in one archive of open files: fields as GeoJSON, weather and ledger as CSV, every
            entry with its digest as JSON Lines, and a readme. It is signed, so that another server can tell
            whether it is complete and unaltered, and read it back as the same farm.
          </p>
          <p className="space-x-6">
            {farm.manages && (
              <a
                href={`/api/farms/${farm.id}/archive.zip`}
                download={`${farm.name}.zip`}
                className="line-button"
              >
                The whole farm
              </a>
            )}
            <a
              href={`/api/farms/${farm.id}/fields.geojson`}
              download="fields.geojson"
              className="line-button"
            >
              Fields alone
            </a>
          </p>
          {farm.manages && <SignedBy />}
        </section>
        {farm.manages && <BackupState />}
      </div>
    </Page>
  );
}

/** The key that signs archives here: compared where one is read back. */
function SignedBy() {
  const signing = useQuery({
    queryKey: ["signing-key"],
    queryFn: () => answered(api.GET("/api/signing-key")),
  });
  if (signing.data === undefined) return <NotYet what="Looking for the signing key" of={[signing]} />;
  return (
    <>
      <p className="pt-4 text-sm">
        Archives from this server are signed with the key below. Keep a copy of it away from the server, and
        compare it when an archive is read back.
      </p>
      <p className="max-w-prose pt-1 font-mono text-sm">{grouped(signing.data.key)}</p>
    </>
  );
}

function BackupState() {
  const backups = useQuery({ queryKey: ["backups"], queryFn: () => answered(api.GET("/api/backups")) });
  if (backups.data === undefined) return <NotYet what="Looking for the last backup" of={[backups]} />;
  const { set_up, last, size, kept, late } = backups.data;
  return (
    <section aria-labelledby="backup-title">
      <h2 id="backup-title">Backups</h2>
      {last && (
        <p>
          The last one is of {dayText(last.slice(0, 10), 0)}
          {size != null && `, ${(size / 1e6).toFixed(1)} MB`}; {kept === 1 ? "one is" : `${kept} are`} kept.
        </p>
      )}
      {late && (
        <p role="status" className="font-semibold text-stop">
          ✕{" "}
          {last
            ? "That is more than two days ago: look whether the daily backup still runs."
            : set_up
              ? "There is none in the folder that is set up."
              : "None is known of here."}
        </p>
      )}
      {!set_up && (
        <p className="pt-1 text-sm text-pencil">
          Whoever looks after the server sets one up, once a day: <code>./ink backup --keep FOLDER</code>. It
          keeps seven days, four weeks and twelve months.
        </p>
      )}
    </section>
  );
}
