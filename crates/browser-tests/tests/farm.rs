//! A farm of one's own: from an empty database to a first plan, and its fields as they come to lie.

use std::cell::Cell;

use anyhow::ensure;
use browser_tests::{PHONE, Visitor, on_demo, on_first_visit, until};
use serde_json::json;

/// A climate table as printed, in °C and mm.
const TABLE: &str = "-9.4 -8.9 -4.4 1.4 7.0 12.2 14.8 14.0 10.0 4.2 -0.4 -5.8\\n\
    -0.4 1.0 6.0 13.6 20.2 24.6 27.0 26.1 22.1 15.2 8.2 2.0\\n\
    54 50 68 80 84 98 96 93 98 92 76 65\\n\
    14 12 13.5 13.5 13 12.5 11 10.5 10.5 12.5 13.5 14.5";

/// A new farm on the northern hills, as its owner makes it.
async fn begin(visitor: &Visitor, done: impl Fn()) -> anyhow::Result<()> {
    visitor.go("/").await?;
    for (label, text) in [
        ("Name", "Somebody New"),
        ("E-mail", "new@example.org"),
        ("Password", "long enough by far"),
        ("Farm name", "Far End"),
        ("Latitude", "42.5"),
        ("Longitude", "-76.5"),
        ("Elevation", "1250"),
    ] {
        visitor.write(label, text).await?;
        done();
    }
    visitor.click("Create farm").await?;
    done();
    visitor.sees("A name and an area are enough").await?;
    Ok(())
}

/// Counted by what the person does: every field written, every button pressed.
#[tokio::test(flavor = "multi_thread")]
async fn from_nothing_to_a_stand_in_pencil_with_odds_and_without_a_file() {
    on_first_visit(|visitor| async move {
        let actions = Cell::new(0);
        let done = || actions.set(actions.get() + 1);
        begin(&visitor, done).await?;

        // Each part says what comes next.
        visitor.click_on("[data-next] a").await?;
        visitor.click("Add field").await?;
        visitor.write("Name", "Home Field").await?;
        visitor.write("Sown area", "10 ac").await?;
        visitor.click("Add field").await?;
        visitor.sees("not drawn").await?;
        visitor.press("t").await?;
        (0..6).for_each(|_| done());

        visitor.sees("Odds need weather").await?;
        visitor.click_on("[data-next] a").await?;
        visitor.click("\u{b0}C and millimeters").await?;
        visitor.click("Paste a table").await?;
        visitor.paste("Table", TABLE).await?;
        visitor.click("Generate years").await?;
        visitor.finds("[data-kept]").await?;
        visitor.is_accessible().await?;
        visitor.press("t").await?;
        (0..6).for_each(|_| done());

        visitor.sees("odds have a wide range").await?;
        visitor.click_on("[data-next] a").await?;
        visitor.choose("Field", "Home Field").await?;
        visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
        visitor.sees("of generated years").await?;
        visitor.finds("[data-odds]").await?;
        visitor.click("Start stand").await?;
        (0..4).for_each(|_| done());
        visitor.sees("alfalfa, hay").await?;
        ensure!(actions.get() <= 40, "{} actions", actions.get());
        visitor.press("t").await?;
        visitor.sees("1 field has a stand").await?;
        Ok(())
    })
    .await;
}

/// One invites, the other comes on a phone and records; let go, they are out at once, and what they wrote stays.
#[tokio::test(flavor = "multi_thread")]
async fn somebody_comes_by_a_link_and_records_on_a_phone() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.trim_end_matches("/season").to_owned();
        visitor.go(&format!("{farm}/set-up/people")).await?;
        visitor.sees("Tobias Quill").await?;
        visitor.click("Create link").await?;
        let link = visitor.finds("input[aria-label='Link']").await?.prop("value").await?.unwrap_or_default();
        let path = link.split_once("/invitations/").map(|(_, key)| format!("/invitations/{key}")).unwrap_or_default();
        visitor.sees("Open invitations").await?;
        visitor.is_accessible().await?;

        let other = visitor.another().await?;
        other.size(PHONE).await?;
        other.go(&path).await?;
        other.sees("Mara Fennick invited you to").await?;
        other.is_accessible().await?;
        other.write("Name", "Rolf Newly").await?;
        other.write("E-mail", "rolf@newly.example").await?;
        other.write("Password", "long enough by far").await?;
        other.click("Create account and join").await?;
        other.sees("Recorded today").await?;
        other.click("Record").await?;
        other.click("Note").await?;
        other.write("Note", "gate mended").await?;
        other.click("Save record").await?;
        other.gone("[role=dialog]").await?;
        other.gone("[data-outbox]").await?;

        visitor.go(&format!("{farm}/set-up/people")).await?;
        visitor.sees("Rolf Newly").await?;
        visitor.click("Remove access: Rolf Newly").await?;
        visitor.click("Yes, remove access: Rolf Newly").await?;
        visitor.gone("[aria-label='Remove access: Rolf Newly'], [aria-label='Yes, remove access: Rolf Newly']").await?;
        other.driver().refresh().await?;
        other.sees("Sign in").await?;
        visitor.press("l").await?;
        visitor.sees("gate mended").await?;
        visitor.sees("Rolf Newly left").await?;
        other.leave().await;
        Ok(())
    })
    .await;
}

/// Fixes of a receiver, one after another, as the device tells them.
async fn walk_to(visitor: &Visitor, latitude: f64, longitude: f64, accuracy: f64) -> anyhow::Result<()> {
    let place = json!({"latitude": latitude, "longitude": longitude, "accuracy": accuracy});
    visitor.driver().cdp().send_raw("Emulation.setGeolocationOverride", place).await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_field_is_walked_on_a_phone() {
    on_first_visit(|visitor| async move {
        begin(&visitor, || {}).await?;
        visitor.size(PHONE).await?;
        let leave = json!({"permissions": ["geolocation"]});
        visitor.driver().cdp().send_raw("Browser.grantPermissions", leave).await?;
        walk_to(&visitor, 42.5, -76.5, 5.0).await?;
        let farm = visitor.path().await?.trim_end_matches("/set-up").to_owned();
        visitor.go(&format!("{farm}/fields/draw")).await?;
        visitor.click("Start walking").await?;
        visitor.finds("[data-walked='1']").await?;
        // Round a square of 0.002 degrees, with a poor fix and a leap of five kilometres among them.
        let mut places = 1;
        for (north, east) in
            [(0.0, 0.001), (0.0, 0.002), (0.001, 0.002), (0.002, 0.002), (0.002, 0.001), (0.002, 0.0), (0.001, 0.0)]
        {
            walk_to(&visitor, 42.5 + north, -76.5 + east, 5.0).await?;
            places += 1;
            visitor.finds(&format!("[data-walked='{places}']")).await?;
            // Locked on the way, one goes on where the line ended.
            if places == 4 {
                visitor.driver().refresh().await?;
                visitor.finds("[data-walked='4']").await?;
                visitor.click("Resume").await?;
            }
        }
        walk_to(&visitor, 42.5005, -76.5, 60.0).await?;
        visitor.sees("1 poor fixes dropped").await?;
        walk_to(&visitor, 42.55, -76.5, 5.0).await?;
        visitor.sees("2 poor fixes dropped").await?;
        visitor.is_accessible().await?;
        visitor.click("Close boundary").await?;
        // The corners that matter of it: those on the straight stretches are none.
        visitor.finds("[data-corners='5'], [data-corners='4']").await?;
        visitor.write("Name", "Walked").await?;
        visitor.click("Save field").await?;
        visitor.sees("sowable of").await?;
        ensure!(visitor.text().await?.contains("9."), "a square of 222 m by 164 m has 9 acres");
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_field_is_drawn_by_hand_and_by_compass_and_drawn_anew() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("f").await?;
        visitor.click("Draw field").await?;
        visitor.click("Start at the center").await?;
        for (turn, length) in [("80", "500"), ("170", "700"), ("265", "480")] {
            visitor.write("Bearing, \u{b0}", turn).await?;
            visitor.write("Length, ft", length).await?;
            visitor.click("Add corner").await?;
        }
        visitor.finds("[data-corners='4']").await?;
        visitor.driver().refresh().await?;
        visitor.finds("[data-corners='4']").await?;
        // A corner that brings the line across itself is marked, and undone.
        visitor.write("Bearing, \u{b0}", "45").await?;
        visitor.write("Length, ft", "1200").await?;
        visitor.click("Add corner").await?;
        visitor.sees("The boundary crosses itself").await?;
        visitor.click("Undo").await?;
        visitor.gone("[role=alert]").await?;
        visitor.click("Fit field").await?;
        // By keyboard a corner moves and goes; by pointer it is dragged, and undone as one.
        let corner = visitor.finds("[aria-label^='Corner 1:']").await?;
        let before = corner.attr("cx").await?;
        visitor.drag(&corner, 60).await?;
        let moved = visitor.finds("[aria-label^='Corner 1:']").await?.attr("cx").await?;
        ensure!(moved != before, "the corner did not move");
        visitor.click("Undo").await?;
        visitor.finds("[data-corners='4']").await?;
        visitor.write("Name", "New Ground").await?;
        visitor.write("Setback", "15 ft").await?;
        visitor.click("Save field").await?;
        visitor.sees("7.6").await?;

        // Renamed and given another setback: in ink, with its day.
        visitor.click("Change field").await?;
        visitor.click("Edit field").await?;
        visitor.write("Name", "Newer Ground").await?;
        visitor.write("Setback", "30 ft").await?;
        visitor.click("Save field").await?;
        visitor.sees("Newer Ground: 7.6").await?;
        // A field of the demo's is drawn anew: what stands on it keeps the area it was sown on.
        visitor.press("f").await?;
        visitor.click("Long Acre").await?;
        visitor.sees("23.3").await?;
        visitor.click("Change field").await?;
        visitor.click("Redraw field").await?;
        visitor.finds("[aria-label^='Corner 1:']").await?.send_keys(thirtyfour::Key::Delete + "").await?;
        visitor.click("Save boundary").await?;
        visitor.sees("Long Acre:").await?;
        visitor.is_accessible().await?;
        Ok(())
    })
    .await;
}

/// A field is split along a line with all that stands on it, joined again, and given a pond.
#[tokio::test(flavor = "multi_thread")]
async fn a_field_is_split_joined_and_left_out_of() {
    on_demo(|visitor| async move {
        let click_at = async |spots: &[(i64, i64)]| {
            let paper = visitor.finds("[aria-label='Map: click to add a corner']").await?;
            for (x, y) in spots {
                let pointer = visitor.driver().action_chain().move_to_element_with_offset(&paper, *x, *y);
                pointer.click().perform().await?;
            }
            anyhow::Ok(())
        };
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("f").await?;
        visitor.click("Upper Larkin").await?;
        visitor.click("Change field").await?;
        visitor.click("Split field").await?;
        click_at(&[(-60, 100), (-20, 0), (-40, -100)]).await?;
        visitor.is_accessible().await?;
        visitor.write("New field name", "Larkin West").await?;
        visitor.click("Split field").await?;
        visitor.click("Larkin West").await?;
        visitor.sees("Larkin West split from Upper Larkin").await?;
        // The stand and what is known of the ground came along: two steps in ink, the plan goes on.
        visitor.sees("alfalfa, hay").await?;
        visitor.sees("recorded Nov 20, 2025").await?;
        visitor.click("Change field").await?;
        visitor.click("Join fields").await?;
        visitor.is_accessible().await?;
        visitor.tick_label("Upper Larkin").await?;
        visitor.click("Join fields").await?;
        visitor.sees("Upper Larkin joined to Larkin West").await?;
        visitor.click("Change field").await?;
        visitor.click("Redraw field").await?;
        visitor.click("Add ring").await?;
        click_at(&[(-40, 40), (20, 30), (0, -40)]).await?;
        visitor.sees("perimeter (selected ring)").await?;
        visitor.click("Save boundary").await?;
        visitor.sees("Larkin West: 17.").await?;
        Ok(())
    })
    .await;
}

/// Boundaries as other programs hand them out. The squares of the Shapefile are 300 by 200 m on the grid of UTM 18N,
/// whose scale is 0.9996 on its middle and within 0.1 % of one here: 6 ha (14.8 ac) each.
#[tokio::test(flavor = "multi_thread")]
async fn fields_come_from_kml_and_from_a_shapefile() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.trim_end_matches("/season").to_owned();
        visitor.go(&format!("{farm}/fields")).await?;
        for (file, names) in [("fields.kml", &["Kml Corner"][..]), ("fields-utm18.zip", &["Utm West", "Utm East"])] {
            visitor.click("Add field").await?;
            visitor.click("boundary file").await?;
            let path = format!("{}/tests/data/{file}", env!("CARGO_MANIFEST_DIR"));
            visitor.finds("input[type=file]").await?.send_keys(&path).await?;
            until("it is read", async || Ok(visitor.value("Boundary").await?.contains(names[0]))).await?;
            visitor.click("Add field").await?;
            visitor.gone("[role=dialog]").await?;
            for name in names {
                visitor.sees(name).await?;
            }
        }
        visitor.click("Utm West").await?;
        visitor.sees("14.8").await?;
        Ok(())
    })
    .await;
}
