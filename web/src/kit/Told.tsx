import { Toast } from "radix-ui";
import { createContext, useCallback, useContext, useState, type ReactNode } from "react";

/** What can still be done about it. */
interface Deed {
  text: string;
  act: () => void;
}

type Tell = (words: string, deed?: Deed) => void;

const ToldContext = createContext<Tell>(() => {});

/** Say something in passing: it goes by itself. */
export function useTell(): Tell {
  return useContext(ToldContext);
}

interface Said {
  key: number;
  words: string;
  deed: Deed | undefined;
}

export function ToldProvider({ children }: { children: ReactNode }) {
  const [told, setTold] = useState<Said[]>([]);
  const tell = useCallback<Tell>(
    (words, deed) => setTold((old) => [...old.slice(-2), { key: (old.at(-1)?.key ?? 0) + 1, words, deed }]),
    [],
  );
  return (
    <Toast.Provider duration={6000} swipeDirection="down">
      <ToldContext.Provider value={tell}>{children}</ToldContext.Provider>
      {told.map(({ key, words, deed }) => (
        <Toast.Root
          key={key}
          className="border-2 border-ink bg-paper px-4 py-2.5"
          onOpenChange={(open) => !open && setTold((old) => old.filter((one) => one.key !== key))}
        >
          <Toast.Description>{words}</Toast.Description>
          {deed && (
            <Toast.Action altText={deed.text} className="line-button" onClick={deed.act}>
              {deed.text}
            </Toast.Action>
          )}
        </Toast.Root>
      ))}
      <Toast.Viewport className="no-print fixed right-4 bottom-4 z-[80] flex w-[min(26rem,92vw)] flex-col gap-2 outline-none max-sm:inset-x-4 max-sm:bottom-18" />
    </Toast.Provider>
  );
}
