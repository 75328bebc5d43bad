//! The library that teaches, and choosing a crop by it.

use anyhow::ensure;
use browser_tests::{PHONE, on_demo};

#[tokio::test(flavor = "multi_thread")]
async fn a_crop_is_read_alone_and_beside_another() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("y").await?;
        visitor.sees("Restrictions").await?;
        visitor.is_accessible().await?;
        // The year here, the years of a stand, and every figure with its scale.
        visitor.finds("svg[aria-label^='Mean temperature here by month, \u{b0}F']").await?;
        visitor.finds("svg[aria-label^='Dry matter of alfalfa by year']").await?;
        ensure!(visitor.count("svg[aria-label*='alfalfa: ']").await? >= 18, "a figure has no scale");
        visitor.click("why it matters; source").await?;
        visitor.sees("dies in the first hard winter").await?;
        visitor.sees("from memory").await?;
        visitor.write("Find a crop", "Panicum").await?;
        visitor.click("switchgrass").await?;
        visitor.sees("No harvest in the sowing year").await?;
        visitor.choose("Compare with", "timothy").await?;
        visitor.finds("svg[aria-label*='timothy: ']").await?;
        visitor.is_accessible().await?;
        // In the other units the figures are other ones, and stand where they stood.
        visitor.step_back().await?;
        visitor.press("u").await?;
        visitor.sees("14 \u{b0}C").await?;
        visitor.size(PHONE).await?;
        visitor.is_accessible().await?;
        visitor.stayed_home().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_crop_is_chosen_for_a_field() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("n").await?;
        visitor.click("Choose a crop").await?;
        visitor.sees("other crops in the library are not grown for this goal").await?;
        visitor.sees("To fix").await?;
        visitor.is_accessible().await?;
        visitor.choose("Field", "Cooper Piece").await?;
        visitor.choose("Goal", "grazing").await?;
        visitor.sees("tolerates grazing well").await?;
        // What winter takes stands apart, with the night that takes it.
        visitor.sees("not suitable, with reasons").await?.click().await?;
        visitor.finds("[data-state=open] > ol > li").await?;
        visitor.choose("Goal", "hay").await?;
        visitor.finds("[data-local=true]").await?;
        visitor.click_on("button[aria-label^='alfalfa, per year']").await?;
        visitor.finds("aside[aria-label=Working]").await?;
        visitor.click("Close").await?;
        visitor.click("Start stand").await?;
        visitor.sees("Sowing date").await?;
        ensure!(visitor.path().await?.contains("/start"), "not at the start of a stand");
        Ok(())
    })
    .await;
}

/// A farm's own varieties: which kind fits its winters, and the order that trials put them in.
#[tokio::test(flavor = "multi_thread")]
async fn own_varieties_are_ranked_by_their_trials() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("y").await?;
        visitor.finds("[data-kind=dormant][data-fit=fits]").await?;
        visitor.finds("[data-kind=non-dormant][data-fit=unfit]").await?;
        for (name, dormancy) in [("Ridge", "4"), ("Tender", "9")] {
            visitor.click("Add variety").await?;
            visitor.write("Name", name).await?;
            visitor.write("Fall dormancy", dormancy).await?;
            visitor.click("Save record").await?;
            visitor.gone("[role=dialog]").await?;
            visitor.finds(&format!("[data-variety={name}]")).await?;
        }
        for (name, gave) in [("Ridge", "5.5"), ("Tender", "6.5")] {
            visitor.click(&format!("Add trial result: {name}")).await?;
            visitor.write("Yield", gave).await?;
            visitor.write("Trial mean", "5").await?;
            visitor.write("Place and who ran it", "our own strips").await?;
            visitor.click("Save record").await?;
            visitor.gone("[role=dialog]").await?;
        }
        // Tender gave more; winter takes it.
        visitor.finds("li[data-variety=Ridge] + li[data-variety=Tender][data-fit=unfit]").await?;
        // A tenth above the mean in one trial: a third of it is to be expected.
        visitor.finds("button[aria-label^='Expected yield of Ridge: 103%']").await?;
        visitor.is_accessible().await?;
        visitor.stayed_home().await
    })
    .await;
}
