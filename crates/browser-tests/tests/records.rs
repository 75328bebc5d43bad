//! Every kind of record of the ground, written by hand, read back on the field and in the ledger.

use anyhow::ensure;
use browser_tests::{Visitor, on_demo, until};

async fn on_the_ground_of(visitor: &Visitor, field: &str) -> anyhow::Result<()> {
    visitor.click(field).await?;
    visitor.click("Ground").await?;
    visitor.finds("button[aria-label='Add record: soil or site']").await?;
    Ok(())
}

async fn record(visitor: &Visitor, what: &str) -> anyhow::Result<()> {
    visitor.click("Add record: soil or site").await?;
    visitor.click(what).await?;
    visitor.sees("Records are permanent").await?;
    Ok(())
}

async fn ink(visitor: &Visitor) -> anyhow::Result<()> {
    visitor.click("Save record").await?;
    visitor.gone("[role=dialog]").await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_soil_test_is_typed_in_and_drawn() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        on_the_ground_of(&visitor, "Fox Cover").await?;
        record(&visitor, "Soil test").await?;
        visitor.write("Laboratory", "County Soil Laboratory").await?;
        visitor.write("pH in water", "15").await?;
        visitor.write("Buffer pH", "6,6").await?;
        visitor.write("Phosphorus", "14").await?;
        visitor.sees("Read as 14 ppm").await?;
        visitor.write("CEC", "11.5").await?;
        visitor.sees("Read as 11.5 meq/100 g").await?;
        visitor.click("Save record").await?;
        visitor.sees("enter 2.5–11").await?;
        ensure!(visitor.value("Buffer pH").await? == "6,6", "what was typed was lost");
        visitor.write("pH in water", "5.8").await?;
        visitor.write("Subsoil pH", "5.4").await?;
        ink(&visitor).await?;
        visitor.finds("svg[aria-label*='0–6 in: pH 5.8; 6–12 in: pH 5.4']").await?;
        visitor.sees("County Soil Laboratory: pH 5.8, buffer 6.6, P 14 ppm Bray P1").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_told_of_a_field_turns_its_readiness() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        on_the_ground_of(&visitor, "Sheep Hill").await?;
        record(&visitor, "Describe site").await?;
        // What is known already stands in the form.
        visitor.sees("moderately drained").await?;
        visitor.write("Slope", "140 %").await?;
        visitor.sees("Read as 140%").await?;
        visitor.click("Save record").await?;
        visitor.sees("Slope is 140%").await?;
        visitor.write("Slope", "6 %").await?;
        visitor.sees("Read as 6%").await?;
        visitor.write("Ponding, days", "0").await?;
        visitor.write("Depth to restrictive layer", "48 in").await?;
        visitor.sees("Read as 48 in").await?;
        visitor.tick_label("All sprays and crops of the last three years are recorded").await?;
        ink(&visitor).await?;
        visitor.sees("history recorded").await?;

        record(&visitor, "Spray applied").await?;
        visitor.set_day("Spray date", "2025-10-01").await?;
        visitor.write("Active ingredient", "picloram").await?;
        // The table warns while it is written; the label rules.
        visitor.sees("pyridine acids").await?;
        ink(&visitor).await?;

        record(&visitor, "End a crop").await?;
        visitor.set_day("Date ended", "2025-10-20").await?;
        visitor.write("Crop", "alfalfa").await?;
        visitor.write("Years in this crop", "4").await?;
        ink(&visitor).await?;
        visitor.sees("Alfalfa ended after 4 years").await?;

        visitor.press("n").await?;
        visitor.choose("Field", "Sheep Hill").await?;
        visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
        visitor.finds("[data-check=carry-over][data-verdict=unfit]").await?;
        visitor.finds("[data-check=autotoxicity][data-verdict=unfit]").await?;
        // Time mends both, but not the drainage: no day is promised.
        visitor.sees("From Oct 20, 2027").await?;
        visitor.sees("Choose another field or crop").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bioassay_settles_what_a_spray_left_open() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        on_the_ground_of(&visitor, "North Ledge").await?;
        record(&visitor, "Bioassay").await?;
        visitor.set_day("Reading date", "2026-05-12").await?;
        visitor.write("Observations", "even stand in both pots").await?;
        ink(&visitor).await?;
        visitor.sees("Bioassay: grew as in clean soil").await?;
        visitor.press("n").await?;
        visitor.choose("Field", "North Ledge").await?;
        visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
        visitor.finds("section[data-verdict=fit-with-work]").await?;
        ensure!(visitor.count("[data-check=carry-over][data-verdict=unfit]").await? == 0, "the bioassay passed");
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_dressing_is_inked_from_the_shelf_and_struck() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        on_the_ground_of(&visitor, "Long Acre").await?;
        let brought =
            async || -> anyhow::Result<String> { visitor.text_of("tr[data-nutrient=k2o] td:nth-of-type(2)").await };
        let before = brought().await?;
        record(&visitor, "Spread lime, fertilizer or manure").await?;
        visitor.set_day("Spreading date", "2026-05-11").await?;
        visitor.click("Save record").await?;
        visitor.sees("Choose what was spread.").await?;
        visitor.choose("Product", "potash 0-0-60").await?;
        visitor.write("Rate", "100").await?;
        visitor.sees("Read as 100 lb/ac").await?;
        ink(&visitor).await?;
        visitor.sees("Fertilized: 100 lb/ac of potash 0-0-60").await?;
        // The account is read again by itself, a moment after the entry stands there.
        until("the account follows", async || Ok(brought().await? != before)).await?;
        visitor.click("May 11, 2026Fertilized: 100 lb/ac of potash 0-0-60").await?;
        visitor.write("What was wrong", "the other field").await?;
        visitor.click("Strike entry").await?;
        visitor.gone("[role=dialog]").await?;
        until("struck, it no longer counts", async || Ok(brought().await? == before)).await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn manure_alone_is_reckoned_by_the_limit_met_first() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.replace("/season", "");
        visitor.go(&format!("{farm}/bench?at=manure")).await?;
        visitor.choose("Field", "Long Acre").await?;
        // 85 lb of P₂O₅ at 5 lb a ton.
        visitor.finds("button[aria-label^='Rate of manure: 17.0']").await?;
        visitor.sees("P₂O₅ need is met").await?;
        visitor.is_accessible().await?;
        // By the thousand gallons: 85 lb at 13 lb of P₂O₅; back by weight all stands as it was.
        visitor.click("by volume").await?;
        visitor.sees("6,538").await?;
        visitor.click("by weight").await?;
        visitor.finds("button[aria-label^='Rate of manure: 17.0']").await?;
        visitor.write("Maximum available N", "47").await?;
        visitor.finds("button[aria-label^='Rate of manure: 10.0']").await?;
        visitor.sees("nitrogen limit is reached").await?;
        visitor.click("not incorporated").await?;
        visitor.sees("is lost to the air").await?;
        visitor.write("Ammonium N", "0.9 %").await?;
        visitor.sees("is part of total N").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_southern_farm_reads_its_ground_in_its_own_units() {
    on_demo(|visitor| async move {
        visitor.sign_in("joaquin@ceibo.example").await?;
        visitor.press("n").await?;
        visitor.choose("Field", "Potrero Chico").await?;
        visitor.choose("Crop, or first species in the mix", "white clover").await?;
        visitor.finds("[data-check=residue][data-verdict=fit-with-work]").await?;
        visitor.click("Plan lime").await?;
        // Its laboratory reports bases, not a buffer.
        visitor.click("base saturation").await?;
        let rate = visitor.attribute("button[aria-label^='Lime rate: ']", "aria-label").await?;
        ensure!(rate.contains("t/ha") || rate.contains("kg/ha"), "{rate}");
        visitor.write("Yield goal per year (dry matter)", "8").await?;
        visitor.sees("Read as 8 t/ha").await?;
        visitor.finds("tr[data-school=replacement]").await?;
        let text = visitor.text().await?;
        ensure!(!text.contains("lb/ac") && !text.contains("ton/ac"), "another system's units on the page");
        Ok(())
    })
    .await;
}
