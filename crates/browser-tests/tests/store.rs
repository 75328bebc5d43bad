//! Machines and products: written down under Set-up, used on the bench.

use anyhow::ensure;
use browser_tests::on_demo;

#[tokio::test(flavor = "multi_thread")]
async fn own_products_take_the_place_of_ordinary_ones_on_the_bench() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.trim_end_matches("/season").to_owned();
        visitor.go(&format!("{farm}/set-up/products")).await?;
        visitor.sees("typical products at made-up prices").await?;
        visitor.click("Add product").await?;
        visitor.write("Name", "yard urea").await?;
        visitor.write("N", "46").await?;
        visitor.is_accessible().await?;
        visitor.click("Save product").await?;
        visitor.finds("[data-product='yard urea']").await?;
        visitor.click("Price: yard urea").await?;
        visitor.write("Price", "510").await?;
        visitor.write("Amount bought", "2 ton").await?;
        visitor.click("Save record").await?;
        visitor.sees("4,000").await?;
        visitor.click("Add product").await?;
        visitor.write("Name", "river potash").await?;
        visitor.write("K₂O", "60").await?;
        visitor.click("Save product").await?;
        visitor.click("Price: river potash").await?;
        visitor.write("Price", "470").await?;
        visitor.click("Save record").await?;
        visitor.sees("river potash").await?;
        visitor.click("Add product").await?;
        visitor.choose("Type", "Spray product").await?;
        visitor.write("Name", "burndown").await?;
        visitor.write("Active ingredients", "glyphosate (4 lb a gallon)").await?;
        visitor.write("Minimum rate", "0.3").await?;
        visitor.write("Maximum rate", "0.2").await?;
        visitor.click("Save product").await?;
        visitor.sees("Lowest rate is above the highest").await?;
        visitor.write("Minimum rate", "0.1").await?;
        visitor.write("Grazing interval, days", "56").await?;
        visitor.click("Save product").await?;
        visitor.sees("56-day grazing interval").await?;
        visitor.sees("by Mara Fennick").await?;
        visitor.is_accessible().await?;

        // In which hours of today may it be sprayed, and what does the station show now?
        visitor.go(&format!("{farm}/bench?at=spray")).await?;
        visitor.choose("Product", "burndown").await?;
        visitor.finds("section[aria-label='Spray hours'][data-from=forecast]").await?;
        visitor.sees("label limit not entered").await?;
        visitor.click("Use station wind and temperature").await?;
        visitor.finds("[data-air]").await?;
        let wind = visitor.value("Wind").await?;
        let shown = wind.strip_suffix(" mph").and_then(|wind| wind.parse::<f64>().ok());
        ensure!(shown.is_some_and(|wind| (0.0..40.0).contains(&wind)), "{wind} is no wind");
        visitor.finds("[data-finding=wind]").await?;
        visitor.is_accessible().await?;

        visitor.go(&format!("{farm}/bench?at=blend")).await?;
        visitor.sees("Your products at current prices").await?;
        visitor.write("N", "46").await?;
        visitor.write("P₂O₅", "0").await?;
        visitor.write("K₂O", "60").await?;
        // 46 lb of N is 100 lb of urea at 510 USD a ton, 60 lb of potash 100 lb at 470: 25.50 + 23.50 = 49 USD an acre.
        visitor.finds("button[aria-label^='Cost of the blend: $49']").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_machine_says_what_it_does_in_an_hour() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.trim_end_matches("/season").to_owned();
        visitor.go(&format!("{farm}/set-up/machines")).await?;
        visitor.click("Add machine").await?;
        visitor.write("Name", "Red drill").await?;
        visitor.choose("Use", "drill").await?;
        visitor.sees("Usually 5").await?;
        visitor.write("Working width", "10 ft").await?;
        visitor.write("Cost per hour", "90").await?;
        visitor.is_accessible().await?;
        visitor.click("Save machine").await?;
        // 5 mph × 10 ft × 0.70 ÷ 8.25 (ASABE EP496.3).
        visitor.reads("[data-machine='Red drill']", |row| row.contains("4.2") && row.contains("typical")).await?;
        visitor.click("Edit Red drill").await?;
        visitor.write("Field efficiency", "60%").await?;
        visitor.click("Save machine").await?;
        visitor.sees("3.6").await?;
        visitor.press("l").await?;
        visitor.sees("Red drill: drill, 10 ft").await?;
        Ok(())
    })
    .await;
}
