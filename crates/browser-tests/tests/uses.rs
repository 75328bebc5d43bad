//! How a stand is used, year after year: cuts planned, inked and followed, and another use from the next season on.

use anyhow::ensure;
use browser_tests::{PHONE, Visitor, on_demo, on_device};
use thirtyfour::Key;

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
        ensure!(planned.contains("Jun 27 to Jul 4"), "{planned}");
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
        ensure!(moved.contains("Jun 11 to Jun 18"), "{moved}");
        visitor.finds("[data-season='2026'] [aria-label^='Ink: Cut (2 of']").await?;
        // What it gave stands beside what was expected, and the rest of the season follows.
        visitor.sees("modelled").await?;
        visitor.finds("[aria-label^='Standing dry matter'][aria-label*=', cut May 14, planned cut']").await?;
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

/// A stand that is there already is entered on one short form: no odds, no order, no looks of years ago.
#[tokio::test(flavor = "multi_thread")]
async fn an_existing_stand_is_entered_in_eight_actions() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let mut actions = 0;
        let mut done = || actions += 1;
        visitor.click("Sheep Hill").await?;
        done();
        visitor.click("Add existing stand").await?;
        done();
        visitor.is_accessible().await?;
        visitor.choose("Crop, or main species", "orchardgrass").await?;
        done();
        visitor.choose("Second species", "white clover").await?;
        done();
        visitor.write("Year sown", "2022").await?;
        done();
        visitor.choose("Cutting regime", "Hay by growth stage").await?;
        done();
        visitor.click("Add stand").await?;
        done();
        visitor.finds("[data-season='2026'] [data-step='cut'][data-state='waiting']").await?;
        ensure!(actions <= 8, "{actions} actions");
        visitor.sees("assumed cut as this one is planned").await?;
        let text = visitor.text().await?;
        for words in ["Order seed", "Pre-sowing checks", "Days to emergence"] {
            ensure!(!text.contains(words), "{words} is asked of a stand of four years");
        }
        visitor.click("History").await?;
        visitor.sees("skipped").await?;
        visitor.is_accessible().await
    })
    .await;
}

/// The season shows what stands on each field and what its cuts give, to one scale; what can't be told says why.
#[tokio::test(flavor = "multi_thread")]
async fn the_season_shows_growth_and_cuts() {
    on_demo(|visitor| async move {
        visitor.sign_in("joaquin@ceibo.example").await?;
        visitor.sees("La Loma").await?;
        visitor.click("Growth").await?;
        visitor.finds("[data-growth=told][aria-label*='planned cut']").await?;
        visitor.sees("Full height").await?;
        for why in ["Not sown yet", "No stand"] {
            visitor.finds(&format!("[data-growth=untold][aria-label='{why}']")).await?;
        }
        visitor.is_accessible_in_each_theme().await?;
        visitor.size(PHONE).await?;
        visitor.fits_across().await?;
        visitor.size(browser_tests::DESK).await?;
        visitor.click("Work").await?;
        visitor.finds("button[aria-label^='counted']").await?;
        Ok(())
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

/// Ways of cutting alfalfa are compared; one's own dates are dragged and every figure follows: at the desk, and in metric on
/// a phone.
#[tokio::test(flavor = "multi_thread")]
async fn ways_of_cutting_are_compared_and_a_cut_is_dragged() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Fields").await?;
        visitor.click("Long Acre").await?;
        visitor.click("Compare cutting dates").await?;
        visitor.finds("[data-way='planned'][aria-current]").await?;
        for way in ["early", "usual", "late", "interval", "fibre", "no-rest"] {
            visitor.finds(&format!("[data-way='{way}']")).await?;
        }
        visitor.sees("A week later").await?;
        visitor.is_accessible().await?;
        visitor.click("at bud").await?;
        visitor.finds("[data-way='early'][aria-current]").await?;
        visitor.click("Try your own dates").await?;
        visitor.finds("[data-way='own'][aria-current]").await?;
        let before = visitor.text_of("[data-way='own']").await?;
        let slider = visitor.finds("[role=slider][aria-label='Cut 1']").await?;
        for _ in 0..10 {
            slider.send_keys(Key::Right + "").await?;
        }
        visitor.reads("[data-way='own']", |said| said != before).await?;
        visitor.click("Prices").await?;
        visitor.write("Hay price at RFQ 150", "220").await?;
        visitor.sees("Value less cuts").await?;
        visitor.write("Cost of one cut", "-5").await?;
        visitor.sees("Cost per cut is").await?;
        visitor.write("Cost of one cut", "45").await?;
        visitor.finds("[data-way='own'][aria-current]").await?;
        visitor.is_accessible().await?;
        visitor.read_in("metric").await?;
        visitor.size(PHONE).await?;
        visitor.finds("[data-way='planned']").await?;
        visitor.reads("[data-way='planned']", |said| said.contains("t/ha")).await?;
        visitor.fits_across().await?;
        visitor.is_accessible().await
    })
    .await;
}
