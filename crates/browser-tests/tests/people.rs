//! Who may do what, the first visit, and the laboratory.

use anyhow::ensure;
use browser_tests::{on_demo, on_first_visit};
use rstest::rstest;

#[tokio::test(flavor = "multi_thread")]
async fn the_first_visit_makes_the_owner_and_the_farm() {
    on_first_visit(|visitor| async move {
        visitor.go("/").await?;
        visitor.sees("Set up the first farm").await?;
        visitor.is_accessible().await?;
        visitor.write("Name", "Somebody New").await?;
        visitor.write("E-mail", "new@example.org").await?;
        visitor.write("Password", "short").await?;
        visitor.write("Farm name", "Far End").await?;
        visitor.write("Latitude", "-34,5").await?;
        visitor.write("Longitude", "-56").await?;
        visitor.write("Elevation", "120").await?;
        visitor.click("Metric units").await?;
        visitor.click("Create farm").await?;
        visitor.sees("10").await?;
        ensure!(visitor.value("Farm name").await? == "Far End", "what was typed was lost");
        visitor.write("Password", "long enough by far").await?;
        visitor.click("Create farm").await?;
        visitor.sees("A name and an area are enough").await?;
        visitor.is_accessible().await?;
        visitor.press("s").await?;
        visitor.sees("Each field appears here as a strip.").await?;
        visitor.click("Add first field").await?;
        visitor.sees("Start with your fields").await?;
        // A farm of one's own goes by the calendar: no practice clock.
        ensure!(!visitor.text().await?.contains("practice"), "a real farm has no practice clock");
        visitor.stayed_home().await
    })
    .await;
}

#[rstest]
#[case::crew("tobias@fennick.example", true)]
#[case::adviser("ines@advice.example", false)]
#[tokio::test(flavor = "multi_thread")]
async fn the_crew_records_and_the_adviser_reads(#[case] email: &str, #[case] inks: bool) {
    let email = email.to_owned();
    on_demo(|visitor| async move {
        visitor.sign_in(&email).await?;
        if !inks {
            // The adviser looks over both farms; the season opened on the first by name.
            visitor.click("Chacra del Ceibo").await?;
            visitor.finds("[role=menuitemradio]").await?;
            visitor.driver().find_all(thirtyfour::By::Css("[role=menuitemradio]")).await?[1].click().await?;
        }
        visitor.sees("Orchard Slope").await?;
        let ink = visitor.count("ul[aria-label='Next steps'] button[aria-label^='Ink']").await?;
        ensure!((ink > 0) == inks, "{ink} ink buttons");
        visitor.press("n").await?;
        visitor.sees("Only a manager can start a stand").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_laboratory_tests_a_sample_into_the_lot() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("b").await?;
        let before = visitor.text_of("tr[data-lot=NL-204] [data-germination]").await?;
        visitor.click("Send a sample of NL-204 to the lab").await?;
        visitor.reads("tr[data-lot=NL-204] [data-germination]", |after| after != before).await?;
        visitor.sees("laboratory").await?;
        visitor.press("l").await?;
        visitor.choose("Type", "Laboratory report").await?;
        visitor.sees("of 400 seeds").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn signing_out_closes_the_door() {
    on_demo(|visitor| async move {
        visitor.sign_in_at_the_door("mara@fennick.example").await?;
        let season = visitor.path().await?;
        visitor.click("Mara Fennick").await?;
        visitor.click("Sign out").await?;
        visitor.sees("Plan in pencil, record in ink.").await?;
        visitor.go(&season).await?;
        visitor.sees("Plan in pencil, record in ink.").await?;
        visitor.write("E-mail", "mara@fennick.example").await?;
        visitor.write("Password", "rain before hay").await?;
        visitor.click("Sign in").await?;
        visitor.sees("wrong e-mail address or password").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn rhizomes_are_ordered_by_spacing() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("b").await?;
        visitor.choose("Crop", "giant miscanthus").await?;
        // 30 × 30 in on an acre: 6,970 stations.
        visitor.finds("button[aria-label^='Pieces to order: 6,970']").await?;
        visitor.write("Row spacing", "3 ft").await?;
        visitor.finds("button[aria-label^='Pieces to order: 5,808']").await?;
        visitor.write("Survival", "140 %").await?;
        visitor.sees("enter 0% to 100%").await?;
        visitor.write("Survival", "90 %").await?;
        visitor.click_on("button[aria-label^='Pieces to order: 5,808']").await?;
        visitor.reads("aside[aria-label=Working]", |working| working.contains("rounded up")).await?;
        Ok(())
    })
    .await;
}
