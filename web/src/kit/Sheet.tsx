import { Dialog } from "radix-ui";
import { createContext, useContext, type ReactNode } from "react";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  about?: string;
  children: ReactNode;
}

/** How the sheet around is closed; none where there is none. */
const SheetContext = createContext<(() => void) | null>(null);
export const useSheet = () => useContext(SheetContext);

/** A sheet laid over the page for one small task. */
export function TaskSheet({ open, onOpenChange, title, about, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          className="fixed top-[8vh] left-1/2 z-50 max-h-[86vh] w-[min(34rem,94vw)] -translate-x-1/2 overflow-y-auto border-2 border-ink bg-paper p-6 max-sm:top-auto max-sm:bottom-0 max-sm:w-full"
          {...(about ? {} : { "aria-describedby": undefined })}
        >
          <Dialog.Title className="text-xl font-bold">{title}</Dialog.Title>
          {about && <Dialog.Description className="mt-1 text-sm text-pencil">{about}</Dialog.Description>}
          <SheetContext.Provider value={() => onOpenChange(false)}>{children}</SheetContext.Provider>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
