//! Forage made, weighed, tested and split: on a phone without signal, and at a desk in metric.

use anyhow::ensure;
use browser_tests::{PHONE, on_demo, on_device};

/// Bales recorded in the field without signal; the weight is corrected at the desk.
#[tokio::test(flavor = "multi_thread")]
async fn bales_are_recorded_in_the_field_and_weighed_later() {
    on_device(|visitor| async move {
        visitor.size(PHONE).await?;
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Fields").await?;
        visitor.click("Heron Bottom").await?;
        visitor.cut_off(true).await?;
        visitor.click("Record").await?;
        visitor.click("Hay, silage or green forage made").await?;
        // What stands there is what was baled.
        visitor.choose("Made as", "round bales").await?;
        visitor.write("Bales or loads", "40").await?;
        visitor.click("Save record").await?;
        visitor.sees("Saved on this device").await?;
        visitor.cut_off(false).await?;
        visitor.all_is_sent().await?;
        visitor.click("More").await?;
        visitor.click("Stores").await?;
        let made = "[data-lot='round bales']:first-child";
        visitor.sees("2 lots without a weight or moisture").await?;
        ensure!(visitor.text_of(made).await?.contains("40 bales"), "{}", visitor.text_of(made).await?);
        visitor.click_on(&format!("{made} button[aria-label^='Correct']")).await?;
        visitor.write("Average weight of one", "1000 lb").await?;
        visitor.write("Moisture", "22").await?;
        visitor.click("Save record").await?;
        visitor.sees("20.0").await?;
        // Too damp to keep as round bales.
        visitor.sees("1 caution").await?;
        let told = visitor.text_of(made).await?;
        ensure!(told.contains("15.6") && told.contains("22% moisture"), "{told}");
        visitor.fits_across().await?;
        visitor.is_accessible().await
    })
    .await;
}

/// A report copied as it stands, and a part of a lot set apart, on the southern farm in metric.
#[tokio::test(flavor = "multi_thread")]
async fn a_lot_is_tested_and_split() {
    on_demo(|visitor| async move {
        visitor.sign_in("joaquin@ceibo.example").await?;
        visitor.click("Stores").await?;
        // The report of the silage was as fed; what is shown is of dry matter.
        visitor.sees("Crude protein 19.2%").await?;
        visitor.click_on("button[aria-label^='Add analysis: La Loma, round bales']").await?;
        visitor.click("Save record").await?;
        visitor.sees("enter at least one figure of the report").await?;
        visitor.write("ADF", "41").await?;
        visitor.write("NDF", "53").await?;
        visitor.is_accessible().await?;
        visitor.click("Save record").await?;
        visitor.sees("RFV 100").await?;
        visitor.click_on("button[aria-label^='Split: La Loma, round bales']").await?;
        visitor.write("Bales or loads", "60").await?;
        visitor.click("Save record").await?;
        visitor.sees("48 bales or loads are left in this lot").await?;
        visitor.write("Bales or loads", "18").await?;
        visitor.click("Save record").await?;
        visitor.sees("split from another lot").await?;
        visitor.sees("30 bales").await?;
        visitor.sees("18 bales").await?;
        visitor.is_accessible().await
    })
    .await;
}
