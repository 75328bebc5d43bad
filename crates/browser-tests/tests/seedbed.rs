//! The benches of the seedbed and the tank.

use browser_tests::{PHONE, on_demo};

#[tokio::test(flavor = "multi_thread")]
async fn a_bed_is_stepped_on_and_a_slope_looked_at() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("b").await?;
        visitor.click("Seedbed").await?;
        visitor.sees("Step on the seedbed").await?;
        visitor.write("Boot sinks", "1/2 in").await?;
        visitor.sees("roll again, then retest").await?;
        visitor.choose("Boot print", "heel and sole print").await?;
        visitor.sees("The heel-and-sole method says: ready").await?;
        // The half inch is taught too: by that school it is firm enough.
        visitor.write("Maximum depth", "0.5 in").await?;
        visitor.sees("● Ready to sow").await?;
        // The field brings its slope and the station its rain.
        visitor.choose("Field", "Orchard Slope").await?;
        visitor.finds("[data-cover='tilled']").await?;
        visitor.sees("Accurate within a factor of two").await?;
        visitor.write("Slope", "18").await?;
        visitor.sees("✕ over the limit").await?;
        visitor.is_accessible().await?;
        visitor.size(PHONE).await?;
        visitor.is_accessible().await
    })
    .await;
}

/// 25 gallons at 12.5 gallons an acre reach for two acres (extension teaching).
#[tokio::test(flavor = "multi_thread")]
async fn a_tank_is_filled_for_a_field() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("b").await?;
        visitor.click("Tank").await?;
        visitor.write("Area to spray", "7 ac").await?;
        visitor.write("Tank", "25 gal").await?;
        visitor.write("Application rate", "12.5 gal/ac").await?;
        visitor.sees("3 full tanks").await?;
        visitor.sees("part tank of 12.5 gal").await?;
        visitor.write("Product", "grass killer").await?;
        visitor.write("Rate", "2 lb/1000gal").await?;
        visitor.sees("enter a").await?;
        visitor.write("Rate", "0.25 gal/ac").await?;
        visitor.finds("table[aria-label^='Add to a half-full']").await?;
        visitor.sees("0.50\u{2009}gal").await?;
        visitor.is_accessible().await
    })
    .await;
}
