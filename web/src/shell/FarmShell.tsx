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
import { Clock } from "./Clock";
import { FarmContext, seenAs, type Farm } from "./farm";
import { RECORD_KEY, UNITS_KEY } from "./keys";
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
  const theme = me.data?.theme;
  useEffect(() => {
    if (theme) document.documentElement.dataset["theme"] = theme;
  }, [theme]);
  useEffect(watchSignal, []);
  if (me.data === undefined) return <NotYet what="Loading farm" of={[me]} />;
  if (me.data === null) return <Navigate to="/sign-in" />;
  const found = me.data.farms.find((one) => one.id === id);
  if (!found) return <p className="px-5 py-3">Farm not found, or you do not have access.</p>;
  const farm = seenAs(found);
  payIn(farm.currency);
  return (
    <FarmContext.Provider value={farm}>
      <SpanProvider key={farm.id} today={farm.today} yearBegins={farm.year_begins}>
        <WorkingProvider key={farm.id}>
          <Bar me={me.data} farm={farm} />
          <main id="main" className="max-sm:pb-16">
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
  const units = () => void settle({ units: me.units === "us" ? "metric" : "us" });
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
  return (
    <header className="no-print">
      <div className="flex flex-wrap items-end gap-x-5 gap-y-1 px-5 pt-2.5 max-sm:px-4">
        <a href="#main" className="sr-only focus:not-sr-only">
          Skip to content
        </a>
        <div className="flex items-end gap-2.5 pb-1.5">
          <Tuft odds={[0.35, 0.65, 0.9, 1, 0.8, 0.5, 0.25]} width={26} height={19} />
          <span className="text-lg leading-none font-bold whitespace-nowrap">Ink Meadow</span>
          <FarmMenu me={me} farm={farm} />
        </div>
        <nav
          aria-label="Pages"
          className="flex flex-1 gap-x-3 max-xl:order-last max-xl:basis-full max-md:overflow-x-auto max-md:[scrollbar-width:none]"
        >
          {pages.map(
            (page) =>
              page.text &&
              !page.onStand && (
                <Link
                  key={page.path}
                  to={pageAddress(farm.id, page.path)}
                  className="border-b-3 border-transparent pb-1 text-[0.9375rem] whitespace-nowrap text-pencil hover:text-ink max-sm:pt-2.5 max-sm:pb-2.5"
                  activeProps={{ className: "!border-ink !text-ink font-semibold" }}
                >
                  {page.text}
                </Link>
              ),
          )}
        </nav>
        <div className="flex items-center gap-x-3.5 gap-y-1 pb-1 text-sm whitespace-nowrap max-sm:flex-wrap">
          <OutboxChip me={me} />
          {records && (
            <button type="button" className={`${plain} font-semibold max-sm:hidden`} onClick={record}>
              Record
            </button>
          )}
          <Clock farm={farm} />
          <button type="button" className={plain} onClick={units}>
            {me.units === "us" ? "US units" : "Metric units"}
          </button>
          <button type="button" className={`${plain} max-sm:hidden`} onClick={() => setPalette(true)}>
            Find
          </button>
          <PersonMenu
            me={me}
            onAccount={() => to("set-up/you")}
            onHelp={() => setHelp(true)}
            onSignedOut={() => client.clear()}
          />
        </div>
      </div>
      <SignalLine />
      {unsettled && <Trouble error={unsettled} at="Your setting was not saved" />}
      {records && (
        <button
          type="button"
          className="fixed inset-x-0 bottom-0 z-20 min-h-14 border-t-2 border-ink bg-paper text-base font-semibold sm:hidden"
          onClick={record}
        >
          Record
        </button>
      )}
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
