//! On a phone at the field gate: one hand, big targets, full sun; and on paper.

use anyhow::ensure;
use browser_tests::{PHONE, Visitor, on_demo};

/// Buttons and links of a part of the page that are too small for a thumb.
async fn small_targets(visitor: &Visitor, within: &str) -> anyhow::Result<Vec<String>> {
    let script = format!(
        "return [...document.querySelectorAll('{within} button, {within} a.line-button, {within} input, {within} select')]\
         .filter((one) => one.offsetParent !== null && one.type !== 'checkbox' && one.type !== 'radio')\
         .map((one) => [one, one.getBoundingClientRect()])\
         .filter(([, box]) => box.height < 36)\
         .map(([one, box]) => `${{one.tagName}} ${{one.textContent || one.id}} ${{Math.round(box.height)}}`)"
    );
    visitor.ask(&script).await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_crew_inks_a_step_in_three_taps() {
    on_demo(|visitor| async move {
        visitor.size(PHONE).await?;
        visitor.sign_in("tobias@fennick.example").await?;
        let small = small_targets(&visitor, "ul[aria-label=\"Next steps\"]").await?;
        ensure!(small.is_empty(), "too small for a thumb: {small:?}");
        visitor.click("Ink: Count stand, Mill Flat").await?;
        let small = small_targets(&visitor, "[role=dialog]").await?;
        ensure!(small.is_empty(), "too small for a thumb: {small:?}");
        visitor.is_accessible().await?;
        visitor.click("Save record").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.gone("button[aria-label='Ink: Count stand, Mill Flat']").await?;
        visitor.click("More").await?;
        visitor.click("Ledger").await?;
        visitor.sees("Counted").await?;
        Ok(())
    })
    .await;
}

/// A phone opens on the day's work: the first thing is large, and what is recorded leaves the list and stands beside it.
#[tokio::test(flavor = "multi_thread")]
async fn a_phone_opens_on_the_days_work() {
    on_demo(|visitor| async move {
        visitor.size(PHONE).await?;
        visitor.go("/sign-in").await?;
        visitor.write("E-mail", "tobias@fennick.example").await?;
        visitor.write("Password", "hay before rain").await?;
        visitor.click("Sign in").await?;
        visitor.sees("Recorded today").await?;
        visitor.finds("[data-first]").await?;
        let first = visitor.text_of("[data-first]").await?;
        for words in ["Sample soil", "Barn Lot", "Due by May 19"] {
            ensure!(first.contains(words), "{words} is not in what comes first: {first}");
        }
        ensure!(visitor.text_of("[aria-label='Weather ahead']").await?.contains("Tomorrow"), "no weather ahead");
        visitor.fits_across().await?;
        let small = small_targets(&visitor, "[data-page]").await?;
        ensure!(small.is_empty(), "too small for a thumb: {small:?}");
        visitor.is_accessible().await?;
        visitor.click("Ink: Sample soil, Barn Lot").await?;
        visitor.click("Save record").await?;
        visitor.gone("[role=dialog]").await?;
        visitor.gone("button[aria-label='Ink: Sample soil, Barn Lot']").await?;
        visitor.finds("[aria-labelledby='recorded-today'] li").await?;
        // The bar at the foot leads on, and holds what is the person's own.
        visitor.click("More").await?;
        visitor.is_accessible().await?;
        visitor.click("Metric units").await?;
        visitor.finds("html[data-units=metric]").await?;
        visitor.click("Fields").await?;
        visitor.sees("Upper Larkin").await?;
        visitor.fits_across().await
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_stand_is_started_on_a_phone() {
    on_demo(|visitor| async move {
        visitor.size(PHONE).await?;
        visitor.sign_in("joaquin@ceibo.example").await?;
        visitor.click("Start stand").await?;
        visitor.choose("Field", "Potrero Chico").await?;
        visitor.choose("Crop, or first species in the mix", "forage oats").await?;
        visitor.write("Rate of forage oats", "90 kg/ha").await?;
        visitor.finds("button[aria-label^='Pure live seed (PLS): 90']").await?;
        visitor.sees("Field suitability").await?;
        visitor.fits_across().await?;
        visitor.click("Start stand").await?;
        visitor.finds("li[data-step=sow]").await?;
        Ok(())
    })
    .await;
}

/// Relative luminance and contrast by WCAG 2.2, of the text colours on the paper.
const CONTRASTS: &str = "
    const lum = (colour) => {
      const [r, g, b] = colour.match(/[0-9.]+/g).map(Number).map((c) => c / 255)
        .map((c) => (c <= 0.03928 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
      return 0.2126 * r + 0.7152 * g + 0.0722 * b;
    };
    const probe = document.createElement('i');
    document.body.append(probe);
    const read = (name) => { probe.style.color = `var(--${name})`; return lum(getComputedStyle(probe).color); };
    const paper = read('paper');
    return ['ink', 'pencil', 'stop', 'growth', 'rain'].map((name) => {
      const [a, b] = [read(name), paper].sort((x, y) => y - x);
      return (a + 0.05) / (b + 0.05);
    });";

#[tokio::test(flavor = "multi_thread")]
async fn text_stands_out_in_each_theme() {
    on_demo(|visitor| async move {
        visitor.sign_in("tobias@fennick.example").await?;
        for (theme, word, least) in
            [("Light", "light", 4.5), ("Dark, for the cab", "dark", 4.5), ("Sunlight", "sunlight", 7.0)]
        {
            visitor.click("Tobias Quill").await?;
            visitor.click(theme).await?;
            visitor.finds(&format!("html[data-theme={word}]")).await?;
            let contrasts: Vec<f64> = visitor.ask(CONTRASTS).await?;
            ensure!(contrasts.iter().all(|contrast| *contrast >= least), "{theme}: {contrasts:?}");
            // The choice is the person's and outlives the page.
            visitor.driver().refresh().await?;
            visitor.finds(&format!("html[data-theme={word}]")).await?;
        }
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn on_paper_only_the_sheet_is_printed() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.click("Orchard Slope").await?;
        visitor.sees("Establishment").await?;
        let print = serde_json::json!({"media": "print"});
        visitor.driver().cdp().send_raw("Emulation.setEmulatedMedia", print).await?;
        let shown =
            "return [...document.querySelectorAll('.no-print')].filter((one) => one.offsetParent !== null).length";
        let shown: i64 = visitor.ask(shown).await?;
        ensure!(shown == 0, "{shown} things that do not belong on paper");
        let text = visitor.text().await?;
        for words in ["Orchard Slope", "New stand", "Establishment"] {
            ensure!(text.contains(words), "{words} is not on the sheet: {text}");
        }
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn units_switch_on_the_spot_and_come_back_whole() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        visitor.press("b").await?;
        visitor.finds("button[aria-label^='PLS rate: 15.0 lb/ac']").await?;
        visitor.press("u").await?;
        visitor.finds("button[aria-label^='PLS rate: 16.8 kg/ha']").await?;
        visitor.finds("html[data-units=metric]").await?;
        visitor.press("u").await?;
        visitor.finds("button[aria-label^='PLS rate: 15.0 lb/ac']").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn lime_on_the_bench_follows_every_hand() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.replace("/season", "");
        visitor.go(&format!("{farm}/bench?at=lime")).await?;
        visitor.choose("Field", "North Ledge").await?;
        // LTI 63 to 6.5: 60.4 − 0.87 × 63 = 5.59 tons of the reference.
        visitor.finds("button[aria-label^='Lime requirement: 5.59 ton/ac']").await?;
        visitor.sees("before primary tillage").await?;
        visitor.click("surface-applied").await?;
        visitor.sees("on the surface, the autumn before sowing").await?;
        visitor.write("Incorporation depth", "4 in").await?;
        visitor.click("incorporated").await?;
        visitor.click("soil texture (rough)").await?;
        visitor.sees("use a buffer test when you have one").await?;
        visitor.write("CCE", "300").await?;
        visitor.sees("enter 0% to 250%").await?;
        visitor.write("CCE", "90").await?;
        visitor.finds("button[aria-label^='Lime rate']").await?;
        Ok(())
    })
    .await;
}
