//! The work of the year before sowing: is the field fit, its lime in pencil and ink, a laboratory's
//! file, three schools on one screen.

use anyhow::ensure;
use browser_tests::{Visitor, on_demo, until};

async fn choose_crop(visitor: &Visitor, crop: &str) -> anyhow::Result<()> {
    visitor.choose("Crop, or first species in the mix", crop).await?;
    visitor.finds("section[data-verdict]").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_sour_field_is_judged_limed_in_pencil_and_inked_at_another_rate() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("n").await?;
        visitor.choose("Field", "North Ledge").await?;
        choose_crop(&visitor, "alfalfa").await?;
        // The day that is proposed lies beyond what stands in the way; this one does not.
        visitor.set_day("Sowing date", "2026-08-10").await?;
        visitor.finds("section[data-verdict=unfit]").await?;
        visitor.sees("Not suitable for alfalfa until Sep 12, 2027").await?;
        visitor.finds("[data-check=carry-over][data-verdict=unfit]").await?;
        visitor.finds("[data-check=slope][data-verdict=fit-with-work]").await?;
        visitor.finds("li[data-step=bioassay]").await?;
        visitor.is_accessible().await?;

        // Another crop, another verdict, other reasons.
        visitor.click("Remove alfalfa").await?;
        choose_crop(&visitor, "switchgrass").await?;
        visitor.finds("section[data-verdict=fit-with-work]").await?;
        ensure!(visitor.count("[data-check=carry-over][data-verdict=unfit]").await? == 0, "a grass bears the spray");

        // Lime, by the laboratory's buffer; the target moves with the arrow keys and answers.
        visitor.set_day("Sowing date", "2027-05-20").await?;
        visitor.click("Plan lime").await?;
        let first = visitor.text_of("button[aria-label^='Lime rate: ']").await?;
        let target = visitor.finds("[role=slider][aria-label='Target pH']").await?;
        target.focus().await?;
        visitor.press("\u{e014}\u{e014}").await?;
        let raised = format!(
            "button[aria-label^='Lime rate: ']:not([aria-label^='Lime rate: {}'])",
            first.split_whitespace().next().unwrap_or_default()
        );
        visitor.finds(&raised).await?;
        visitor.finds("svg[aria-label^='Soil pH from 5.4']").await?;
        visitor.click("Start stand").await?;

        // Pencil becomes ink at another amount; the path follows.
        visitor.finds("li[data-step=lime]").await?;
        visitor.click("Ground").await?;
        let path = || async {
            let drawing = visitor.finds("svg[aria-label^='Soil pH from']").await?;
            anyhow::Ok(drawing.attr("aria-label").await?.unwrap_or_default())
        };
        let planned = path().await?;
        visitor.click("Plan").await?;
        let ink = visitor.finds("li[data-step=lime] button[aria-label^='Ink']").await?;
        ink.click().await?;
        visitor.set_day("Spreading date", "2026-05-10").await?;
        visitor.write("Rate", "1 ton/ac").await?;
        visitor.sees("Read as 1 ton/ac").await?;
        visitor.click("Save record").await?;
        visitor.finds("li[data-step=lime][data-state=done]").await?;
        visitor.sees("Limed: 1 ton/ac of ground limestone").await?;
        visitor.click("Ground").await?;
        until("the path follows", async || Ok(path().await? != planned)).await?;
        visitor.is_accessible().await?;
        visitor.stayed_home().await
    })
    .await;
}

const REPORT: &str = "Field,Reaction,Buffer pH,P,K,CEC\\nSheep Hill,5.9,6.5,15,98,12.4\\nFox Cover,62,6.7,18,120,10.1";

#[tokio::test(flavor = "multi_thread")]
async fn a_laboratory_file_is_refused_by_line_and_then_mended() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("l").await?;
        visitor.click("Import soil tests").await?;
        visitor.write("Laboratory", "County Soil Laboratory").await?;
        visitor.set_day("Sampling date, if not in the file", "2026-05-04").await?;
        visitor.paste("Contents", REPORT).await?;
        visitor.click("Preview").await?;
        visitor.sees("no column for pH").await?;
        visitor.click("Column names").await?;
        visitor.choose("pH in water", "Reaction").await?;
        visitor.click("Preview").await?;
        visitor.sees("Not imported").await?;
        visitor.sees("Line 3").await?;
        visitor.sees("enter 2.5–11").await?;
        visitor.is_accessible().await?;
        ensure!(visitor.value("Laboratory").await? == "County Soil Laboratory", "what was typed was lost");
        visitor.paste("Contents", &REPORT.replace("62,", "6.2,")).await?;
        visitor.click("Preview").await?;
        visitor.sees("2 soil tests from Sheep Hill, Fox Cover are ready to import").await?;
        visitor.click("Import tests").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.choose("Type", "Soil test").await?;
        visitor.sees("pH 6.2").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn one_soil_test_under_three_schools_with_the_blend_of_each() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("\u{e009}k").await?;
        visitor.finds("[role=dialog] input").await?.send_keys("bench: nutr").await?;
        visitor.press("\u{e007}").await?;
        visitor.choose("Field", "Long Acre").await?;
        for school in ["sufficiency", "build-maintain", "replacement"] {
            visitor.finds(&format!("tr[data-school={school}] button[aria-label^='Cheapest blend for']")).await?;
        }
        // 5 ton of alfalfa at 21 ppm Bray P1: (25 − 21) × 5 + 65.
        visitor.finds("tr[data-school=build-maintain] button[aria-label^='P₂O₅ by build-maintain: 85']").await?;
        visitor.is_accessible().await?;
        visitor.write("Yield goal per year (dry matter)", "4").await?;
        visitor.finds("tr[data-school=build-maintain] button[aria-label^='P₂O₅ by build-maintain: 72']").await?;
        visitor.click_on("tr[data-school=build-maintain] button[aria-label^='P₂O₅']").await?;
        visitor.reads("aside[aria-label=Working]", |working| working.contains("removed")).await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_blend_says_what_the_last_pound_costs_and_what_is_in_the_way() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.replace("/season", "");
        visitor.go(&format!("{farm}/bench?at=blend")).await?;
        visitor.finds("tr[data-need=k2o]").await?;
        visitor.is_accessible().await?;
        // Without the two pure phosphates, P comes with nitrogen; a cap on N then stands in the way.
        for product in ["triple superphosphate 0-46-0", "single superphosphate 0-16-0"] {
            visitor.tick(product).await?;
        }
        visitor.finds("tr[data-product^='MAP']").await?;
        visitor.write("Maximum N", "3 lb/ac").await?;
        visitor.sees("the limit on N prevents it").await?;
        visitor.write("Maximum N", "40").await?;
        visitor.finds("tr[data-product^='MAP']").await?;
        visitor.choose("Field", "Long Acre").await?;
        visitor.finds("tr[data-need=p2o5]").await?;
        visitor.tick_label("Whole bags only").await?;
        visitor.sees("bags").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_practice_clock_brings_the_soil_report() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Fox Cover").await?;
        visitor.click("Ground").await?;
        visitor.click("Send soil sample").await?;
        visitor.sees("report due May 24, 2026").await?;
        visitor.click("May 14, 2026 practice day").await?;
        visitor.set_day("New day", "2026-05-25").await?;
        visitor.click("Move the clock").await?;
        visitor.sees("May 25, 2026").await?;
        visitor.click("Get report").await?;
        visitor.finds("svg[aria-label^='Soil profile']").await?;
        visitor.sees("Stand-in soil laboratory").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_account_follows_what_is_inked() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Long Acre").await?;
        visitor.click("Ground").await?;
        let removed = "tr[data-nutrient=k2o] td:nth-of-type(3)";
        ensure!(visitor.text_of(removed).await?.starts_with('0'), "nothing is cut yet");
        visitor.click("Add record: soil or site").await?;
        visitor.click("Cut or harvest").await?;
        visitor.set_day("Cutting date", "2026-05-12").await?;
        visitor.write("Yield", "2 ton/ac").await?;
        visitor.sees("Read as 2 ton/ac").await?;
        visitor.is_accessible().await?;
        visitor.click("Save record").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.sees("85.0").await?;
        Ok(())
    })
    .await;
}
