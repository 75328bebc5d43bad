import { Toast } from "radix-ui";
import { createContext, useCallback, useContext, useState, type ReactNode } from "react";

const ToldContext = createContext<(words: string) => void>(() => {});

/** Say something in passing: it goes by itself. */
export function useTell(): (words: string) => void {
  return useContext(ToldContext);
}

interface Said {
  key: number;
  words: string;
}

export function ToldProvider({ children }: { children: ReactNode }) {
  const [told, setTold] = useState<Said[]>([]);
  const tell = useCallback(
    (words: string) => setTold((old) => [...old.slice(-2), { key: (old.at(-1)?.key ?? 0) + 1, words }]),
    [],
  );
  return (
    <Toast.Provider duration={6000} swipeDirection="down">
      <ToldContext.Provider value={tell}>{children}</ToldContext.Provider>
      {told.map(({ key, words }) => (
        <Toast.Root
          key={key}
          className="border-2 border-ink bg-paper px-4 py-2.5"
          onOpenChange={(open) => !open && setTold((old) => old.filter((one) => one.key !== key))}
        >
          <Toast.Description>{words}</Toast.Description>
        </Toast.Root>
      ))}
      <Toast.Viewport className="no-print fixed right-4 bottom-4 z-[80] flex w-[min(26rem,92vw)] flex-col gap-2 outline-none max-sm:inset-x-4 max-sm:bottom-18" />
    </Toast.Provider>
  );
}
