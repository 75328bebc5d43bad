import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from "react";
import type { Schemas } from "../api/client";

type Working = Schemas["Working"];
type Caution = Schemas["Caution"];

interface Opened {
  working: Working;
  cautions: Caution[];
  /** The side of the page on which the explained figure does not stand. */
  side: "left" | "right";
}

interface WorkingState {
  opened: Opened | null;
  show: (working: Working, cautions: Caution[], figure: Element) => void;
  close: () => void;
}

const WorkingContext = createContext<WorkingState>({ opened: null, show: () => {}, close: () => {} });

export function useWorking() {
  return useContext(WorkingContext);
}

/** How wide the working is, pixels: 22 rem. */
export const WORKING_WIDTH = 352;

/** The side on which the working hides nothing of the figure it explains: the right, unless it stands there. */
export function sideFor(figureRight: number, pageWidth: number): "left" | "right" {
  return figureRight <= pageWidth - WORKING_WIDTH - 8 ? "right" : "left";
}

/** Holds which working is open; the shell draws it at the side. */
export function WorkingProvider({ children }: { children: ReactNode }) {
  const [opened, setOpened] = useState<Opened | null>(null);
  const show = useCallback((working: Working, cautions: Caution[], figure: Element) => {
    const side = sideFor(figure.getBoundingClientRect().right, document.documentElement.clientWidth);
    setOpened({ working, cautions, side });
    // On a narrow screen it lies over the lower half: the figure is brought above it.
    if (window.innerWidth < 1024) figure.scrollIntoView({ block: "center" });
  }, []);
  const close = useCallback(() => setOpened(null), []);
  const state = useMemo(() => ({ opened, show, close }), [opened, show, close]);
  return <WorkingContext.Provider value={state}>{children}</WorkingContext.Provider>;
}
