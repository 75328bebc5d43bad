//! Slips, refusals and outages: a clear sentence at the field, and nothing typed is lost.

use anyhow::ensure;
use browser_tests::{Visitor, on_demo, on_device, until};

#[tokio::test(flavor = "multi_thread")]
async fn a_tag_that_cannot_be_is_told_at_the_field_and_kept() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("b").await?;
        visitor.click("Add lot").await?;
        visitor.write("Lot number", "NEW-7").await?;
        visitor.write("Purity", "98").await?;
        visitor.write("Germination", "130").await?;
        visitor.write("Price per bag", "-4").await?;
        visitor.sees("Read as 130%").await?;
        visitor.sees("Read as \u{2212}$4").await?;
        visitor.click("Save lot").await?;
        visitor.sees("Germination is 130%; enter 0% to 100%").await?;
        visitor.sees("Price per bag is").await?;
        ensure!(visitor.value("Lot number").await? == "NEW-7", "the number was lost");
        ensure!(visitor.value("Germination").await? == "130", "what was typed was lost");
        visitor.write("Germination", "88").await?;
        visitor.write("Price per bag", "240").await?;
        visitor.write("Bag weight", "50 lb").await?;
        visitor.sees("Read as $240").await?;
        visitor.click("Save lot").await?;
        visitor.finds("tr[data-lot=NEW-7]").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_written_is_read_as_people_write_it() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("b").await?;
        visitor.click("PLS rate").await?;
        for (text, read) in
            [("15", "Read as 15 lb/ac"), ("2,5 kg/ha", "Read as 2.5 kg/ha"), ("16 kg per ha", "Read as 16 kg/ha")]
        {
            visitor.write("Target PLS rate", text).await?;
            visitor.sees(read).await?;
        }
        visitor.write("Target PLS rate", "a few").await?;
        visitor.sees("has no number").await?;
        ensure!(visitor.value("Target PLS rate").await? == "a few", "what was typed was lost");
        visitor.write("Target PLS rate", "15 furlongs").await?;
        visitor.sees("is not a known unit").await?;
        visitor.write("Target PLS rate", "15 in").await?;
        visitor.sees("enter a mass per area").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_boundary_that_is_none_is_told_and_kept() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("f").await?;
        visitor.click("Add field").await?;
        visitor.click("boundary file").await?;
        visitor.write("Name", "Far Corner").await?;
        visitor.write("Boundary", "north of the brook").await?;
        visitor.click("Add field").await?;
        visitor.sees("this is not GeoJSON").await?;
        let polygon = |rings: &str| format!("{{\"type\":\"Polygon\",\"coordinates\":{rings}}}");
        for (rings, said) in [
            ("[[[0,0],[0.01,0.01],[0.01,0],[0,0.01],[0,0]]]", "The boundary crosses itself"),
            ("[]", "the polygon is empty"),
        ] {
            visitor.write("Boundary", &polygon(rings)).await?;
            visitor.click("Add field").await?;
            visitor.sees(said).await?;
        }
        ensure!(visitor.value("Name").await? == "Far Corner", "the name was lost");
        visitor
            .write("Boundary", &polygon("[[[-76.5,42.4],[-76.497,42.4],[-76.497,42.402],[-76.5,42.402],[-76.5,42.4]]]"))
            .await?;
        visitor.click("Add field").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.sees("Far Corner").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_script_in_a_name_is_only_letters() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("f").await?;
        visitor.click("Add field").await?;
        visitor.click("boundary file").await?;
        let name = "<img src=x onerror=window.hurt=1><script>window.hurt=1</script>";
        visitor.write("Name", name).await?;
        let ring = "[[[-76.5,42.4],[-76.497,42.4],[-76.497,42.402],[-76.5,42.402],[-76.5,42.4]]]";
        visitor.write("Boundary", &format!("{{\"type\":\"Polygon\",\"coordinates\":{ring}}}")).await?;
        visitor.click("Add field").await?;
        visitor.sees(name).await?;
        let hurt: bool = visitor.ask("return window.hurt === 1").await?;
        ensure!(!hurt, "the name ran");
        Ok(())
    })
    .await;
}

async fn draft(visitor: &Visitor, rate: &str) -> anyhow::Result<()> {
    visitor.press("n").await?;
    visitor.choose("Field", "Cooper Piece").await?;
    visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
    visitor.write("Rate of alfalfa", rate).await?;
    visitor.finds("[data-proposed]").await?;
    visitor.set_day("Sowing date", "2026-05-14").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_setting_that_is_not_kept_is_told() {
    on_device(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.sees("Orchard Slope").await?;
        visitor.cut_off(true).await?;
        visitor.press("u").await?;
        visitor.sees("Your setting was not saved").await?;
        visitor.finds("html[data-units=us]").await?;
        visitor.cut_off(false).await?;
        visitor.read_in("metric").await?;
        visitor.gone("header [role=alert]").await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_draft_outlives_the_page_and_the_server() {
    on_device(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        draft(&visitor, "17.5 lb/ac").await?;
        visitor.finds("button[aria-label^='Pure live seed (PLS): 17.5']").await?;
        visitor.driver().refresh().await?;
        visitor.finds("button[aria-label^='Pure live seed (PLS): 17.5']").await?;
        // The line is cut: the form says so, and keeps what was put down.
        visitor.cut_off(true).await?;
        visitor.click("Start stand").await?;
        visitor.sees("Your entry is saved").await?;
        visitor.cut_off(false).await?;
        visitor.click("Start stand").await?;
        visitor.finds("li[data-step=sow][data-state]").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_slip_of_ten_has_to_be_meant() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        draft(&visitor, "240 lb/ac").await?;
        visitor.sees("far above the usual").await?;
        let button = visitor.finds("button.ink-button[disabled]").await?;
        ensure!(button.text().await? == "Start stand", "another button");
        visitor.tick("Yes, this is correct.").await?;
        visitor.click("Start stand").await?;
        visitor.finds("li[data-step=sow]").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn ink_of_tomorrow_is_refused_at_the_day() {
    on_demo(|visitor| async move {
        visitor.sign_in("tobias@fennick.example").await?;
        visitor.click("Ink: Count stand, Mill Flat").await?;
        visitor.set_day("Date done", "2026-06-30").await?;
        visitor.write("Note", "kept while refused").await?;
        visitor.click("Save record").await?;
        visitor.sees("is in the future").await?;
        ensure!(visitor.value("Note").await? == "kept while refused", "the note was lost");
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_day_that_is_half_typed_or_cannot_be_is_told_and_replaced_by_none() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("n").await?;
        visitor.choose("Field", "Cooper Piece").await?;
        visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
        visitor.set_day("Sowing date", "2026-08-12").await?;
        visitor.sees("if sown Aug 12").await?;
        // The month rubbed out: no other day takes its place, and it says what is lacking once it is left.
        visitor.day_part("Sowing date", 0).await?;
        visitor.press("\u{e003}").await?;
        visitor.comes_to("Sowing date", |day| day == "2026--12").await?;
        visitor.step_back().await?;
        visitor.sees("Enter the month.").await?;
        visitor.sees("if sown Aug 12").await?;
        until("it can\u{2019}t be started", async || Ok(!visitor.can("Start stand").await?)).await?;
        // All of it rubbed out, it stays empty: what is proposed is taken by its button alone.
        for part in 1..3 {
            visitor.day_part("Sowing date", part).await?;
            for _ in 0..4 {
                visitor.press("\u{e003}").await?;
            }
        }
        visitor.comes_to("Sowing date", str::is_empty).await?;
        // Days that can't be, in words that say how to mend them.
        for (typed, told) in [
            ("02312027", "February 2027 has 28 days; there is no day 31."),
            ("08120202", "The year is 202; enter a year from 1900 to 2200."),
        ] {
            visitor.day_part("Sowing date", 0).await?;
            visitor.press(typed).await?;
            visitor.step_back().await?;
            visitor.sees(told).await?;
        }
        visitor.set_day("Sowing date", "2026-08-13").await?;
        visitor.sees("if sown Aug 13").await?;
        until("it can be started", async || visitor.can("Start stand").await).await?;
        // In metric units the day comes first; a month to pick from, by thumb or by arrow keys.
        visitor.read_in("metric").await?;
        visitor.set_day("Sowing date", "2026-08-15").await?;
        visitor.sees("if sown 15 Aug").await?;
        visitor.click("Pick sowing date from a calendar").await?;
        until("a day has the keyboard", async || {
            visitor.ask("return document.activeElement.closest('[role=grid]') !== null").await
        })
        .await?;
        visitor.press("\u{e014}").await?;
        visitor.press("\u{e007}").await?;
        visitor.sees("if sown 16 Aug").await?;
        Ok(())
    })
    .await;
}
