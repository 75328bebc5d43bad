import { Command } from "cmdk";
import { useFields } from "../api/queries";
import { pages } from "../pages";
import type { Farm } from "./farm";
import { useGoTo } from "./usePages";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  farm: Farm;
  /** What can be done from anywhere. */
  deeds: { text: string; act: () => void }[];
}

/** Everything by name: pages, fields, deeds. */
export function Palette({ open, onOpenChange, farm, deeds }: Props) {
  const fields = useFields(farm.id);
  const to = useGoTo(farm.id);
  const ways = pages.flatMap((page) => [
    ...(page.text ? [{ text: page.text, act: () => to(page.path) }] : []),
    ...(page.ways ?? []).map((way) => ({ text: way.text, act: () => to(page.path, way.search) })),
  ]);
  const deed = (act: () => void) => () => {
    onOpenChange(false);
    act();
  };
  const row =
    "cursor-pointer px-3 py-2 data-[selected=true]:bg-ink data-[selected=true]:text-paper max-sm:py-3";
  return (
    <Command.Dialog
      open={open}
      onOpenChange={onOpenChange}
      label="Find a page, field or task"
      overlayClassName="fixed inset-0 z-40 bg-ink/25"
      contentClassName="fixed top-[12vh] left-1/2 z-50 w-[min(32rem,94vw)] -translate-x-1/2 border-2 border-ink bg-paper p-3"
    >
      <Command.Input placeholder="Field, page or task" className="entry" aria-label="Find" />
      <Command.List className="max-h-80 overflow-y-auto pt-2">
        <Command.Empty className="px-3 py-2 text-pencil">No matches.</Command.Empty>
        {[...ways, ...deeds].map(({ text, act }) => (
          <Command.Item key={text} className={row} onSelect={deed(act)}>
            {text}
          </Command.Item>
        ))}
        {fields.data?.map((field) => (
          <Command.Item
            key={field.id}
            value={field.name}
            className={row}
            onSelect={deed(() => to(`fields/${field.id}`))}
          >
            {field.name} <span className="opacity-70">field</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
