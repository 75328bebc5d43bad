import { useQueryClient } from "@tanstack/react-query";
import { Link, Navigate, Outlet, useParams } from "@tanstack/react-router";
import { lazy, Suspense, useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import {
  useCrops,
  useFields,
  useMaterials,
  useMe,
  useSeason,
  useSettle,
  useShelf,
  useUnsettled,
} from "../api/queries";
import { useSignal, watchSignal } from "../api/signal";
import { Tuft } from "../draw/marks";
import { SpanProvider } from "../draw/span";
import { NotYet, Trouble, Waiting } from "../kit/states";
import { WorkingProvider } from "../kit/working";
import { WorkingPanel } from "../kit/WorkingPanel";
import { OutboxChip } from "../outbox/OutboxChip";
import { useSending } from "../outbox/useOutbox";
import { pages } from "../pages";
import { prepareForms } from "../records/registry";
import { payIn } from "../units/currency";
import { tellDaysFor } from "../units/order";
import { Clock } from "./Clock";
import { FarmContext, seenAs, type Farm } from "./farm";
import { RECORD_KEY, UNITS_KEY } from "./keys";
import { Foot } from "./Foot";
import { FarmMenu, PersonMenu } from "./menus";
import { Palette } from "./Palette";
import { Shortcuts } from "./Shortcuts";
import { SignalLine } from "./SignalLine";
import { useKeys } from "./useKeys";
import { pageAddress, useGoTo } from "./usePages";

const recordAnything = () => import("../records/RecordAnything");
const RecordAnything = lazy(() => recordAnything().then((room) => ({ default: room.RecordAnything })));

/** Have at hand what recording needs: the signal may be gone by the time it is wanted. */
function prepare(): void {
  prepareForms();
  for (const room of [
    recordAnything,
    () => import("../season/InkSheet"),
    () => import("../outbox/OutboxSheet"),
  ])
    room().catch(() => {});
}

/** The frame of every page of a farm. */
export function FarmShell() {
  const me = useMe();
  const { farm: id } = useParams({ strict: false });
  const { theme, units } = me.data ?? {};
  useEffect(() => {
    if (theme) document.documentElement.dataset["theme"] = theme;
    if (units) document.documentElement.dataset["units"] = units;
  }, [theme, units]);
  useEffect(watchSignal, []);
  if (me.data === undefined) return <NotYet what="Loading farm" of={[me]} />;
  if (me.data === null) return <Navigate to="/sign-in" />;
  const found = me.data.farms.find((one) => one.id === id);
  if (!found)
    return (
      <main className="px-5 py-3">
        <h1>Farm not found</h1>
        <p className="pb-3">It does not exist, or you do not have access.</p>
        <a href="/" className="line-button">
          Go to your farm
        </a>
      </main>
    );
  const farm = seenAs(found);
  payIn(farm.currency);
  tellDaysFor(me.data.units);
  return (
    <FarmContext.Provider value={farm}>
      <SpanProvider key={farm.id} today={farm.today} yearBegins={farm.year_begins}>
        <WorkingProvider key={farm.id}>
          <Bar me={me.data} farm={farm} />
          <main id="main" className="max-sm:pb-20">
            <Suspense fallback={<Waiting what="Opening" />}>
              <Outlet />
            </Suspense>
          </main>
          <WorkingPanel />
        </WorkingProvider>
      </SpanProvider>
    </FarmContext.Provider>
  );
}

/** Read what every record's form needs, before the signal is gone. */
function useAtHand(farm: string): void {
  useShelf();
  useCrops();
  useFields(farm);
  useMaterials(farm);
  useSeason(farm);
}

/** When the signal is back, what could not be read is asked for again. */
function useAskAgain(): void {
  const client = useQueryClient();
  const answers = useSignal();
  useEffect(() => {
    if (answers)
      void client.refetchQueries({ type: "active", predicate: (query) => query.state.status === "error" });
  }, [answers, client]);
}

/** When the browser has nothing better to do. */
function whenIdle(work: () => void): () => void {
  const timer = setTimeout(work, 1500);
  return () => clearTimeout(timer);
}

function Bar({ me, farm }: { me: Schemas["Me"]; farm: Farm }) {
  const [palette, setPalette] = useState(false);
  const [help, setHelp] = useState(false);
  const [recording, setRecording] = useState(false);
  // On a field's page it is that field's record.
  const { field } = useParams({ strict: false });
  const client = useQueryClient();
  const settle = useSettle();
  const unsettled = useUnsettled();
  useSending(me.id);
  useAtHand(farm.id);
  useAskAgain();
  useEffect(() => whenIdle(prepare), []);
  const readIn = (units: Schemas["System"]) => void settle({ units });
  const units = () => readIn(me.units === "us" ? "metric" : "us");
  const records = farm.role !== "adviser";
  const record = () => records && setRecording(true);
  const to = useGoTo(farm.id);
  useKeys({
    "mod+k": () => setPalette(true),
    "?": () => setHelp(true),
    [UNITS_KEY]: units,
    [RECORD_KEY]: record,
    ...Object.fromEntries(
      pages.flatMap((page) => (page.key ? [[page.key, () => to(page.path)] as const] : [])),
    ),
  });
  const plain = "min-h-6 underline decoration-dotted max-sm:min-h-11";
  const own = {
    me,
    onUnits: readIn,
    onAccount: () => to("set-up/you"),
    onHelp: () => setHelp(true),
    onSignedOut: () => client.clear(),
  };
  return (
    <header className="no-print">
      <div className="flex items-end gap-x-5 gap-y-1 px-5 pt-2.5 max-lg:flex-wrap max-sm:flex-nowrap max-sm:items-center max-sm:gap-x-3 max-sm:border-b max-sm:border-rule max-sm:px-4 max-sm:pt-0">
        <a href="#main" className="sr-only focus:not-sr-only">
          Skip to content
        </a>
        <div className="flex min-w-0 items-end gap-2.5 pb-1.5 max-sm:flex-1 max-sm:items-center max-sm:pb-0">
          <Tuft odds={[0.35, 0.65, 0.9, 1, 0.8, 0.5, 0.25]} width={26} height={19} />
          <span className="text-lg leading-none font-bold whitespace-nowrap max-sm:sr-only">Ink Meadow</span>
          <FarmMenu me={me} farm={farm} />
        </div>
        <nav
          aria-label="Pages"
          className="flex flex-1 gap-x-3.5 max-lg:order-last max-lg:basis-full max-sm:hidden"
        >
          {pages.map(
            (page) =>
              page.at === "work" && (
                <Link
                  key={page.path}
                  to={pageAddress(farm.id, page.path)}
                  className="border-b-3 border-transparent pb-1 text-[0.9375rem] whitespace-nowrap text-pencil hover:text-ink"
                  activeProps={{ className: "!border-ink !text-ink font-semibold" }}
                >
                  {page.text}
                </Link>
              ),
          )}
        </nav>
        <div className="flex items-center gap-x-3.5 gap-y-1 pb-1 text-sm whitespace-nowrap max-lg:ml-auto max-sm:pb-0">
          <OutboxChip me={me} />
          {records && (
            <button
              type="button"
              className="line-button !min-h-7 font-semibold max-sm:hidden"
              onClick={record}
            >
              Record
            </button>
          )}
          <Clock farm={farm} />
          <button type="button" className={`${plain} max-sm:hidden`} onClick={() => setPalette(true)}>
            Find
          </button>
          <span className="contents max-sm:hidden">
            <PersonMenu {...own} />
          </span>
        </div>
      </div>
      <SignalLine />
      {unsettled && <Trouble error={unsettled} at="Your setting was not saved" />}
      <Foot farm={farm} onRecord={records ? record : undefined} onFind={() => setPalette(true)} own={own} />
      <Palette
        open={palette}
        onOpenChange={setPalette}
        farm={farm}
        deeds={[
          ...(records ? [{ text: "Record", act: record }] : []),
          { text: "Switch units", act: units },
          { text: "Shortcuts", act: () => setHelp(true) },
        ]}
      />
      <Shortcuts open={help} onOpenChange={setHelp} />
      {recording && (
        <Suspense>
          <RecordAnything farm={farm} field={field} onDone={() => setRecording(false)} />
        </Suspense>
      )}
    </header>
  );
}
