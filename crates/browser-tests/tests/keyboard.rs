//! Everything by the keyboard: shortcuts, the palette, moving a day, and the mouse for dragging it.

use anyhow::ensure;
use browser_tests::{Visitor, on_demo, until};

#[tokio::test(flavor = "multi_thread")]
async fn a_key_opens_each_page() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        // The season last: it has to be reached from elsewhere.
        for (key, page) in [("f", "/fields"), ("n", "/start"), ("b", "/bench"), ("l", "/ledger"), ("s", "/season")] {
            visitor.press(key).await?;
            until(&format!("{key} leads to {page}"), async || Ok(visitor.path().await?.ends_with(page))).await?;
            visitor.step_back().await?;
        }
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_palette_finds_a_field_and_a_key_typed_into_a_form_stays_there() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("\u{e009}k").await?;
        visitor.finds("[role=dialog] input").await?.send_keys("orchard").await?;
        visitor.press("\u{e007}").await?;
        visitor.sees("sowable of").await?;
        ensure!(visitor.text_of("h1").await? == "Orchard Slope", "another field");

        // "s" and "l" are letters here, not ways out.
        visitor.press("l").await?;
        visitor.click("Add note").await?;
        visitor.write("Note", "slugs along the lane, still").await?;
        visitor.click("Save record").await?;
        visitor.sees("slugs along the lane, still").await?;
        ensure!(visitor.path().await?.ends_with("/ledger"), "a letter was taken for a shortcut");
        Ok(())
    })
    .await;
}

async fn a_draft_of_alfalfa(visitor: &Visitor) -> anyhow::Result<()> {
    visitor.sign_in("mara@fennick.example").await?;
    visitor.press("n").await?;
    visitor.choose("Field", "Cooper Piece").await?;
    visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
    visitor.finds("[role=slider][aria-label='Sowing date']").await?;
    visitor.set_day("Sowing date", "2026-05-14").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn the_sowing_day_moves_by_arrow_keys_and_by_dragging() {
    on_demo(|visitor| async move {
        a_draft_of_alfalfa(&visitor).await?;
        let slider = visitor.finds("[role=slider][aria-label='Sowing date']").await?;
        slider.focus().await?;
        visitor.press("\u{e014}\u{e014}").await?;
        visitor.comes_to("Sowing date", |day| day == "2026-05-16").await?;
        visitor.press("\u{e008}\u{e012}").await?;
        visitor.comes_to("Sowing date", |day| day == "2026-05-09").await?;
        visitor.drag(&slider, 120).await?;
        visitor.comes_to("Sowing date", |day| day > "2026-06-01").await?;
        until("the pencil follows", async || {
            let month = if visitor.value("Sowing date").await?.starts_with("2026-06") { "Jun" } else { "Jul" };
            Ok(visitor.text_of("li[data-step=sow]").await?.contains(month))
        })
        .await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mix_is_named_three_ways_and_its_shares_move_by_keys() {
    on_demo(|visitor| async move {
        a_draft_of_alfalfa(&visitor).await?;
        visitor.choose("Add species", "orchardgrass").await?;
        visitor.finds("button[aria-label^='Pure live seed (PLS): 23']").await?;
        visitor.click("by live seeds").await?;
        let before = visitor.value("Share of alfalfa").await?;
        // The same seed, named another way.
        visitor.finds("button[aria-label^='Pure live seed (PLS): 23']").await?;
        let border = visitor.finds("[role=slider][aria-label^='Divider between']").await?;
        border.focus().await?;
        visitor.press("\u{e014}\u{e014}\u{e014}").await?;
        visitor.comes_to("Share of alfalfa", |share| share != before).await?;
        visitor.click("by mass").await?;
        visitor.finds("input[value*='lb/ac']").await?;
        Ok(())
    })
    .await;
}

/// Step on with the tab key until what bears a name has the focus.
async fn tab_to(visitor: &Visitor, name: &str) -> anyhow::Result<()> {
    let focused = "const one = document.activeElement; \
                   return (one?.labels?.[0]?.textContent || one?.getAttribute('aria-label') || one?.textContent || '').trim()";
    for _ in 0..120 {
        visitor.press("\u{e004}").await?;
        let name_of: String = visitor.ask(focused).await?;
        if name_of == name {
            return Ok(());
        }
    }
    anyhow::bail!("the tab key does not lead to {name}")
}

/// A drill is calibrated and a stand counted without a mouse.
#[tokio::test(flavor = "multi_thread")]
async fn the_sowing_day_by_keys_alone() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.trim_end_matches("/season").to_owned();
        visitor.go(&format!("{farm}/bench?at=drill")).await?;
        visitor.sees("Calibration method").await?;
        for (label, text) in [
            ("Target rate", "20 lb/ac"),
            ("Pure live seed (PLS)", "92"),
            ("Row spacing", "7.5"),
            ("Test course length", "200 ft"),
        ] {
            tab_to(&visitor, label).await?;
            visitor.press(text).await?;
        }
        for row in 1..=8 {
            tab_to(&visitor, &format!("Row {row}")).await?;
            visitor.press(if row == 5 { "0" } else { "0.75" }).await?;
        }
        visitor.finds("[data-row='5'][data-state=nothing]").await?;
        visitor.finds("[data-verdict=blocked]").await?;

        visitor.go(&format!("{farm}/fields")).await?;
        visitor.click("Orchard Slope").await?;
        visitor.finds("[aria-label='Plan']").await?;
        tab_to(&visitor, "Count stand").await?;
        visitor.press("\u{e007}").await?;
        visitor.finds("[data-place='1']").await?;
        tab_to(&visitor, "Row 2, cell 3").await?;
        visitor.press(" ").await?;
        visitor.finds("[data-here='1']").await?;
        tab_to(&visitor, "Next toss").await?;
        visitor.press("\u{e007}").await?;
        visitor.sees("toss 2 of 4").await.map(drop)
    })
    .await;
}
