import { useNavigate } from "@tanstack/react-router";
import { AlertDialog, DropdownMenu } from "radix-ui";
import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useSettle } from "../api/queries";
import { forgetCache } from "../api/kept";
import { useTell } from "../kit/Told";
import { useOutbox } from "../outbox/useOutbox";

const menu =
  "z-50 max-h-(--radix-dropdown-menu-content-available-height) overflow-y-auto min-w-48 border-2 border-ink bg-paper py-1";
const item =
  "cursor-pointer px-4 py-2 text-sm outline-none data-[highlighted]:bg-sunk data-[state=checked]:font-bold max-sm:py-3";

export function FarmMenu({ me, farm }: { me: Schemas["Me"]; farm: Schemas["MyFarm"] }) {
  const navigate = useNavigate();
  if (me.farms.length < 2)
    return <span className="leading-none whitespace-nowrap text-pencil">{farm.name}</span>;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="leading-none whitespace-nowrap text-pencil underline decoration-dotted">
        {farm.name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={menu} align="start" sideOffset={6}>
          <DropdownMenu.RadioGroup
            value={farm.id}
            onValueChange={(id) => void navigate({ to: "/farms/$farm/season", params: { farm: id } })}
          >
            {me.farms.map((one) => (
              <DropdownMenu.RadioItem key={one.id} value={one.id} className={item}>
                {one.name} <span className="text-pencil">{one.closed_on ? "closed farm" : one.role}</span>
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

const themes: { value: Schemas["Theme"]; text: string }[] = [
  { value: "light", text: "Light" },
  { value: "dark", text: "Dark, for the cab" },
  { value: "sunlight", text: "Sunlight" },
];

interface PersonProps {
  me: Schemas["Me"];
  onAccount: () => void;
  onHelp: () => void;
  onSignedOut: () => void;
}

export function PersonMenu({ me, onAccount, onHelp, onSignedOut }: PersonProps) {
  const settle = useSettle();
  const tell = useTell();
  const waiting = useOutbox().filter((one) => one.person === me.id).length;
  const [asking, setAsking] = useState(false);
  const signOut = async () => {
    try {
      await answered(api.POST("/api/sign-out"));
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      tell("Signing out needs signal.");
      return;
    }
    onSignedOut();
    await forgetCache();
    window.location.assign("/sign-in");
  };
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="min-h-6 underline decoration-dotted max-sm:min-h-11">
          {me.name}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className={menu} align="end" sideOffset={6}>
            <DropdownMenu.RadioGroup
              value={me.theme}
              onValueChange={(theme) => void settle({ theme: theme as Schemas["Theme"] })}
            >
              {themes.map((theme) => (
                <DropdownMenu.RadioItem key={theme.value} value={theme.value} className={item}>
                  {theme.text}
                </DropdownMenu.RadioItem>
              ))}
            </DropdownMenu.RadioGroup>
            <DropdownMenu.Separator className="my-1 border-t border-rule" />
            <DropdownMenu.Item className={item} onSelect={onAccount}>
              Password and sign-ins
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={onHelp}>
              Shortcuts
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} asChild>
              <a href="/third-party.txt" target="_blank" rel="noreferrer">
                Licenses and components
              </a>
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className={item}
              onSelect={() => (waiting > 0 ? setAsking(true) : void signOut())}
            >
              Sign out
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <AlertDialog.Root open={asking} onOpenChange={setAsking}>
        <AlertDialog.Portal>
          <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
          <AlertDialog.Content className="fixed top-[20vh] left-1/2 z-50 w-[min(28rem,94vw)] -translate-x-1/2 border-2 border-ink bg-paper p-6">
            <AlertDialog.Title className="text-xl font-bold">
              {waiting === 1 ? "1 record is waiting to send" : `${waiting} records are waiting to send`}
            </AlertDialog.Title>
            <AlertDialog.Description className="pt-2">
              They stay on this device and are sent under your name when you sign in here again.
            </AlertDialog.Description>
            <div className="flex gap-5 pt-4">
              <AlertDialog.Cancel className="ink-button">Stay signed in</AlertDialog.Cancel>
              <AlertDialog.Action className="line-button" onClick={() => void signOut()}>
                Sign out anyway
              </AlertDialog.Action>
            </div>
          </AlertDialog.Content>
        </AlertDialog.Portal>
      </AlertDialog.Root>
    </>
  );
}
