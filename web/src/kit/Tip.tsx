import { Tooltip } from "radix-ui";
import type { ReactElement } from "react";

/** Words that stand beside a thing while it is pointed at or has the keyboard. */
export function Tip({ words, children }: { words: string; children: ReactElement }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={4}
          collisionPadding={8}
          className="z-[70] max-w-72 border border-ink bg-paper px-2 py-1 text-sm"
        >
          {words}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
