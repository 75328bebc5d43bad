//! Every screen: nothing for axe to find in any theme, no sideways scrolling on a phone, no
//! scrolling of the season at a desk, and nothing asked of anybody but the application.

use anyhow::ensure;
use browser_tests::{DESK, PHONE, Visitor, on_demo};

async fn farm_of(visitor: &Visitor) -> anyhow::Result<String> {
    Ok(visitor.path().await?.trim_end_matches("/season").to_owned())
}

/// Each screen under the farm, and words that show it has been drawn.
const SCREENS: [(&str, &str); 19] = [
    ("season", "Next"),
    ("when", "All conditions"),
    ("set-up", "Soil and site"),
    ("set-up/weather", "Import weather file"),
    ("fields/draw", "By bearing"),
    ("fields", "Add field"),
    ("start", "Field and goal"),
    ("bench", "lowest cost to sow"),
    ("bench?at=drill", "Enter the target rate"),
    ("bench?at=spreader", "Set trays across the driving line"),
    ("bench?at=sprayer", "Enter the nozzle catches"),
    ("bench?at=sowing", "Dig up ten seeds"),
    ("bench?at=lime", "Materials by effective value"),
    ("bench?at=nutrients", "Build up and maintain"),
    ("bench?at=manure", "Supplied this year"),
    ("bench?at=blend", "Cost of the last unit"),
    ("ledger", "Import soil tests"),
    ("today", "Recorded today"),
    ("nowhere", "There is nothing at this address"),
];

/// All other pages of a farm: none is wider than a phone.
const MORE: [&str; 17] = [
    "stores",
    "library",
    "library?crop=alfalfa",
    "library/choose",
    "start/beside",
    "count",
    "fields/split",
    "set-up/farm",
    "set-up/you",
    "set-up/data",
    "set-up/machines",
    "set-up/products",
    "set-up/people",
    "bench?at=seed",
    "bench?at=seedbed",
    "bench?at=spray",
    "bench?at=tank",
];

async fn each_screen_is_accessible(visitor: &Visitor) -> anyhow::Result<()> {
    let farm = farm_of(visitor).await?;
    for (screen, words) in SCREENS {
        visitor.go(&format!("{farm}/{screen}")).await?;
        visitor.sees(words).await?;
        visitor.is_accessible_in_each_theme().await?;
    }
    visitor.go(&format!("{farm}/season")).await?;
    visitor.click("Orchard Slope").await?;
    visitor.sees("New stand").await?;
    visitor.is_accessible_in_each_theme().await?;
    visitor.click("Count stand").await?;
    visitor.sees("Point 1").await?;
    visitor.is_accessible_in_each_theme().await?;
    visitor.driver().back().await?;
    visitor.click("Ground").await?;
    visitor.sees("No soil test yet").await?;
    visitor.is_accessible_in_each_theme().await?;
    visitor.go(&format!("{farm}/season")).await?;
    visitor.sees("Next").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn axe_finds_nothing_at_a_desk() {
    on_demo(|visitor| async move {
        visitor.go("/sign-in").await?;
        visitor.sees("Sign in").await?;
        visitor.is_accessible_in_each_theme().await?;
        visitor.sign_in("mara@fennick.example").await?;
        each_screen_is_accessible(&visitor).await?;
        visitor.stayed_home().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn axe_finds_nothing_on_a_phone_and_nothing_scrolls_sideways() {
    on_demo(|visitor| async move {
        visitor.size(PHONE).await?;
        visitor.sign_in("mara@fennick.example").await?;
        let farm = farm_of(&visitor).await?;
        for (screen, words) in SCREENS {
            visitor.go(&format!("{farm}/{screen}")).await?;
            visitor.sees(words).await?;
            visitor.fits_across().await?;
            visitor.is_accessible().await?;
        }
        for screen in MORE {
            visitor.go(&format!("{farm}/{screen}")).await?;
            // A page that needs a stand or a field says so where none is named.
            visitor.finds("main h1, main p").await.map_err(|error| error.context(screen))?;
            visitor.fits_across().await.map_err(|error| error.context(screen))?;
        }
        visitor.go(&format!("{farm}/season")).await?;
        visitor.click("Fox Cover").await?;
        visitor.sees("Print").await?;
        for side in ["Ground", "History", "Plan"] {
            visitor.click(side).await?;
            visitor.fits_across().await?;
            visitor.is_accessible().await?;
        }
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn sheets_and_panels_are_accessible_too() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("?").await?;
        visitor.sees("Switch units").await?;
        visitor.is_accessible().await?;
        visitor.press("\u{e00c}").await?;
        visitor.gone("[role=dialog]").await?;

        visitor.click("Ink: Count stand, Mill Flat").await?;
        visitor.sees("Records are permanent").await?;
        visitor.is_accessible().await?;
        visitor.click("Cancel").await?;

        visitor.click_on("button[aria-label$=', struck']").await?;
        visitor.sees("Struck: still readable").await?;
        visitor.is_accessible().await?;
        visitor.press("\u{e00c}").await?;

        visitor.press("b").await?;
        visitor.click_on("button[aria-label^='Bulk rate']").await?;
        visitor.finds("aside[aria-label=Working]").await?;
        visitor.is_accessible().await?;
        visitor.click("Close").await?;
        visitor.click("Add lot").await?;
        visitor.sees("Copy the bag tag").await?;
        visitor.is_accessible().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_season_fits_a_desk_and_the_axis_keeps_its_place() {
    on_demo(|visitor| async move {
        visitor.size(DESK).await?;
        visitor.sign_in("mara@fennick.example").await?;
        visitor.sees("Orchard Slope").await?;
        let script = "return document.documentElement.scrollHeight - window.innerHeight";
        let over: i64 = visitor.ask(script).await?;
        ensure!(over <= 0, "the season is {over} pixels taller than the window");
        // Zoomed in and moved on, the stretch of time is the same on the field's page.
        visitor.click("Fortnight").await?;
        visitor.click("Later").await?;
        let ticks = async || -> anyhow::Result<String> { visitor.text_of("[aria-hidden].h-9").await };
        let season = ticks().await?;
        ensure!(season.contains("May"), "{season}");
        visitor.click("Orchard Slope").await?;
        visitor.sees("New stand").await?;
        let first = |text: &str| text.lines().next().unwrap_or_default().to_owned();
        ensure!(first(&ticks().await?) == first(&season), "the axis moved");
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn in_autumn_the_south_sees_half_a_year_ahead() {
    on_demo(|visitor| async move {
        visitor.sign_in("joaquin@ceibo.example").await?;
        visitor.sees("La Loma").await?;
        let months = visitor.text_of("[aria-hidden].h-9").await?;
        // The year begins in July there, and would end six weeks after the middle of May.
        let months: Vec<&str> = months.split_whitespace().collect();
        ensure!(months.first() == Some(&"Dec") && months.contains(&"Nov"), "{months:?}");
        Ok(())
    })
    .await;
}
