import type { ReactNode } from "react";

interface Props {
  /** The heading of the screen. */
  title: ReactNode;
  /** For a heading that others refer to. */
  titleId?: string;
  /** A word or two on the heading's line. */
  about?: ReactNode;
  /** What is chosen or done for the whole screen, at the right of the heading's line. */
  tools?: ReactNode;
  /** What stands at the side, on a screen wide enough; on a narrow one below, or above when it is what one came for. */
  aside?: ReactNode;
  asideFirst?: boolean;
  /** It fits the window: nothing is left free below it. */
  snug?: boolean;
  children: ReactNode;
}

/** The frame of every screen: the same left edge, the same line for the heading, the same width. */
export function Page({ title, titleId, about, tools, aside, asideFirst, snug, children }: Props) {
  return (
    <div
      data-page
      className={`flex gap-x-8 gap-y-4 px-5 max-sm:px-4 ${snug ? "" : "pb-8"} ${asideFirst ? "max-lg:flex-col-reverse" : "max-lg:flex-col"}`}
    >
      <div className="min-w-0 flex-1">
        <div className="flex min-h-11 flex-wrap items-center gap-x-6 gap-y-1 py-1">
          <h1 id={titleId}>{title}</h1>
          {about && <div className="text-pencil">{about}</div>}
          {tools && <div className="ml-auto flex flex-wrap items-center gap-x-5 max-sm:ml-0">{tools}</div>}
        </div>
        {children}
      </div>
      {aside && <div className="w-full shrink-0 lg:w-66">{aside}</div>}
    </div>
  );
}
