//! Odds instead of dates, with a browser: a sowing dragged through the year, what a thermometer does,
//! a station that falls silent, the year turned round, and a place without frost.

use anyhow::{Context, ensure};
use browser_tests::{StandIns, Visitor, on_demo, on_demo_with};
use thirtyfour::By;

/// What the page says of the day: its odds, and what is in the way.
async fn read(visitor: &Visitor) -> anyhow::Result<(i64, String)> {
    let odds = visitor.attribute("p[data-odds]", "data-odds").await?;
    let limit = match visitor.driver().find(By::Css("strong[data-limit]")).await {
        Ok(limit) => limit.attr("data-limit").await?.unwrap_or_default(),
        Err(_) => String::new(),
    };
    Ok((odds.parse().unwrap_or(-1), limit))
}

/// Wait until the page speaks of a day, and its odds have come.
async fn read_on(visitor: &Visitor, day: &str) -> anyhow::Result<(i64, String)> {
    visitor.sees(&format!("if sown {day}")).await?;
    visitor.finds("p[data-odds][aria-busy=false]").await?;
    read(visitor).await
}

/// Move the sowing day by weeks and days with the keyboard.
async fn move_by(visitor: &Visitor, weeks: i32, days: i32) -> anyhow::Result<()> {
    let slider = visitor.finds("[role=slider][aria-label='Sowing date']").await?;
    slider.focus().await?;
    let arrow = |forward: bool| if forward { "\u{e014}" } else { "\u{e012}" };
    for _ in 0..weeks.abs() {
        visitor.press(format!("\u{e008}{}\u{e008}", arrow(weeks > 0))).await?;
    }
    for _ in 0..days.abs() {
        visitor.press(arrow(days > 0)).await?;
    }
    Ok(())
}

async fn when(visitor: &Visitor, stand: &str) -> anyhow::Result<()> {
    visitor.press("w").await?;
    visitor.finds("#when-title").await?;
    if visitor.count("[role=combobox]").await? > 0 {
        visitor.choose("Other stand", stand).await?;
    }
    let field = stand.split(',').next().unwrap_or_default();
    visitor.sees(&format!("{field}: sow")).await?;
    visitor.finds("p[data-odds]").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn alfalfa_is_dragged_from_spring_to_autumn() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        when(&visitor, "Upper Larkin, alfalfa").await?;
        let (august, _) = read_on(&visitor, "Aug 12").await?;
        ensure!(august >= 45, "mid-August: {august} %");
        visitor.finds("tr[data-edge=opens]").await?;
        let closes = visitor.text_of("tr[data-edge=closes]").await?;
        ensure!(closes.contains(": growing days before frost"), "{closes}");
        visitor.is_accessible().await?;

        // Nine weeks on, frost is in the way; twelve back from August, the school of spring reads it.
        move_by(&visitor, 7, 0).await?;
        let (late, limit) = read_on(&visitor, "Sep 30").await?;
        ensure!(late < 10 && limit == "growing-days", "30 September: {late} %, {limit}");
        move_by(&visitor, -18, 0).await?;
        let (spring, limit) = read_on(&visitor, "May 27").await?;
        ensure!(spring > late && limit != "growing-days", "May 27: {spring} %, {limit}");
        visitor.finds("button[data-state=on][role=radio]").await?;
        let ways = visitor.text_of("[aria-label='Sowing window']").await?;
        ensure!(ways.contains("spring") && ways.contains("late summer and autumn"), "{ways}");

        // With the mouse too; and what is decided stands on the season.
        let slider = visitor.finds("[role=slider][aria-label='Sowing date']").await?;
        visitor.drag(&slider, 150).await?;
        visitor.gone("p[data-odds='']").await?;
        move_by(&visitor, 0, 1).await?;
        let text = visitor.text_of("p[data-odds]").await?;
        let day = text.split("if sown ").nth(1).and_then(|rest| rest.split(" (").next()).context("a day")?.to_owned();
        visitor.click(&format!("Plan for {day}")).await?;
        visitor.gone("button.ink-button").await?;
        visitor.press("s").await?;
        visitor.finds(&format!("[role=slider][aria-label^='Sow: day, alfalfa'][aria-valuetext^='{day}']")).await?;
        visitor.stayed_home().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn late_oats_are_told_by_the_ton() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        when(&visitor, "Chapel Field, forage oats").await?;
        let told = async |day: &str| {
            read_on(&visitor, day).await?;
            visitor.text_of("p[data-dry-matter]").await
        };
        let figure = |told: &str| told.chars().take_while(|at| "0123456789.".contains(*at)).collect::<String>();
        let early = told("Aug 4").await?;
        let tons: f64 = figure(&early).parse().context(early.clone())?;
        ensure!(tons > 1.5 && early.contains("ton/ac dry matter"), "{early}");
        move_by(&visitor, 4, 0).await?;
        let late = told("Sep 1").await?;
        let pounds: f64 = figure(&late).parse().context(late.clone())?;
        ensure!(pounds < 1_000.0 && late.contains("lb/ac dry matter") && late.contains("ton/ac)"), "{late}");
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_season_is_dragged_and_reads_as_it_moves() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.finds("section[aria-label=Weather] svg[role=img]").await?;
        let alfalfa = "[role=slider][aria-label='Sow: day, alfalfa']";
        let before = visitor.attribute(alfalfa, "aria-valuetext").await?;
        ensure!(before.starts_with("Aug 12, 2026") && before.contains("% of years"), "{before}");
        let slider = visitor.finds(alfalfa).await?;
        visitor.drag(&slider, 60).await?;
        visitor.finds(&format!("{alfalfa}:not([aria-valuetext^='Aug 12'])")).await?;
        visitor.press("l").await?;
        visitor.sees("Planned: hay from alfalfa, sowing").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_window_opens_at_ones_own_odds_on_every_screen() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.sees("Underlined: 50% or more").await?;
        when(&visitor, "Upper Larkin, alfalfa").await?;
        let before = visitor.text_of("tr[data-edge=opens]").await?;
        visitor.finds("[role=slider][aria-label^='Open at']").await?.focus().await?;
        for level in ["45", "40", "35", "30"] {
            visitor.press("\u{e012}").await?;
            visitor.sees(&format!("Open at {level}% of years or more")).await?;
        }
        visitor.gone("p[data-odds='']").await?;
        visitor.press("\u{e004}").await?;
        visitor.press("s").await?;
        visitor.sees("Underlined: 30% or more").await?;
        visitor.click("Upper Larkin").await?;
        visitor.sees("30% or better").await?;
        when(&visitor, "Upper Larkin, alfalfa").await?;
        visitor.reads("tr[data-edge=opens]", |after| after != before).await?;
        // A fortnight of it is drawn by the hour.
        visitor.press("s").await?;
        visitor.finds("path[data-hourly=false]").await?;
        visitor.click("Fortnight").await?;
        visitor.finds("path[data-hourly=true]").await?;
        visitor.is_accessible().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn three_readings_of_the_soil_move_the_window() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        when(&visitor, "Fox Cover, switchgrass").await?;
        const WARM: &str = "li[data-rule=soil-warm] span.whitespace-nowrap";
        let percent = |row: &str| row.trim_end_matches('%').parse::<i64>().ok();
        let before = percent(&visitor.text_of(WARM).await?).context("no share of years")?;
        let farm = visitor.path().await?.replace("/when", "");
        visitor.go(&format!("{farm}/season")).await?;
        visitor.click("Fox Cover").await?;
        visitor.click("Ground").await?;
        for day in ["2026-05-12", "2026-05-13", "2026-05-14"] {
            visitor.click("Add record: soil or site").await?;
            visitor.click("Read soil thermometer").await?;
            visitor.set_day("Reading date (morning)", day).await?;
            visitor.write("Soil temperature", "42 F").await?;
            visitor.sees("Read as 42 °F").await?;
            visitor.click("Save record").await?;
            visitor.gone("[role=dialog]").await?;
        }
        visitor.sees("Morning soil temperature 42 °F").await?;
        when(&visitor, "Fox Cover, switchgrass").await?;
        visitor.reads(WARM, |row| percent(row).is_some_and(|after| after < before)).await?;

        // The probe that stands in the field is read with one press.
        visitor.go(&format!("{farm}/season")).await?;
        visitor.click("Sheep Hill").await?;
        visitor.click("Add record: soil or site").await?;
        visitor.click("Read soil thermometer").await?;
        visitor.click("Use field probe").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.sees("Morning soil temperature").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_silent_station_is_told_of_and_stops_nothing() {
    on_demo_with(|visitor, stand_ins: StandIns| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.finds("section[aria-label=Weather] svg[role=img]").await?;
        stand_ins.stop();
        visitor.click("May 14, 2026 practice day").await?;
        visitor.set_day("New day", "2026-05-24").await?;
        visitor.click("Move the clock").await?;
        visitor.sees("10 days out of date: no data from the station").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.step_back().await?;
        when(&visitor, "Upper Larkin, alfalfa").await?;
        let (odds, _) = read_on(&visitor, "Aug 12").await?;
        ensure!(odds > 30, "odds go on: {odds}");
        visitor.press("t").await?;
        visitor.click("Open weather").await?;
        visitor.sees("Weather is 10 days out of date").await?;
        visitor.click("Update now").await?;
        visitor.sees("existing data is kept").await?;
        visitor.is_accessible().await?;
        stand_ins.start().await?;
        visitor.click("Update now").await?;
        visitor.sees("to May 23, 2026, none missing").await?;
        visitor.gone("[role=status].text-stop").await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn in_the_south_the_seasons_are_turned_round() {
    on_demo(|visitor| async move {
        visitor.sign_in("joaquin@ceibo.example").await?;
        visitor.press("n").await?;
        visitor.choose("Field", "Potrero Chico").await?;
        visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
        visitor.set_day("Sowing date", "2027-03-20").await?;
        // Here odds and their day come in one answer.
        visitor.sees("if sown 20 Mar 2027 (late summer and autumn)").await?;
        let (autumn, _) = read(&visitor).await?;
        visitor.set_day("Sowing date", "2026-12-20").await?;
        visitor.sees("if sown 20 Dec").await?;
        let (summer, _) = read(&visitor).await?;
        ensure!(autumn > summer + 15, "March {autumn} %, December {summer} %");
        visitor.click_on("p[data-odds] a").await?;
        visitor.sees("Stand being planned").await?;
        visitor.is_accessible().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn where_it_never_freezes_nobody_speaks_of_frost() {
    on_demo(|visitor| async move {
        visitor.sign_in("lucia@sereno.example").await?;
        visitor.sees("Casa Vieja").await?;
        let season = visitor.text().await?;
        visitor.press("w").await?;
        visitor.finds("p[data-odds]").await?;
        visitor.sees("with the rains").await?;
        let when = visitor.text().await?;
        visitor.press("t").await?;
        visitor.click("Open weather").await?;
        visitor.sees("This station has no frost").await?;
        for page in [&season, &when] {
            let said = page.to_lowercase().replace("where it never freezes", "");
            ensure!(!said.contains("frost") && !said.contains("freez"), "{page}");
        }
        Ok(())
    })
    .await;
}

const RIDGE: &str = "date,tmin,tmax,rain\\n1984-12-29,12,3,0\\n1984-12-30,-5,1,0\\n1984-12-31,-6,2,480";

#[tokio::test(flavor = "multi_thread")]
async fn a_weather_file_is_looked_at_mended_and_taken() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("t").await?;
        visitor.click("Open weather").await?;
        visitor.sees("Daily records Jan 1, 1985").await?;
        visitor.paste("Contents", RIDGE).await?;
        visitor.click("Preview").await?;
        visitor.sees("Not imported").await?;
        visitor.sees("18.9 in of rain in a day is unusual").await?;
        visitor.sees("minimum 53.6 °F above maximum 37.4 °F; both treated as missing").await?;
        visitor.is_accessible().await?;
        visitor.paste("Contents", &RIDGE.replace("480", "4.8")).await?;
        visitor.click("Preview").await?;
        visitor.sees("3 new, 0 differ from existing values").await?;
        visitor.click("Import file").await?;
        visitor.sees("Imported: 3 days added").await?;
        visitor.sees("Daily records Dec 29, 1984").await?;
        visitor.sees("by Mara Fennick: 3 days added").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn water_is_advised_on_the_field_that_has_it() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Gravel Bench").await?;
        visitor.sees("Light and frequent until emergence").await?;
        visitor.click_on("section[aria-labelledby=water-title] button[aria-label^='Water to apply']").await?;
        visitor.reads("aside[aria-label=Working]", |working| working.contains("total available")).await?;
        visitor.is_accessible().await
    })
    .await;
}
