//! How a stand is used, year after year: cuts planned, inked and followed, and another use from the next season on.

use anyhow::ensure;
use browser_tests::{PHONE, Visitor, on_demo, on_device};

/// The cuts of the season on a field's page, by how they stand.
async fn cuts(visitor: &Visitor, season: &str) -> anyhow::Result<Vec<String>> {
    let script = format!(
        "return [...document.querySelectorAll(\"[data-season='{season}'] [data-step='cut']\")].map((one) => one.dataset.state)"
    );
    visitor.ask(&script).await
}

/// The days of a cut as they are told.
async fn told(visitor: &Visitor, occurrence: u32) -> anyhow::Result<String> {
    visitor.text_of(&format!("[data-season='2026'] [data-step='cut'][data-occurrence='{occurrence}']")).await
}

/// A cut inked from the plan moves those after it, on a phone and without signal; inked twice it is asked about.
#[tokio::test(flavor = "multi_thread")]
async fn a_cut_in_ink_moves_those_after_it() {
    on_device(|visitor| async move {
        visitor.size(PHONE).await?;
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Fields").await?;
        visitor.click("Long Acre").await?;
        visitor.finds("[data-season='2026'] [data-step='cut'][data-occurrence='4']").await?;
        let planned = told(&visitor, 2).await?;
        ensure!(planned.contains("27 Jun to 4 Jul"), "{planned}");
        visitor.cut_off(true).await?;
        visitor.click("Ink: Cut (1 of 4)").await?;
        visitor.sees("Cutting date").await?;
        visitor.write("Yield", "2 ton/ac").await?;
        visitor.click("Save record").await?;
        visitor.sees("Saved on this device").await?;
        visitor.cut_off(false).await?;
        visitor.finds("[data-season='2026'] [data-step='cut'][data-occurrence='1'][data-state='done']").await?;
        // Four to five weeks after the 14th of May.
        let moved = told(&visitor, 2).await?;
        ensure!(moved.contains("11 Jun to 18 Jun"), "{moved}");
        visitor.finds("[data-season='2026'] [aria-label^='Ink: Cut (2 of']").await?;
        // What it gave stands beside what was expected, and the rest of the season follows.
        visitor.sees("modelled").await?;
        visitor.finds("[aria-label^='Standing dry matter'][aria-label*=', cut 14 May, planned cut']").await?;
        visitor.is_accessible().await
    })
    .await;
}

/// Another use from the next season on leaves this one as it is; the manager alone may change it.
#[tokio::test(flavor = "multi_thread")]
async fn another_use_from_the_next_season_on() {
    on_demo(|visitor| async move {
        visitor.sign_in("joaquin@ceibo.example").await?;
        visitor.click("Fields").await?;
        visitor.click("La Loma").await?;
        visitor.sees("Season 2025/26: hay by growth stage").await?;
        ensure!(cuts(&visitor, "2025").await?.iter().filter(|state| *state == "done").count() == 4, "four were cut");
        visitor.click("Change regime").await?;
        visitor.choose("Regime", "Early-cut silage").await?;
        visitor.choose("First season", "2026/27").await?;
        visitor.is_accessible().await?;
        visitor.click("Save record").await?;
        visitor.sees("from 2026/27, early-cut silage").await?;
        visitor.sees("Season 2025/26: hay by growth stage").await?;
        visitor.click_on("[data-season='2026'] button").await?;
        visitor.finds("[data-season='2026'] [data-step='dress-after-cut']").await?;
        ensure!(
            visitor.count("[data-season='2025'] [data-step='dress-after-cut']").await? == 0,
            "this season is as it was"
        );
        visitor.is_accessible().await
    })
    .await;
}

/// A stand is started with its use, and one that has none is given one.
#[tokio::test(flavor = "multi_thread")]
async fn a_stand_without_a_use_is_given_one() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Fields").await?;
        visitor.click("Stony Piece").await?;
        visitor.sees("not chosen, so no cuts are planned").await?;
        visitor.click("Choose regime").await?;
        visitor.click("Save record").await?;
        visitor.sees("Choose a regime.").await?;
        visitor.choose("Regime", "Hay at fixed intervals").await?;
        visitor.click("Save record").await?;
        visitor.sees("Season 2026: hay at fixed intervals").await?;
        ensure!(cuts(&visitor, "2026").await?.len() >= 2, "cuts are planned");
        visitor.is_accessible().await
    })
    .await;
}
