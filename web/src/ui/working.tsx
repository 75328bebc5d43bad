import { createContext, useCallback, useContext, useMemo, useState, type ReactNode } from "react";
import type { Schemas } from "../api/client";

type Working = Schemas["Working"];
type Caution = Schemas["Caution"];

interface Opened {
  working: Working;
  cautions: Caution[];
}

interface WorkingState {
  opened: Opened | null;
  show: (working: Working, cautions: Caution[]) => void;
  close: () => void;
}

const WorkingContext = createContext<WorkingState>({ opened: null, show: () => {}, close: () => {} });

export function useWorking() {
  return useContext(WorkingContext);
}

/** Holds which working is open; the shell draws it at the side. */
export function WorkingProvider({ children }: { children: ReactNode }) {
  const [opened, setOpened] = useState<Opened | null>(null);
  const show = useCallback((working: Working, cautions: Caution[]) => setOpened({ working, cautions }), []);
  const close = useCallback(() => setOpened(null), []);
  const state = useMemo(() => ({ opened, show, close }), [opened, show, close]);
  return <WorkingContext.Provider value={state}>{children}</WorkingContext.Provider>;
}
