import { useNavigate, useSearch } from "@tanstack/react-router";
import { useFarm } from "../shell/farm";
import { Page } from "../kit/Page";
import { Tab, TabGroups, Tabs } from "../kit/Tabs";
import { BlendBench } from "./BlendBench";
import { benchGroups, benchNames, type BenchSearch } from "./benches";
import { DrillBench } from "./DrillBench";
import { LimeBench } from "./LimeBench";
import { ManureBench } from "./ManureBench";
import { NutrientBench } from "./NutrientBench";
import { SeedBenchPage } from "./SeedBench";
import { SeedbedBench } from "./SeedbedBench";
import { SowingBench } from "./SowingBench";
import { SprayBench } from "./SprayBench";
import { SprayerBench } from "./SprayerBench";
import { SpreaderBench } from "./SpreaderBench";
import { TankBench } from "./TankBench";

/** Where quantities are worked out. */
export function BenchPage() {
  const farm = useFarm();
  const navigate = useNavigate();
  const search: BenchSearch = useSearch({ strict: false });
  const at = search.at ?? "seed";
  const go = (next: BenchSearch) =>
    void navigate({ to: "/farms/$farm/bench", params: { farm: farm.id }, search: { ...search, ...next } });
  const own = { field: search.field ?? "", onField: (field: string) => go({ field }) };
  return (
    <Tabs value={at} onChange={(next) => go({ at: next })}>
      <Page
        title={`Bench: ${benchNames[at].toLowerCase()}`}
        about={
          <TabGroups
            label="Calculator"
            groups={benchGroups.map(({ work, benches }) => ({
              text: work,
              names: benches.map((value) => ({ value, text: benchNames[value] })),
            }))}
          />
        }
      >
        <Tab value="seed">
          <SeedBenchPage />
        </Tab>
        <Tab value="lime">
          <LimeBench {...own} />
        </Tab>
        <Tab value="nutrients">
          <NutrientBench {...own} />
        </Tab>
        <Tab value="manure">
          <ManureBench {...own} />
        </Tab>
        <Tab value="blend">
          <BlendBench {...own} />
        </Tab>
        <Tab value="seedbed">
          <SeedbedBench {...own} />
        </Tab>
        <Tab value="spray">
          <SprayBench {...own} />
        </Tab>
        <Tab value="sprayer">
          <SprayerBench />
        </Tab>
        <Tab value="drill">
          <DrillBench {...own} />
        </Tab>
        <Tab value="spreader">
          <SpreaderBench />
        </Tab>
        <Tab value="sowing">
          <SowingBench {...own} />
        </Tab>
        <Tab value="tank">
          <TankBench {...own} />
        </Tab>
      </Page>
    </Tabs>
  );
}
