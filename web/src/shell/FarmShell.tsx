import { Link, Navigate, Outlet, useNavigate, useParams } from "@tanstack/react-router";
import { useQueryClient } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useEffect, useState } from "react";
import { answered, api, type Schemas } from "../api/client";
import { useMe, useSettle, useUnsettled } from "../api/queries";
import { Tuft } from "../draw/marks";
import { SpanProvider } from "../draw/span";
import { Trouble, Waiting } from "../ui/states";
import { WorkingProvider } from "../ui/working";
import { WorkingPanel } from "../ui/WorkingPanel";
import { Clock } from "./Clock";
import { FarmContext } from "./farm";
import { Palette } from "./Palette";
import { Shortcuts } from "./Shortcuts";
import { useKeys } from "./useKeys";

const pages = [
  { to: "/farms/$farm/season", text: "Season", key: "s" },
  { to: "/farms/$farm/when", text: "When?", key: "w" },
  { to: "/farms/$farm/fields", text: "Fields", key: "f" },
  { to: "/farms/$farm/start", text: "Start a stand", key: "n" },
  { to: "/farms/$farm/bench", text: "Bench", key: "b" },
  { to: "/farms/$farm/ledger", text: "Ledger", key: "l" },
  { to: "/farms/$farm/set-up", text: "Set-up", key: "t" },
] as const;

/** The frame of every page of a farm. */
export function FarmShell() {
  const me = useMe();
  const { farm: id } = useParams({ strict: false });
  const theme = me.data?.theme;
  useEffect(() => {
    if (theme) document.documentElement.dataset.theme = theme;
  }, [theme]);
  if (me.isPending) return <Waiting what="Opening the farm" />;
  if (me.isError) return <Trouble error={me.error} />;
  if (me.data === null) return <Navigate to="/sign-in" />;
  const farm = me.data.farms.find((one) => one.id === id);
  if (!farm) return <p className="p-6">There is no such farm here, or it is not yours.</p>;
  return (
    <FarmContext.Provider value={farm}>
      <SpanProvider key={farm.id} today={farm.today} latitude={farm.latitude}>
        <WorkingProvider key={farm.id}>
          <div className="flex min-h-dvh max-lg:flex-col">
            <div className="min-w-0 flex-1">
              <Bar me={me.data} farm={farm} />
              <main id="main">
                <Outlet />
              </main>
            </div>
            <WorkingPanel />
          </div>
        </WorkingProvider>
      </SpanProvider>
    </FarmContext.Provider>
  );
}

function Bar({ me, farm }: { me: Schemas["Me"]; farm: Schemas["MyFarm"] }) {
  const [palette, setPalette] = useState(false);
  const [help, setHelp] = useState(false);
  const navigate = useNavigate();
  const settle = useSettle();
  const unsettled = useUnsettled();
  const units = () => void settle({ units: me.units === "us" ? "metric" : "us" });
  useKeys({
    "mod+k": () => setPalette(true),
    "?": () => setHelp(true),
    u: units,
    ...Object.fromEntries(
      pages.map((page) => [page.key, () => void navigate({ to: page.to, params: { farm: farm.id } })]),
    ),
  });
  return (
    <header className="no-print flex flex-wrap items-end gap-x-7 gap-y-1 px-5 pt-2.5">
      <a href="#main" className="sr-only focus:not-sr-only">
        Skip to the page
      </a>
      <div className="flex items-end gap-2.5 pb-1.5">
        <Tuft odds={[0.35, 0.65, 0.9, 1, 0.8, 0.5, 0.25]} width={26} height={19} />
        <span className="text-lg leading-none font-bold">Ink Meadow</span>
        <FarmMenu me={me} farm={farm} />
      </div>
      <nav
        aria-label="Pages"
        className="flex flex-1 gap-x-5 max-md:order-last max-md:basis-full max-md:overflow-x-auto"
      >
        {pages.map((page) => (
          <Link
            key={page.to}
            to={page.to}
            params={{ farm: farm.id }}
            className="border-b-3 border-transparent pb-1 text-[0.9375rem] whitespace-nowrap text-pencil max-sm:pt-2 max-sm:pb-2 hover:text-ink"
            activeProps={{ className: "!border-ink !text-ink font-semibold" }}
          >
            {page.text}
          </Link>
        ))}
      </nav>
      <div className="flex items-center gap-x-4 gap-y-1 pb-1 text-sm max-sm:flex-wrap">
        <Clock farm={farm} />
        <button type="button" className="min-h-6 underline decoration-dotted" onClick={units}>
          {me.units === "us" ? "US units" : "metric units"}
        </button>
        <button
          type="button"
          className="min-h-6 underline decoration-dotted"
          onClick={() => setPalette(true)}
        >
          Find <kbd className="font-sans text-pencil max-sm:hidden">Ctrl K</kbd>
        </button>
        <PersonMenu me={me} onHelp={() => setHelp(true)} />
      </div>
      {unsettled && <Trouble error={unsettled} at="Your setting was not kept" />}
      <Palette
        open={palette}
        onOpenChange={setPalette}
        farm={farm}
        onUnits={units}
        onHelp={() => setHelp(true)}
      />
      <Shortcuts open={help} onOpenChange={setHelp} />
    </header>
  );
}

const menu = "z-50 min-w-48 border-2 border-ink bg-paper py-1";
const item =
  "cursor-pointer px-4 py-2 text-sm outline-none data-[highlighted]:bg-sunk data-[state=checked]:font-bold";

function FarmMenu({ me, farm }: { me: Schemas["Me"]; farm: Schemas["MyFarm"] }) {
  const navigate = useNavigate();
  if (me.farms.length < 2) return <span className="leading-none text-pencil">{farm.name}</span>;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="leading-none text-pencil underline decoration-dotted">
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
                {one.name} <span className="text-pencil">{one.role}</span>
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

function PersonMenu({ me, onHelp }: { me: Schemas["Me"]; onHelp: () => void }) {
  const settle = useSettle();
  const client = useQueryClient();
  const signOut = async () => {
    await answered(api.POST("/api/sign-out"));
    client.clear();
    window.location.assign("/sign-in");
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="min-h-6 underline decoration-dotted">{me.name}</DropdownMenu.Trigger>
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
          <DropdownMenu.Item className={item} onSelect={onHelp}>
            Shortcuts
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
