//! The whole path with real clicks and keys, on both farms and in both unit systems: start a stand
//! with a three-member mix, order, pencil, ink, strike, ink again, then read ledger and season.

use anyhow::ensure;
use browser_tests::{Visitor, on_demo};
use rstest::rstest;

/// A farm, who runs it, and a mix that its lots can fill.
struct Ground {
    email: &'static str,
    field: &'static str,
    members: [(&'static str, &'static str); 3],
    lots: &'static [&'static str],
    /// The pure live seed in all, as each system shows it.
    pls: [(&'static str, &'static str); 2],
}

const NORTH: Ground = Ground {
    email: "mara@fennick.example",
    field: "Cooper Piece",
    members: [("alfalfa", "10 lb/ac"), ("orchardgrass", "3 lb/ac"), ("timothy", "2 lb/ac")],
    lots: &["NL-204", "OG-58", "TM-19"],
    pls: [("us", "15.0 lb/ac"), ("metric", "16.8 kg/ha")],
};

const SOUTH: Ground = Ground {
    email: "joaquin@ceibo.example",
    field: "Potrero Chico",
    members: [("alfalfa", "8 kg/ha"), ("perennial ryegrass", "12 kg/ha"), ("white clover", "2 kg/ha")],
    lots: &["LU-26", "RG-15", "TB-4"],
    pls: [("us", "19.6 lb/ac"), ("metric", "22.0 kg/ha")],
};

#[rstest]
#[case::north_in_us_units(NORTH, 0)]
#[case::north_in_metric(NORTH, 1)]
#[case::south_in_us_units(SOUTH, 0)]
#[case::south_in_metric(SOUTH, 1)]
#[tokio::test(flavor = "multi_thread")]
async fn from_a_field_to_ink_to_a_strike_and_ink_again(#[case] ground: Ground, #[case] system: usize) {
    on_demo(|visitor| async move {
        let (units, pls) = ground.pls[system];
        visitor.sign_in(ground.email).await?;
        visitor.read_in(units).await?;
        start(&visitor, &ground, pls).await?;
        ink_the_order_and_the_sowing(&visitor).await?;
        strike_the_sowing(&visitor, &ground).await?;
        ink_again_with_the_keyboard(&visitor, &ground).await?;
        read_ledger_and_season(&visitor, &ground, system).await?;
        visitor.stayed_home().await
    })
    .await;
}

/// From the season: the field without a stand, the mix, the lots, the order, the plan.
async fn start(visitor: &Visitor, ground: &Ground, pls: &str) -> anyhow::Result<()> {
    visitor.click("Start stand").await?;
    visitor.choose("Field", ground.field).await?;
    for (index, (crop, rate)) in ground.members.iter().enumerate() {
        let label = if index == 0 { "Crop, or first species in the mix" } else { "Add species" };
        visitor.choose(label, crop).await?;
        visitor.write(&format!("Rate of {crop}"), rate).await?;
    }
    visitor.finds(&format!("button[aria-label^='Pure live seed (PLS): {pls}']")).await?;
    // A sound day is proposed; this one is to be sown now.
    visitor.finds("[data-proposed]").await?;
    visitor.set_day("Sowing date", "2026-05-14").await?;
    for lot in ground.lots {
        visitor.tick(lot).await?;
    }
    visitor.finds("button[aria-label^='Seed order: $']").await?;
    // Any figure opens into its working: here the cost, down to whole bags.
    visitor.click_on("button[aria-label^='Seed order: $']").await?;
    visitor.reads("aside[aria-label=Working]", |working| working.contains("sum of bags × price")).await?;
    visitor.click("Close").await?;
    // Sampling was done, or stands first; then from the order to the count.
    ensure!(visitor.count("[aria-label=Plan] li[data-step]").await? >= 7, "seven steps and more");
    visitor.click("Start stand").await?;
    visitor.sees("Recorded").await?;
    visitor.finds("li[data-step=sow][data-state=blocked]").await?;
    Ok(())
}

async fn ink_the_order_and_the_sowing(visitor: &Visitor) -> anyhow::Result<()> {
    visitor.click("Ink: Order seed").await?;
    visitor.click("Save record").await?;
    visitor.finds("li[data-step=order-seed][data-state=done]").await?;
    let look = visitor.text_of("li[data-step=first-look]").await?;
    visitor.click("Ink: Sow").await?;
    visitor.set_day("Date done", "2026-05-06").await?;
    visitor.write("Depth", "1/4 in").await?;
    visitor.write("Setting", "gate 9").await?;
    visitor.click("Save record").await?;
    visitor.finds("li[data-step=sow][data-state=done]").await?;
    // The ink closes what came before and moves what follows.
    visitor.finds("li[data-step=prepare][data-state=passed]").await?;
    visitor.reads("li[data-step=first-look]", |moved| moved != look).await.map(drop)
}

async fn strike_the_sowing(visitor: &Visitor, ground: &Ground) -> anyhow::Result<()> {
    visitor.click("Ledger").await?;
    visitor.choose("Field", ground.field).await?;
    visitor.click_on("button[aria-label^='Open: Sown']").await?;
    // A strike needs its reason.
    visitor.click("Strike entry").await?;
    visitor.sees("Enter what was wrong.").await?;
    visitor.write("What was wrong", "it was the day after").await?;
    visitor.click("Strike entry").await?;
    visitor.finds("tr[data-struck=true]").await?;
    visitor.sees("Struck: it was the day after").await?;
    Ok(())
}

/// From the list of what is next, without the mouse.
async fn ink_again_with_the_keyboard(visitor: &Visitor, ground: &Ground) -> anyhow::Result<()> {
    visitor.step_back().await?;
    visitor.press("s").await?;
    let label = format!("button[aria-label='Ink: Sow, {}']", ground.field);
    let ink = visitor.finds(&label).await?;
    ink.focus().await?;
    visitor.press("\u{e007}").await?;
    visitor.set_day("Date done", "2026-05-07").await?;
    visitor.write("Note", "into moisture").await?;
    let button = visitor.finds("form button[type=submit]").await?;
    button.focus().await?;
    visitor.press("\u{e007}").await?;
    visitor.gone("[role=dialog]").await
}

async fn read_ledger_and_season(visitor: &Visitor, ground: &Ground, system: usize) -> anyhow::Result<()> {
    // Both sowings stand on the strip: the struck one stays legible.
    visitor.finds(&format!("button[aria-label='sown {}, recorded']", ["May 7", "7 May"][system])).await?;
    visitor.finds(&format!("button[aria-label='sown {}, struck']", ["May 6", "6 May"][system])).await?;
    visitor.click("Ledger").await?;
    visitor.choose("Field", ground.field).await?;
    visitor.sees("into moisture").await?;
    ensure!(visitor.count("tr[data-struck=true]").await? == 1, "one struck entry");
    // Nothing got lost on the way: decision, order, sowing, strike, sowing.
    let text = visitor.text().await?;
    for said in ["Planned: hay from", "Ordered", "gate 9", "Struck: it was the day after"] {
        ensure!(text.contains(said), "{said} is missing: {text}");
    }
    Ok(())
}
