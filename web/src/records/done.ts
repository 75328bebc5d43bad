import { createContext, useContext } from "react";

/** What closes the form, for a field that gets the thing done in another way. */
export const DoneContext = createContext<() => void>(() => {});

export function useDone(): () => void {
  return useContext(DoneContext);
}
