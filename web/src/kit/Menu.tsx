import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

/** How every menu looks: the sheet, a line of it, and what parts its groups. */
export const menu =
  "z-50 max-h-(--radix-dropdown-menu-content-available-height) overflow-y-auto min-w-48 border-2 border-ink bg-paper py-1";
export const menuItem =
  "cursor-pointer px-4 py-2 text-sm outline-none data-[highlighted]:bg-sunk data-[state=checked]:font-bold max-sm:py-3";
export const menuParted = "my-1 border-t border-rule";

interface Props {
  /** The button it opens from. */
  title: ReactNode;
  items: readonly { text: string; act: () => void }[];
}

/** A few deeds under one button. */
export function Menu({ title, items }: Props) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="line-button no-print after:text-pencil after:content-['▾']">
        {title}
      </DropdownMenu.Trigger>
      <DropdownMenu.Content className={menu} align="end" sideOffset={6}>
        {items.map(({ text, act }) => (
          <DropdownMenu.Item key={text} className={menuItem} onSelect={act}>
            {text}
          </DropdownMenu.Item>
        ))}
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}
