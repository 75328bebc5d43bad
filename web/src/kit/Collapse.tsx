import { Collapsible } from "radix-ui";
import type { ReactNode } from "react";

interface Props {
  /** What it opens by. */
  title: ReactNode;
  /** Open to begin with. */
  open?: boolean;
  className?: string;
  titleClass?: string;
  children: ReactNode;
}

/** A part that is opened when it is wanted. */
export function Collapse({ title, open = false, className = "", titleClass = "", children }: Props) {
  return (
    <Collapsible.Root defaultOpen={open} className={className}>
      <Collapsible.Trigger
        className={`inline-flex min-h-6 items-center gap-1.5 text-left text-sm before:inline-block before:w-2.5 before:text-pencil before:content-['▸'] data-[state=open]:before:rotate-90 max-sm:min-h-11 ${titleClass}`}
      >
        {title}
      </Collapsible.Trigger>
      <Collapsible.Content>{children}</Collapsible.Content>
    </Collapsible.Root>
  );
}
