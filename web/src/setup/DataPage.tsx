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
          <h2 id="along-title">Export farm</h2>
          <p className="pb-2">
            The whole farm as one zip of open files: fields (GeoJSON), weather and ledger (CSV), every entry
            with its digest (JSON Lines) and a readme. It is signed: another server can check that it is
            complete and unaltered, and import it as the same farm.
          </p>
          <p className="space-x-6">
            {farm.manages && (
              <a
                href={`/api/farms/${farm.id}/archive.zip`}
                download={`${farm.name}.zip`}
                className="line-button"
              >
                Download whole farm
              </a>
            )}
            <a
              href={`/api/farms/${farm.id}/fields.geojson`}
              download="fields.geojson"
              className="line-button"
            >
              Download fields only
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
  if (signing.data === undefined) return <NotYet what="Loading signing key" of={[signing]} />;
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
  if (backups.data === undefined) return <NotYet what="Checking backups" of={[backups]} />;
  const { set_up, last, size, kept, late } = backups.data;
  return (
    <section aria-labelledby="backup-title">
      <h2 id="backup-title">Backups</h2>
      {last && (
        <p>
          Last backup {dayText(last.slice(0, 10), 0)}
          {size != null && `, ${(size / 1e6).toFixed(1)} MB`}; {kept} kept.
        </p>
      )}
      {late && (
        <p role="status" className="font-semibold text-stop">
          ✕{" "}
          {last
            ? "More than two days old. Check that the daily backup is running."
            : set_up
              ? "No backup found in the backup folder."
              : "No backup set up."}
        </p>
      )}
      {!set_up && (
        <p className="pt-1 text-sm text-pencil">
          Ask whoever runs the server to schedule this daily: <code>./ink backup --keep FOLDER</code>. It
          keeps 7 daily, 4 weekly and 12 monthly backups.
        </p>
      )}
    </section>
  );
}
