//! Takes the pictures of the main views into a folder, from the demo data.

use std::path::PathBuf;

use anyhow::Context;
use browser_tests::{DESK, PHONE, Visitor, on_demo};

async fn season_of(visitor: &Visitor) -> anyhow::Result<String> {
    let path = visitor.path().await?;
    Ok(path.trim_end_matches("/season").to_owned())
}

async fn settle() {
    // Fonts, and the last answer drawn.
    tokio::time::sleep(std::time::Duration::from_millis(500)).await;
}

#[tokio::main]
async fn main() -> anyhow::Result<()> {
    let folder = PathBuf::from(std::env::args().nth(1).context("name a folder")?);
    std::fs::create_dir_all(&folder)?;
    on_demo(|visitor| async move {
        let take = async |name: &str| {
            settle().await;
            visitor.shot(&folder.join(format!("{name}.png"))).await
        };
        visitor.go("/sign-in").await?;
        visitor.sees("Sign in").await?;
        visitor.sign_in("mara@fennick.example").await?;
        visitor.sees("Orchard Slope").await?;
        take("season").await?;
        let farm = season_of(&visitor).await?;
        visitor.go(&format!("{farm}/when")).await?;
        visitor.choose("Other stand", "Upper Larkin, alfalfa").await?;
        visitor.sees("Upper Larkin: sow").await?;
        visitor.driver().execute("document.activeElement?.blur()", vec![]).await?;
        take("when").await?;
        visitor.go(&format!("{farm}/set-up/weather")).await?;
        visitor.sees("Frost dates from").await?;
        take("station").await?;
        visitor.go(&format!("{farm}/fields")).await?;
        visitor.sees("Draw field").await?;
        take("fields").await?;

        visitor.go(&format!("{farm}/start")).await?;
        visitor.choose("Field", "Cooper Piece").await?;
        for crop in ["alfalfa", "orchardgrass", "timothy"] {
            let label = if crop == "alfalfa" { "Crop, or first species in the mix" } else { "Add species" };
            visitor.choose(label, crop).await?;
        }
        visitor.write("Rate of alfalfa", "10 lb/ac").await?;
        visitor.write("Rate of orchardgrass", "3").await?;
        visitor.write("Rate of timothy", "2").await?;
        visitor.set_day("Sowing date", "2026-08-08").await?;
        for lot in ["NL-204", "OG-58", "TM-19"] {
            visitor.tick(lot).await?;
        }
        visitor.sees("Total").await?;
        visitor.driver().execute("document.activeElement?.blur(); window.scrollTo(0, 0)", vec![]).await?;
        take("start-a-stand").await?;

        visitor.click("Clear form").await?;
        visitor.choose("Field", "Sheep Hill").await?;
        visitor.choose("Goal", "Grazing").await?;
        visitor.choose("Start from a mix", "orchardgrass, ryegrass and white clover").await?;
        visitor.finds("[data-member]").await?;
        visitor.click("Compare methods").await?;
        visitor.finds("[data-differs]").await?;
        take("side-by-side").await?;
        visitor.go(&format!("{farm}/start")).await?;

        visitor.click("Clear form").await?;
        visitor.choose("Field", "North Ledge").await?;
        visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
        visitor.set_day("Sowing date", "2026-08-10").await?;
        visitor.sees("Not suitable for alfalfa").await?;
        visitor.driver().execute("document.activeElement?.blur(); window.scrollTo(0, 0)", vec![]).await?;
        take("readiness").await?;
        visitor.click("Clear form").await?;

        visitor.go(&format!("{farm}/stores")).await?;
        visitor.sees("RFV").await?;
        take("stores").await?;

        visitor.go(&format!("{farm}/bench?at=drill")).await?;
        visitor.choose("Field", "Upper Larkin").await?;
        visitor.write("Target rate", "20 lb/ac").await?;
        visitor.write("Pure live seed (PLS)", "92").await?;
        visitor.write("Row spacing", "7.5").await?;
        visitor.write("Drill setting", "20").await?;
        visitor.write("Test course length", "200 ft").await?;
        visitor.click("g").await?;
        for (at, grams) in ["21", "20", "22", "21", "0", "20", "21", "22"].iter().enumerate() {
            visitor.write(&format!("Row {}", at + 1), grams).await?;
        }
        visitor.finds("[data-row='5'][data-state=nothing]").await?;
        visitor.driver().execute("document.activeElement?.blur(); window.scrollTo(0, 0)", vec![]).await?;
        take("bench-drill").await?;

        visitor.go(&format!("{farm}/library?crop=alfalfa")).await?;
        visitor.sees("Restrictions").await?;
        take("library").await?;
        visitor.go(&format!("{farm}/library/choose")).await?;
        visitor.choose("Field", "Cooper Piece").await?;
        visitor.sees("full yield from year").await?;
        visitor.driver().execute("document.activeElement?.blur()", vec![]).await?;
        take("which-crop").await?;
        visitor.go(&format!("{farm}/cutting")).await?;
        visitor.finds("[data-way=planned]").await?;
        take("cutting").await?;
        visitor.go(&format!("{farm}/ledger")).await?;
        visitor.sees("Entry").await?;
        take("ledger").await?;
        visitor.go(&format!("{farm}/season")).await?;
        visitor.click("Long Acre").await?;
        visitor.sees("RFQ").await?;
        take("field").await?;
        visitor.go(&format!("{farm}/season")).await?;
        visitor.click("Upper Larkin").await?;
        visitor.click("Ground").await?;
        visitor.sees("sampled").await?;
        take("field-ground").await?;

        // The day's work.
        visitor.size(PHONE).await?;
        visitor.go(&format!("{farm}/today")).await?;
        visitor.finds("[data-first]").await?;
        take("today-phone").await?;
        visitor.size(DESK).await?;

        // Counting with one thumb.
        visitor.go(&format!("{farm}/season")).await?;
        visitor.size(PHONE).await?;
        visitor.click("Long Acre").await?;
        visitor.click("Count stand").await?;
        for plants in [14, 11, 16, 9, 13, 15, 12] {
            for _ in 0..plants {
                visitor.click("Add one").await?;
            }
            visitor.click("Next point").await?;
        }
        visitor.finds("[data-enough]").await?;
        visitor.driver().execute("window.scrollTo(0, 0)", vec![]).await?;
        take("count-phone").await?;
        visitor.size(DESK).await?;

        // Standing in a field before it is planted.
        visitor.go(&format!("{farm}/season")).await?;
        visitor.size(PHONE).await?;
        visitor.click("Barn Lot").await?;
        visitor.finds("[data-gate=clean]").await?;
        visitor
            .driver()
            .execute(
                "document.querySelector('[aria-label=\"Pre-sowing checks\"]').scrollIntoView({block: 'start'})",
                vec![],
            )
            .await?;
        take("gates-phone").await?;
        visitor.size(DESK).await?;

        // At the gate: a record kept while there is no signal, and the form it was written on.
        visitor.go(&format!("{farm}/season")).await?;
        visitor.sees("Orchard Slope").await?;
        visitor.size(PHONE).await?;
        let line = serde_json::json!({"offline": true, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1});
        visitor.driver().cdp().send_raw("Network.enable", serde_json::json!({})).await?;
        tokio::time::sleep(std::time::Duration::from_secs(3)).await;
        visitor.driver().cdp().send_raw("Network.emulateNetworkConditions", line).await?;
        visitor.click("Record").await?;
        visitor.choose("Field", "Long Acre").await?;
        visitor.click("Stand check").await?;
        visitor.write("Plant height", "8 in").await?;
        visitor.write("Other observations", "thin by the gate").await?;
        visitor.click("Save record").await?;
        visitor.sees("1 waiting to send").await?;
        take("no-signal-phone").await?;
        let line =
            serde_json::json!({"offline": false, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1});
        visitor.driver().cdp().send_raw("Network.emulateNetworkConditions", line).await?;
        visitor.gone("[data-outbox]").await?;
        visitor.size(DESK).await?;

        Ok(())
    })
    .await;
    Ok(())
}
