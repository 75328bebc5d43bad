import { Link } from "@tanstack/react-router";
import type { ComponentProps } from "react";
import { pages } from "../pages";
import type { Farm } from "./farm";
import { MoreMenu } from "./menus";
import { pageAddress, useGoTo } from "./usePages";

interface Props {
  farm: Farm;
  /** Opens what can be recorded; nothing for who may not. */
  onRecord: (() => void) | undefined;
  onFind: () => void;
  own: Omit<ComponentProps<typeof MoreMenu>, "places" | "className">;
}

/** The bar at the foot of a phone, in reach of a thumb: where one goes most, recording in the middle, and the rest under More. */
export function Foot({ farm, onRecord, onFind, own }: Props) {
  const to = useGoTo(farm.id);
  const atFoot = pages.filter((page) => page.atFoot);
  // The thumb finds recording in the middle.
  const middle = Math.ceil(atFoot.length / 2);
  const part =
    "flex min-h-14 flex-1 items-center justify-center border-t-3 border-transparent text-[0.9375rem] text-pencil";
  const place = (page: (typeof atFoot)[number]) => (
    <Link
      key={page.path}
      to={pageAddress(farm.id, page.path)}
      className={part}
      activeProps={{ className: "!border-ink !text-ink font-semibold" }}
    >
      {page.text}
    </Link>
  );
  const places = [
    ...pages.flatMap((page) =>
      (page.at === "work" && !page.atFoot) || page.at === "farm"
        ? [{ text: page.text ?? page.path, act: () => to(page.path) }]
        : [],
    ),
    { text: "Find", act: onFind },
  ];
  return (
    <nav
      aria-label="Pages"
      className="fixed inset-x-0 bottom-0 z-20 flex border-t-2 border-ink bg-paper pb-[env(safe-area-inset-bottom)] sm:hidden"
    >
      {atFoot.slice(0, middle).map(place)}
      {onRecord && (
        <button
          type="button"
          className="min-h-14 flex-[1.3] bg-ink font-semibold text-paper"
          onClick={onRecord}
        >
          Record
        </button>
      )}
      {atFoot.slice(middle).map(place)}
      <MoreMenu {...own} places={places} className={part} />
    </nav>
  );
}
