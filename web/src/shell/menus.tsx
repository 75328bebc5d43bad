import { useNavigate } from "@tanstack/react-router";
import { AlertDialog, DropdownMenu } from "radix-ui";
import { useState, type ReactNode } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useSettle } from "../api/queries";
import { forgetCache } from "../api/kept";
import { menu, menuItem, menuParted } from "../kit/Menu";
import { useTell } from "../kit/Told";
import { useOutbox } from "../outbox/useOutbox";
import { pages } from "../pages";
import { homePage } from "./home";
import { pageAddress, useGoTo } from "./usePages";

/** The farm by its name: the others that one sees, and what is set up for this one. */
export function FarmMenu({ me, farm }: { me: Schemas["Me"]; farm: Schemas["MyFarm"] }) {
  const navigate = useNavigate();
  const to = useGoTo(farm.id);
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="min-w-0 truncate leading-none text-pencil underline decoration-dotted max-sm:min-h-11 max-sm:leading-tight max-sm:font-semibold max-sm:text-ink">
        {farm.name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Content className={menu} align="start" sideOffset={6}>
        {me.farms.length > 1 && (
          <>
            <DropdownMenu.RadioGroup
              value={farm.id}
              onValueChange={(id) => void navigate({ to: pageAddress(id, homePage()) })}
            >
              {me.farms.map((one) => (
                <DropdownMenu.RadioItem key={one.id} value={one.id} className={menuItem}>
                  {one.name} <span className="text-pencil">{one.closed_on ? "closed farm" : one.role}</span>
                </DropdownMenu.RadioItem>
              ))}
            </DropdownMenu.RadioGroup>
            <DropdownMenu.Separator className={menuParted} />
          </>
        )}
        {pages.map(
          (page) =>
            page.at === "farm" && (
              <DropdownMenu.Item key={page.path} className={menuItem} onSelect={() => to(page.path)}>
                {page.text}
              </DropdownMenu.Item>
            ),
        )}
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}

const systems: { value: Schemas["System"]; text: string }[] = [
  { value: "us", text: "US units" },
  { value: "metric", text: "Metric units" },
];

const themes: { value: Schemas["Theme"]; text: string }[] = [
  { value: "light", text: "Light" },
  { value: "dark", text: "Dark, for the cab" },
  { value: "sunlight", text: "Sunlight" },
];

interface PersonProps {
  me: Schemas["Me"];
  /** Into which units what is shown is put. */
  onUnits: (units: Schemas["System"]) => void;
  onAccount: () => void;
  onHelp: () => void;
  onSignedOut: () => void;
}

/** A person's own: units, theme, account, sign-out. */
export function PersonMenu(props: PersonProps) {
  return (
    <Asking {...props}>
      {(signOut) => (
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger className="min-h-6 underline decoration-dotted">
            {props.me.name}
          </DropdownMenu.Trigger>
          <DropdownMenu.Content className={menu} align="end" sideOffset={6}>
            <PersonItems {...props} onSignOut={signOut} />
          </DropdownMenu.Content>
        </DropdownMenu.Root>
      )}
    </Asking>
  );
}

/** All that the bar at the foot of a phone has no room for. */
export function MoreMenu({
  places,
  className,
  ...props
}: PersonProps & { places: readonly { text: string; act: () => void }[]; className: string }) {
  return (
    <Asking {...props}>
      {(signOut) => (
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger className={className}>More</DropdownMenu.Trigger>
          <DropdownMenu.Content className={`${menu} min-w-64`} align="end" side="top" sideOffset={4}>
            {places.map(({ text, act }) => (
              <DropdownMenu.Item key={text} className={`${menuItem} text-base`} onSelect={act}>
                {text}
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Separator className={menuParted} />
            <DropdownMenu.Label className="px-4 py-1 text-sm text-pencil">{props.me.name}</DropdownMenu.Label>
            <PersonItems {...props} onSignOut={signOut} />
          </DropdownMenu.Content>
        </DropdownMenu.Root>
      )}
    </Asking>
  );
}

function PersonItems({
  me,
  onUnits,
  onAccount,
  onHelp,
  onSignOut,
}: Omit<PersonProps, "onSignedOut"> & { onSignOut: () => void }) {
  const settle = useSettle();
  return (
    <>
      <DropdownMenu.RadioGroup
        aria-label="Units"
        value={me.units}
        onValueChange={(units) => onUnits(units as Schemas["System"])}
      >
        {systems.map(({ value, text }) => (
          <DropdownMenu.RadioItem key={value} value={value} className={menuItem}>
            {text}
          </DropdownMenu.RadioItem>
        ))}
      </DropdownMenu.RadioGroup>
      <DropdownMenu.Separator className={menuParted} />
      <DropdownMenu.RadioGroup
        aria-label="Theme"
        value={me.theme}
        onValueChange={(theme) => void settle({ theme: theme as Schemas["Theme"] })}
      >
        {themes.map((theme) => (
          <DropdownMenu.RadioItem key={theme.value} value={theme.value} className={menuItem}>
            {theme.text}
          </DropdownMenu.RadioItem>
        ))}
      </DropdownMenu.RadioGroup>
      <DropdownMenu.Separator className={menuParted} />
      <DropdownMenu.Item className={menuItem} onSelect={onAccount}>
        Password and sign-ins
      </DropdownMenu.Item>
      <DropdownMenu.Item className={`${menuItem} max-sm:hidden`} onSelect={onHelp}>
        Shortcuts
      </DropdownMenu.Item>
      <DropdownMenu.Item className={menuItem} asChild>
        <a href="/third-party.txt" target="_blank" rel="noreferrer">
          Licenses and components
        </a>
      </DropdownMenu.Item>
      <DropdownMenu.Item className={menuItem} onSelect={onSignOut}>
        Sign out
      </DropdownMenu.Item>
    </>
  );
}

/** Signing out: asked about first while records wait on this device. */
function Asking({
  me,
  onSignedOut,
  children,
}: Pick<PersonProps, "me" | "onSignedOut"> & { children: (signOut: () => void) => ReactNode }) {
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
      {children(() => (waiting > 0 ? setAsking(true) : void signOut()))}
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
