import { lazy, Suspense, type ComponentProps } from "react";

/** Sheets with forms in them, fetched when the first of them is opened. */
const Ink = lazy(() => import("../season/InkSheet").then((room) => ({ default: room.InkSheet })));
const Entry = lazy(() => import("../ledger/EntrySheet").then((room) => ({ default: room.EntrySheet })));

export function InkSheet(props: ComponentProps<typeof Ink>) {
  return (
    <Suspense>
      <Ink {...props} />
    </Suspense>
  );
}

export function EntrySheet(props: ComponentProps<typeof Entry>) {
  return (
    <Suspense>
      <Entry {...props} />
    </Suspense>
  );
}
