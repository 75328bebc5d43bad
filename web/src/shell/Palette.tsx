import { useNavigate } from "@tanstack/react-router";
import { Command } from "cmdk";
import { useFields } from "../api/queries";
import { benches } from "../bench/benches";
import type { Farm } from "./farm";

interface Props {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  farm: Farm;
  onUnits: () => void;
  onHelp: () => void;
}

/** Everything by name: pages, fields, deeds. */
export function Palette({ open, onOpenChange, farm, onUnits, onHelp }: Props) {
  const navigate = useNavigate();
  const fields = useFields(farm.id);
  const params = { farm: farm.id };
  const deed = (act: () => void) => () => {
    onOpenChange(false);
    act();
  };
  const deeds: { text: string; act: () => void }[] = [
    { text: "Season", act: () => void navigate({ to: "/farms/$farm/season", params }) },
    { text: "Fields", act: () => void navigate({ to: "/farms/$farm/fields", params }) },
    { text: "When?", act: () => void navigate({ to: "/farms/$farm/when", params }) },
    { text: "Start a stand", act: () => void navigate({ to: "/farms/$farm/start", params }) },
    ...benches.map((at) => ({
      text: `Bench: ${at}`,
      act: () => void navigate({ to: "/farms/$farm/bench", params, search: { at } }),
    })),
    { text: "Ledger", act: () => void navigate({ to: "/farms/$farm/ledger", params }) },
    { text: "Set-up: weather station", act: () => void navigate({ to: "/farms/$farm/set-up", params }) },
    { text: "Switch units", act: onUnits },
    { text: "Shortcuts", act: onHelp },
  ];
  const row = "cursor-pointer px-3 py-2 data-[selected=true]:bg-ink data-[selected=true]:text-paper";
  return (
    <Command.Dialog
      open={open}
      onOpenChange={onOpenChange}
      label="Find a page, a field or a deed"
      overlayClassName="fixed inset-0 z-40 bg-ink/25"
      contentClassName="fixed top-[12vh] left-1/2 z-50 w-[min(32rem,94vw)] -translate-x-1/2 border-2 border-ink bg-paper p-3"
    >
      <Command.Input placeholder="Field, page or deed" className="entry" aria-label="Find" />
      <Command.List className="max-h-80 overflow-y-auto pt-2">
        <Command.Empty className="px-3 py-2 text-pencil">Nothing of that name.</Command.Empty>
        {deeds.map(({ text, act }) => (
          <Command.Item key={text} className={row} onSelect={deed(act)}>
            {text}
          </Command.Item>
        ))}
        {fields.data?.map((field) => (
          <Command.Item
            key={field.id}
            value={field.name}
            className={row}
            onSelect={deed(
              () =>
                void navigate({
                  to: "/farms/$farm/fields/$field",
                  params: { farm: farm.id, field: field.id },
                }),
            )}
          >
            {field.name} <span className="opacity-70">field</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
