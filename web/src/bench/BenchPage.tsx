import { useNavigate, useSearch } from "@tanstack/react-router";
import { useFarm } from "../shell/farm";
import { Choice } from "../kit/Choice";
import { Page } from "../kit/Page";
import { BlendBench } from "./BlendBench";
import { benches, type BenchSearch } from "./benches";
import { LimeBench } from "./LimeBench";
import { ManureBench } from "./ManureBench";
import { NutrientBench } from "./NutrientBench";
import { SeedBenchPage } from "./SeedBench";

/** Where quantities are worked out. */
export function BenchPage() {
  const farm = useFarm();
  const navigate = useNavigate();
  const search: BenchSearch = useSearch({ strict: false });
  const at = search.at ?? "seed";
  const go = (next: BenchSearch) =>
    void navigate({ to: "/farms/$farm/bench", params: { farm: farm.id }, search: { ...search, ...next } });
  return (
    <Page
      title={`Bench: ${at}`}
      about={
        <Choice
          label="What to work out"
          value={at}
          onChange={(next) => go({ at: next })}
          options={benches.map((value) => ({ value, text: value }))}
        />
      }
    >
      {at === "seed" && <SeedBenchPage />}
      {at === "lime" && <LimeBench field={search.field ?? ""} onField={(field) => go({ field })} />}
      {at === "nutrients" && <NutrientBench field={search.field ?? ""} onField={(field) => go({ field })} />}
      {at === "manure" && <ManureBench field={search.field ?? ""} onField={(field) => go({ field })} />}
      {at === "blend" && <BlendBench field={search.field ?? ""} onField={(field) => go({ field })} />}
    </Page>
  );
}
