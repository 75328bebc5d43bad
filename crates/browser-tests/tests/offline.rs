//! Without signal: nothing recorded is lost, nothing goes twice, and nothing under another's name.

use anyhow::{Context, ensure};
use browser_tests::{Scene, Visitor, on_demo_of, on_device, until};
use serde_json::json;

const CREW: &str = "tobias@fennick.example";

/// Wait until the application is on this device: it opens without signal from now on.
async fn at_hand(visitor: &Visitor) -> anyhow::Result<()> {
    until("the application is kept on this device", async || {
        let kept = "const one = await navigator.serviceWorker.getRegistration().catch(() => null);
            return Boolean(one?.active && navigator.serviceWorker.controller)";
        visitor.ask_and_wait(kept).await
    })
    .await
}

/// What the ledger says of a kind of entry, by all who may have written it.
async fn ledger(visitor: &Visitor) -> anyhow::Result<String> {
    visitor.press("l").await?;
    visitor.finds("table[aria-label=Entries]").await?;
    visitor.text_of("table[aria-label=Entries]").await
}

/// Record something of Long Acre, by the button that stands on every page.
async fn record(visitor: &Visitor, what: &str) -> anyhow::Result<()> {
    visitor.click("Record").await?;
    visitor.choose("Field", "Long Acre").await?;
    visitor.click(what).await?;
    visitor.sees("Records are permanent").await?;
    Ok(())
}

async fn ink(visitor: &Visitor) -> anyhow::Result<()> {
    visitor.click("Save record").await?;
    visitor.gone("[role=dialog]").await
}

/// A kind of record, in the words of somebody in a field, and what the ledger says when it has arrived.
struct Case {
    kind: &'static str,
    chosen: &'static [(&'static str, &'static str)],
    written: &'static [(&'static str, &'static str)],
    says: &'static str,
}

const fn case(
    kind: &'static str,
    chosen: &'static [(&'static str, &'static str)],
    written: &'static [(&'static str, &'static str)],
    says: &'static str,
) -> Case {
    Case { kind, chosen, written, says }
}

/// Each kind that is written by hand about a field.
const KINDS: [Case; 15] = [
    case("Rain gauge", &[], &[("Rain", "0,4 in")], "Rain gauge: 0.4 in"),
    case("Irrigate", &[], &[("Water applied", "1 in")], "Irrigated: 1 in"),
    case("Read soil thermometer", &[], &[("Soil temperature", "51")], "Morning soil temperature 51 \u{b0}F at 1.2 in"),
    case(
        "Stand check",
        &[],
        &[("Plant height", "8 in"), ("Other observations", "thin by the gate")],
        "Stand check: plants 8 in tall, thin by the gate",
    ),
    case("Cut or harvest", &[("Crop", "alfalfa")], &[("Yield", "1.5 t/ac")], "Cut: 1.5 ton/ac of alfalfa"),
    case("Bioassay", &[], &[("Observations", "even stand")], "Bioassay: grew as in clean soil. even stand"),
    case("End a crop", &[("Crop", "alfalfa")], &[("Years in this crop", "4")], "Alfalfa ended after 4 years"),
    case(
        "Spray applied",
        &[],
        &[("Active ingredient", "glyphosate"), ("Rate", "0.25 gal/ac")],
        "Sprayed glyphosate, 32 fl oz/ac",
    ),
    case("Insects or disease seen", &[("Type", "insect")], &[("Pest", "weevil")], "Pest seen: weevil, insect"),
    case(
        "Hay, silage or green forage made",
        &[("Made as", "round bales"), ("Crop", "alfalfa")],
        &[("Bales or loads", "40")],
        "Made: 40 round bales",
    ),
    case(
        "Spread lime, fertilizer or manure",
        &[("Product", "potash 0-0-60")],
        &[("Rate", "120")],
        "Fertilized: 120 lb/ac of potash 0-0-60",
    ),
    case("Describe site", &[("Texture", "loam")], &[("Slope", "7 %")], "slope 7%, loam"),
    case("Soil sample", &[], &[("Cores", "16"), ("Sample label", "LA-1")], "Soil sample, 16 cores, bag LA-1"),
    case(
        "Soil test",
        &[("P test method", "Mehlich-3")],
        &[("Laboratory", "County"), ("pH in water", "6,1"), ("Phosphorus", "19")],
        "County: pH 6.1, P 19 ppm Mehlich-3",
    ),
    case("Note", &[], &[("Note", "slugs along the lane")], "slugs along the lane"),
];

async fn written(visitor: &Visitor, case: &Case) -> anyhow::Result<()> {
    record(visitor, case.kind).await?;
    for (label, option) in case.chosen {
        visitor.choose(label, option).await?;
    }
    for (label, text) in case.written {
        visitor.write(label, text).await?;
    }
    ink(visitor).await
}

#[tokio::test(flavor = "multi_thread")]
async fn each_kind_of_record_made_without_signal_arrives_as_written() {
    on_device(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        at_hand(&visitor).await?;
        visitor.cut_off(true).await?;
        for (index, case) in KINDS.iter().enumerate() {
            written(&visitor, case).await.context(case.kind)?;
            visitor.sees(&format!("{} waiting to send", index + 1)).await.context(case.kind)?;
        }
        visitor.sees("Saved on this device").await?;
        visitor.cut_off(false).await?;
        visitor.all_is_sent().await?;
        let ledger = ledger(&visitor).await?;
        for case in &KINDS {
            ensure!(ledger.matches(case.says).count() == 1, "{}: {} in {ledger}", case.kind, case.says);
        }
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_step_a_tag_and_a_strike_made_without_signal_arrive_as_written() {
    on_device(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        at_hand(&visitor).await?;
        ledger(&visitor).await?;
        visitor.press("b").await?;
        visitor.sees("lowest cost to sow").await?;
        visitor.press("s").await?;
        visitor.finds("#season-title").await?;
        visitor.cut_off(true).await?;

        visitor.click("Ink: Count stand, Mill Flat").await?;
        visitor.write("Note", "even, but for the gate").await?;
        ink(&visitor).await?;
        visitor.sees("waiting to send").await?;
        visitor.gone("button[aria-label='Ink: Count stand, Mill Flat']").await?;

        visitor.press("b").await?;
        visitor.click("Add lot").await?;
        visitor.write("Lot number", "GATE-1").await?;
        visitor.write("Purity", "99").await?;
        visitor.write("Germination", "91 %").await?;
        visitor.click("Save lot").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.sees("2 waiting to send").await?;

        visitor.press("l").await?;
        visitor.click_on("tr[data-struck=false] button").await?;
        visitor.write("What was wrong", "the other field").await?;
        visitor.click("Strike entry").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.sees("3 waiting to send").await?;

        visitor.cut_off(false).await?;
        visitor.all_is_sent().await?;
        visitor.press("s").await?;
        visitor.press("l").await?;
        visitor.sees("Struck: the other field").await?;
        let ledger = ledger(&visitor).await?;
        for says in ["Counted. even, but for the gate", "Tag: purity 99%, germination 91%", "Struck: the other field"] {
            ensure!(ledger.contains(says), "{says}: {ledger}");
        }
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_records_outlive_a_killed_browser_and_a_server_that_is_down() {
    on_demo_of(|Scene { visitor, server, .. }| async move {
        visitor.sign_in(CREW).await?;
        at_hand(&visitor).await?;
        server.stop();
        for (what, label, text) in [("Rain gauge", "Rain", "0.7 in"), ("Irrigate", "Water applied", "half an inch")] {
            record(&visitor, what).await?;
            visitor.write(label, text).await?;
            ink(&visitor).await?;
        }
        visitor.sees("2 waiting to send").await?;
        // Everything ends at once; the device comes back before there is a server.
        let visitor = visitor.killed_and_back().await?;
        visitor.go("/").await?;
        visitor.finds("#season-title").await?;
        visitor.sees("No signal.").await?;
        visitor.sees("2 waiting to send").await?;
        server.start().await?;
        // Whether the sign-in outlived the kill is the browser's affair; the records did.
        visitor.sign_in(CREW).await?;
        until("the one that can be read is sent", async || Ok(visitor.text().await?.contains("1 to fix"))).await?;
        let all = ledger(&visitor).await?;
        ensure!(all.matches("Rain gauge: 0.7 in").count() == 1, "{all}");
        ensure!(!all.contains("Irrigated: 0.5 in"), "{all}");
        // The other waits at its field, in the person's words, to be corrected.
        visitor.click("\u{2715} 1 to fix").await?;
        visitor.sees("has no number").await?;
        visitor.click("Fix record").await?;
        ensure!(visitor.value("Water applied").await? == "half an inch", "the words were lost");
        visitor.sees("has no number").await?;
        visitor.write("Water applied", "0.5 in").await?;
        ink(&visitor).await?;
        visitor.all_is_sent().await?;
        visitor.press("s").await?;
        visitor.press("l").await?;
        visitor.sees("Irrigated: 0.5 in").await?;
        let all = ledger(&visitor).await?;
        ensure!(all.matches("Irrigated: 0.5 in").count() == 1, "{all}");
        ensure!(all.contains("Tobias Quill"), "{all}");
        visitor.leave().await;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_record_goes_under_no_other_name() {
    on_device(|visitor| async move {
        visitor.sign_in(CREW).await?;
        at_hand(&visitor).await?;
        visitor.cut_off(true).await?;
        record(&visitor, "Rain gauge").await?;
        visitor.write("Rain", "0.7 in").await?;
        ink(&visitor).await?;
        visitor.sees("1 waiting to send").await?;
        // The sign-in runs out; somebody else takes the device.
        visitor.driver().delete_all_cookies().await?;
        visitor.cut_off(false).await?;
        visitor.go("/sign-in").await?;
        visitor.sees("1 record by Tobias Quill").await?;
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("1 waiting to send").await?;
        visitor.sees("by Tobias Quill; sent when they sign in here").await?;
        visitor.press("\u{e00c}").await?;
        visitor.gone("[role=dialog]").await?;
        let all = ledger(&visitor).await?;
        ensure!(!all.contains("Rain gauge: 0.7 in"), "{all}");
        visitor.sign_in(CREW).await?;
        visitor.all_is_sent().await?;
        visitor.press("l").await?;
        visitor.sees("Rain gauge: 0.7 in").await?;
        let all = ledger(&visitor).await?;
        ensure!(visitor.text_of("tr[data-struck=false]").await?.contains("Tobias Quill"), "{all}");
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn signing_out_with_records_to_send_asks_and_keeps_them() {
    on_demo_of(|Scene { visitor, .. }| async move {
        visitor.sign_in(CREW).await?;
        at_hand(&visitor).await?;
        // What the server refuses while one looks at it, and is closed, is a draft again: no record waits for anybody.
        record(&visitor, "Rain gauge").await?;
        visitor.set_day("Date", "2026-06-30").await?;
        visitor.write("Rain", "0.7 in").await?;
        visitor.click("Save record").await?;
        visitor.sees("is in the future").await?;
        visitor.click("Cancel").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.gone("[data-outbox]").await?;
        // One that was written without signal, and that the server will not take, waits to be corrected.
        record(&visitor, "Rain gauge").await?;
        visitor.sees("Draft restored").await?;
        visitor.cut_off(true).await?;
        visitor.click("Save record").await?;
        visitor.sees("Saved on this device").await?;
        visitor.cut_off(false).await?;
        visitor.sees("1 to fix").await?;
        visitor.click("Tobias Quill").await?;
        visitor.click("Sign out").await?;
        visitor.sees("1 record is waiting to send").await?;
        visitor.is_accessible().await?;
        visitor.click("Stay signed in").await?;
        visitor.gone("[role=alertdialog]").await?;
        visitor.click("Tobias Quill").await?;
        visitor.click("Sign out").await?;
        visitor.click("Sign out anyway").await?;
        visitor.sees("1 record by Tobias Quill").await?;
        visitor.sign_in(CREW).await?;
        visitor.click("\u{2715} 1 to fix").await?;
        visitor.is_accessible().await?;
        visitor.click("Fix record").await?;
        visitor.click("Discard record").await?;
        visitor.click("Yes, discard record").await?;
        visitor.all_is_sent().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn it_opens_without_signal_and_says_of_when_it_is() {
    on_demo_of(|Scene { visitor, server, .. }| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Orchard Slope").await?;
        visitor.sees("New stand").await?;
        at_hand(&visitor).await?;
        // What was read is written down a moment later.
        tokio::time::sleep(std::time::Duration::from_secs(3)).await;
        server.stop();
        visitor.driver().refresh().await?;
        visitor.sees("No signal.").await?;
        visitor.sees("Data shown is from").await?;
        visitor.sees("New stand").await?;
        visitor.is_accessible().await?;
        // A page that was not read yet says so, and the rest goes on.
        visitor.press("w").await?;
        visitor.finds("[role=alert]").await?;
        visitor.press("s").await?;
        visitor.sees("Orchard Slope").await?;
        server.start().await?;
        until("the signal is back", async || Ok(visitor.count("[data-signal=none]").await? == 0)).await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_an_older_version_left_behind_breaks_nothing() {
    on_device(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.replace("/season", "");
        let id = farm.rsplit('/').next().unwrap_or_default().to_owned();
        let script = format!(
            "localStorage.setItem('ink-draft-{id}', JSON.stringify({{members: 'alfalfa', spare: 7, lots: null, sowOn: 3}}));
             const open = indexedDB.open('ink-meadow', 1);
             await new Promise((good, bad) => {{ open.onsuccess = good; open.onerror = open.onblocked = bad; }});
             const change = open.result.transaction(['cache', 'outbox'], 'readwrite');
             change.objectStore('cache').put({{shape: 'older', state: {{queries: 'none'}}}}, 'read');
             change.objectStore('outbox').put({{id: '0199aaaa-0000-7000-8000-000000000000', person: 'nobody',
               personName: 'Nobody', farm: '{id}', farmName: 'Hollow', on: '2026-05-01', written: 1,
               task: {{form: 'of-old', title: 'Of old', where: ''}}, values: {{}}}});
             await new Promise((good, bad) => {{ change.oncomplete = good; change.onerror = change.onabort = bad; }});
             return true;"
        );
        ensure!(visitor.ask_and_wait::<bool>(&script).await?, "it is left behind");
        visitor.driver().refresh().await?;
        visitor.sees("1 waiting to send").await?;
        visitor.press("n").await?;
        visitor.sees("Field and goal").await?;
        visitor.choose("Field", "Cooper Piece").await?;
        visitor.choose("Crop, or first species in the mix", "alfalfa").await?;
        visitor.finds("li[data-step=sow]").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_second_tab_sends_it_once() {
    on_device(|visitor| async move {
        visitor.sign_in(CREW).await?;
        at_hand(&visitor).await?;
        let first = visitor.driver().window().await?;
        visitor.cut_off(true).await?;
        record(&visitor, "Rain gauge").await?;
        visitor.write("Rain", "0.7 in").await?;
        ink(&visitor).await?;
        visitor.sees("1 waiting to send").await?;
        // The other tab has signal, and sends what the first has written.
        let second = visitor.driver().new_tab().await?;
        visitor.driver().switch_to_window(second).await?;
        visitor.go("/").await?;
        visitor.finds("#season-title").await?;
        visitor.all_is_sent().await?;
        visitor.driver().switch_to_window(first).await?;
        visitor.cut_off(false).await?;
        visitor.all_is_sent().await?;
        let all = ledger(&visitor).await?;
        ensure!(all.matches("Rain gauge: 0.7 in").count() == 1, "{all}");
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_browser_that_keeps_nothing_says_so_before_anything_is_written() {
    on_device(|visitor| async move {
        let forbidden = json!({"source": "Object.defineProperty(window, 'indexedDB', {value: {open() {
            throw new DOMException('not here', 'SecurityError') }}})"});
        visitor.driver().cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", forbidden).await?;
        visitor.sign_in(CREW).await?;
        record(&visitor, "Rain gauge").await?;
        visitor.sees("Records cannot be saved offline here").await?;
        visitor.write("Rain", "0.7 in").await?;
        visitor.cut_off(true).await?;
        visitor.click("Save record").await?;
        // It stays on the screen until it is taken.
        visitor.sees("Your entry is saved").await?;
        visitor.cut_off(false).await?;
        ink(&visitor).await?;
        let all = ledger(&visitor).await?;
        ensure!(all.matches("Rain gauge: 0.7 in").count() == 1, "{all}");
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_field_one_stands_in_is_proposed() {
    on_device(|visitor| async move {
        visitor.sign_in(CREW).await?;
        let farm = visitor.path().await?.replace("/season", "");
        let (latitude, longitude) = visitor.middle_of(&farm, "Mill Flat").await?;
        visitor.stand_at(latitude, longitude).await?;
        visitor.press("r").await?;
        visitor.sees("You are in this field.").await?;
        visitor.click("Rain gauge").await?;
        visitor.sees("Mill Flat. Records are permanent").await?;
        Ok(())
    })
    .await;
}
