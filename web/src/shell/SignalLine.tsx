import { useQueryClient } from "@tanstack/react-query";
import { useSignal } from "../api/signal";
import { agoText } from "../units/format";
import { useNewer } from "./newer";
import { useNow } from "./useNow";

/** Without signal: that it is so, and of when what is shown is. And that a newer version waits. */
export function SignalLine() {
  const answers = useSignal();
  const renew = useNewer();
  return (
    <>
      {!answers && <Without />}
      {renew && (
        <p role="status" className="mx-5 mt-1 border-l-3 border-straw px-3 text-sm max-sm:mx-4">
          A new version of Ink Meadow is ready.{" "}
          <button type="button" className="line-button" onClick={renew}>
            Reload
          </button>
        </p>
      )}
    </>
  );
}

function Without() {
  const client = useQueryClient();
  const now = useNow();
  // The oldest of what stands on the page.
  const read = client
    .getQueryCache()
    .findAll({ type: "active" })
    .filter((query) => query.state.data !== undefined && query.state.dataUpdatedAt > 0)
    .map((query) => query.state.dataUpdatedAt);
  const oldest = read.length > 0 ? Math.min(...read) : undefined;
  return (
    <p
      role="status"
      data-signal="none"
      className="mx-5 mt-1 border-l-3 border-straw px-3 text-sm max-sm:mx-4"
    >
      <strong className="font-semibold">No signal.</strong>{" "}
      {oldest === undefined
        ? "No saved data on this device yet."
        : `Data shown is from ${agoText(now - oldest)}.`}{" "}
      New records are saved on this device and sent later.
    </p>
  );
}
