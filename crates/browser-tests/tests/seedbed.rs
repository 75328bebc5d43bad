//! The benches of the seedbed and the tank.

use browser_tests::{PHONE, on_demo};

#[tokio::test(flavor = "multi_thread")]
async fn a_bed_is_stepped_on_and_a_slope_looked_at() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("b").await?;
        visitor.click("seedbed").await?;
        visitor.sees("Step on it").await?;
        visitor.write("The boot sinks", "1/2 in").await?;
        visitor.sees("Roll again, and test again").await?;
        visitor.choose("Of the boot is seen", "heel and sole").await?;
        visitor.sees("who wants heel and sole to mark says: ready").await?;
        // The half inch is taught too: by that school it is firm enough.
        visitor.write("At the most", "0.5 in").await?;
        visitor.sees("● Sow").await?;
        // The field brings its slope and the station its rain.
        visitor.choose("Field", "Orchard Slope").await?;
        visitor.finds("[data-cover='tilled']").await?;
        visitor.sees("Right within a factor of two").await?;
        visitor.write("Slope", "18").await?;
        visitor.sees("✕ too much").await?;
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
        visitor.click("tank").await?;
        visitor.write("To spray", "7 ac").await?;
        visitor.write("The tank", "25 gal").await?;
        visitor.write("Goes out", "12.5 gal/ac").await?;
        visitor.sees("3 full tanks").await?;
        visitor.sees("part tank of 12.5 gal").await?;
        visitor.write("Product", "grass killer").await?;
        visitor.write("Rate", "2 lb/1000gal").await?;
        visitor.sees("expected").await?;
        visitor.write("Rate", "0.25 gal/ac").await?;
        visitor.finds("table[aria-label^='Into half a tank']").await?;
        visitor.sees("0.50\u{2009}gal").await?;
        visitor.is_accessible().await
    })
    .await;
}
