//! Somebody at the browser: finds things as a person does, by their words.

use std::{
    sync::{Arc, Mutex},
    time::{Duration, Instant},
};

use anyhow::{Context, ensure};
use serde::de::DeserializeOwned;
use serde_json::{Value, json};
use thirtyfour::prelude::*;

mod device;
mod held;
mod look;

use crate::browser::{Browser, Profile};
use look::{HELPERS, Look};

/// How long a page is waited for: a busy machine may be slow, and nothing here is timed.
const PATIENCE: Duration = Duration::from_secs(30);
/// How soon it is looked at again.
const AGAIN: Duration = Duration::from_millis(60);
/// How often a thing is looked for again that was redrawn or moved meanwhile: about two seconds in all.
const MOVED: u32 = 7;

/// A browser window on the application.
#[derive(Clone)]
pub struct Visitor {
    driver: WebDriver,
    browser: Arc<Mutex<Browser>>,
    profile: Arc<Profile>,
    address: String,
}

fn quoted(text: &str) -> String {
    assert!(!text.contains('"'), "no quotation marks in names");
    format!("\"{text}\"")
}

/// The page may be redrawn or move between finding a thing and touching it: then it is looked for again.
///
/// What lies above a thing for good stays in its way, and is told.
async fn steadily<T>(act: impl AsyncFn() -> anyhow::Result<T>) -> anyhow::Result<T> {
    for turn in 1..=MOVED {
        match act().await {
            Err(error) if has_moved(&error) => tokio::time::sleep(AGAIN * turn).await,
            other => return other,
        }
    }
    act().await
}

fn has_moved(error: &anyhow::Error) -> bool {
    let said = format!("{error:?}");
    said.contains("stale") || said.contains("click intercepted")
}

/// Wait until something holds.
///
/// # Errors
/// When it never does, or can't be asked.
pub async fn until(what: &str, holds: impl AsyncFn() -> anyhow::Result<bool>) -> anyhow::Result<()> {
    let begun = Instant::now();
    while !holds().await? {
        ensure!(begun.elapsed() < PATIENCE, "{what}: it never came about");
        tokio::time::sleep(AGAIN).await;
    }
    Ok(())
}

impl Visitor {
    /// Open a window at a desk's size.
    ///
    /// # Errors
    /// When ChromeDriver or Chromium do not start.
    pub async fn arrive(address: String) -> anyhow::Result<Self> {
        Self::on(Arc::new(Profile::new()?), address).await
    }

    /// Somebody else, on a device of their own.
    ///
    /// # Errors
    /// When it does not start.
    pub async fn another(&self) -> anyhow::Result<Self> {
        Self::arrive(self.address.clone()).await
    }

    /// The browser and its driver are killed as they stand; the device starts anew, with what it kept.
    ///
    /// # Errors
    /// When they do not start.
    pub async fn killed_and_back(&self) -> anyhow::Result<Self> {
        if let Ok(mut browser) = self.browser.lock() {
            browser.end();
        }
        Self::on(self.profile.clone(), self.address.clone()).await
    }

    async fn on(profile: Arc<Profile>, address: String) -> anyhow::Result<Self> {
        let (browser, driver) = Browser::start(profile.clone()).await?;
        let browser = Arc::new(Mutex::new(browser));
        let visitor = Self { driver, browser, profile, address };
        visitor.size(crate::DESK).await?;
        // A page that is drawn so many times slower shows what a walk does not wait for.
        if let Ok(rate) = std::env::var("INK_TEST_SLOW") {
            let rate: f64 = rate.parse().context("INK_TEST_SLOW is how many times slower")?;
            visitor.driver.cdp().send_raw("Emulation.setCPUThrottlingRate", json!({"rate": rate})).await?;
        }
        Ok(visitor)
    }

    /// Close the window and end ChromeDriver.
    pub async fn leave(self) {
        let _ = self.driver.quit().await;
        if let Ok(mut browser) = self.browser.lock() {
            browser.end();
        }
    }

    /// The driver, for what has no word here.
    pub fn driver(&self) -> &WebDriver {
        &self.driver
    }

    /// An exact size of the page.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn size(&self, (width, height): (u32, u32)) -> anyhow::Result<()> {
        let size = json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 500});
        self.driver.cdp().send_raw("Emulation.setDeviceMetricsOverride", size).await?;
        Ok(())
    }

    /// Go to a path.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn go(&self, path: &str) -> anyhow::Result<()> {
        Ok(self.driver.goto(format!("{}{path}", self.address)).await?)
    }

    /// The path one is at.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn path(&self) -> anyhow::Result<String> {
        Ok(self.driver.current_url().await?.path().to_owned())
    }

    /// The first element that is seen of those a script of [`look`] finds, waited for.
    async fn one(&self, what: &str, look: Look, name: &str) -> anyhow::Result<WebElement> {
        let begun = Instant::now();
        loop {
            let script = format!("{HELPERS} return {}", look.script());
            let found = self.driver.execute(script.as_str(), vec![json!(name)]).await?;
            match found.json() {
                Value::Null => ensure!(begun.elapsed() < PATIENCE, "{what} is not on the page"),
                _ => return Ok(found.element()?),
            }
            tokio::time::sleep(AGAIN).await;
        }
    }

    /// Wait for some words on the page.
    ///
    /// # Errors
    /// When they don't come.
    pub async fn sees(&self, text: &str) -> anyhow::Result<WebElement> {
        self.one(text, Look::Words, text).await
    }

    /// Wait for an element by CSS.
    ///
    /// # Errors
    /// When it does not come.
    pub async fn finds(&self, css: &str) -> anyhow::Result<WebElement> {
        self.driver
            .query(By::Css(css))
            .wait(PATIENCE, AGAIN)
            .first()
            .await
            .with_context(|| format!("{css} is not on the page"))
    }

    /// What an element says, found by CSS.
    ///
    /// # Errors
    /// When it does not come.
    pub async fn text_of(&self, css: &str) -> anyhow::Result<String> {
        steadily(async || Ok(self.finds(css).await?.text().await?)).await
    }

    /// Wait until an element, found by CSS, says what is wanted, and give all that it says.
    ///
    /// # Errors
    /// When it never does: with what it says.
    pub async fn reads(&self, css: &str, wanted: impl Fn(&str) -> bool) -> anyhow::Result<String> {
        let begun = Instant::now();
        loop {
            let said = self.text_of(css).await?;
            if wanted(&said) {
                return Ok(said);
            }
            ensure!(begun.elapsed() < PATIENCE, "{css} says {said}");
            tokio::time::sleep(AGAIN).await;
        }
    }

    /// An attribute of an element, found by CSS; nothing where it has none.
    ///
    /// # Errors
    /// When the element does not come.
    pub async fn attribute(&self, css: &str, name: &str) -> anyhow::Result<String> {
        steadily(async || Ok(self.finds(css).await?.attr(name).await?.unwrap_or_default())).await
    }

    /// What a script on the page returns.
    ///
    /// # Errors
    /// When it throws, or returns something else.
    pub async fn ask<T: DeserializeOwned>(&self, script: &str) -> anyhow::Result<T> {
        Ok(self.driver.execute(script, vec![]).await?.convert()?)
    }

    /// What a script on the page returns that may `await`: what it throws is told here, and not waited for.
    ///
    /// # Errors
    /// When it throws, returns something else, or comes to no end.
    pub async fn ask_and_wait<T: DeserializeOwned>(&self, script: &str) -> anyhow::Result<T> {
        let script = format!(
            "const done = arguments[arguments.length - 1];
             (async () => {{ {script} }})().then((value) => done({{ value }}), (error) => done({{ thrown: String(error) }}))"
        );
        let answer = self.driver.execute_async(script, vec![]).await?;
        let answer = answer.json();
        ensure!(answer["thrown"].is_null(), "the page threw {}", answer["thrown"]);
        Ok(serde_json::from_value(answer["value"].clone())?)
    }

    /// How many elements a CSS selector finds now.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn count(&self, css: &str) -> anyhow::Result<usize> {
        Ok(self.driver.find_all(By::Css(css)).await?.len())
    }

    /// Click what bears a name: a button, link, tab, menu item or checkbox label.
    ///
    /// # Errors
    /// When there is none, or it can't be clicked.
    pub async fn click(&self, name: &str) -> anyhow::Result<()> {
        steadily(async || {
            let element = self.one(name, Look::Deed, name).await?;
            element.scroll_into_view().await?;
            element.click().await.with_context(|| format!("clicking {name}"))
        })
        .await
    }

    /// Click what a CSS selector finds.
    ///
    /// # Errors
    /// When it does not come, or can't be clicked.
    pub async fn click_on(&self, css: &str) -> anyhow::Result<()> {
        steadily(async || {
            let element = self.finds(css).await?;
            element.scroll_into_view().await?;
            element.click().await.with_context(|| format!("clicking {css}"))
        })
        .await
    }

    async fn labelled(&self, label: &str) -> anyhow::Result<WebElement> {
        self.one(label, Look::Field, label).await
    }

    /// Write into the field of a label, over what stands there.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn write(&self, label: &str, text: &str) -> anyhow::Result<()> {
        steadily(async || {
            let field = self.labelled(label).await?;
            field.scroll_into_view().await?;
            field.send_keys(Key::Control + "a").await?;
            field.send_keys(Key::Backspace + "").await?;
            Ok(field.send_keys(text).await?)
        })
        .await
    }

    /// Put text into the field of a label at once: a file of many lines is not typed.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn paste(&self, label: &str, text: &str) -> anyhow::Result<()> {
        let script = format!(
            "const label = [...document.querySelectorAll('label')].find((one) => one.textContent === '{label}');\
             const area = document.getElementById(label.htmlFor);\
             Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set.call(area, '{text}');\
             area.dispatchEvent(new Event('input', {{ bubbles: true }}))"
        );
        self.driver.execute(script, vec![]).await?;
        Ok(())
    }

    /// Type a day into its field: the parts in the order in which they stand there.
    ///
    /// # Errors
    /// When there is no such field, or it holds another day then.
    pub async fn set_day(&self, label: &str, day: &str) -> anyhow::Result<()> {
        let [year, month, date] = day.split('-').collect::<Vec<_>>()[..] else {
            anyhow::bail!("a day is year-month-day")
        };
        steadily(async || {
            let field = self.labelled(label).await?;
            let mut keys = String::new();
            for part in field.find_all(By::Css("[data-part]")).await? {
                keys += match part.attr("data-part").await?.as_deref() {
                    Some("year") => year,
                    Some("month") => month,
                    _ => date,
                };
            }
            self.day_part(label, 0).await?;
            Ok(self.driver.action_chain().send_keys(keys).perform().await?)
        })
        .await?;
        self.comes_to(label, |stands| stands == day).await?;
        Ok(())
    }

    /// Step into a part of a day's field, counted from the left.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn day_part(&self, label: &str, part: usize) -> anyhow::Result<()> {
        let parts = self.labelled(label).await?.find_all(By::Css("[data-part]")).await?;
        let part = parts.get(part).context("a day has three parts")?;
        part.scroll_into_view().await?;
        Ok(part.click().await?)
    }

    /// Whether a button can be pressed.
    ///
    /// # Errors
    /// When there is none of that name.
    pub async fn can(&self, button: &str) -> anyhow::Result<bool> {
        Ok(self.one(button, Look::Button, button).await?.is_enabled().await?)
    }

    /// Choose an option of the field of a label, by its words.
    ///
    /// # Errors
    /// When there is no such field or option.
    pub async fn choose(&self, label: &str, option: &str) -> anyhow::Result<()> {
        let line = format!("//*[@role='option'][normalize-space(.)={}]", quoted(option));
        // What there is to choose may be asked for still: then it is opened again.
        for _ in 0..20 {
            let field = self.labelled(label).await?;
            field.scroll_into_view().await?;
            field.click().await.with_context(|| format!("opening {label}"))?;
            let found = self.driver.query(By::XPath(line.clone())).wait(Duration::from_secs(2), AGAIN).first().await;
            if let Ok(found) = found {
                // An option out of sight scrolls into it before it is clicked.
                // The list may be drawn anew under the hand, by an answer that comes in: then it is another option.
                if found.scroll_into_view().await.is_ok() && found.click().await.is_ok() {
                    return self.gone("[role=listbox]").await;
                }
            }
            self.press("\u{e00c}").await?;
        }
        anyhow::bail!("{option} is no option of {label}")
    }

    /// Tick or untick the box beside some words.
    ///
    /// # Errors
    /// When there is none.
    pub async fn tick(&self, words: &str) -> anyhow::Result<()> {
        self.tick_where(Look::Tick, words).await
    }

    /// Tick or untick the box of a label that begins with some words.
    ///
    /// # Errors
    /// When there is none.
    pub async fn tick_label(&self, words: &str) -> anyhow::Result<()> {
        self.tick_where(Look::TickBeginning, words).await
    }

    async fn tick_where(&self, look: Look, words: &str) -> anyhow::Result<()> {
        steadily(async || {
            let tick = self.one(words, look, words).await?;
            tick.scroll_into_view().await?;
            Ok(tick.click().await?)
        })
        .await
    }

    /// Wait until something is gone.
    ///
    /// # Errors
    /// When it stays.
    pub async fn gone(&self, css: &str) -> anyhow::Result<()> {
        let query = self.driver.query(By::Css(css)).wait(PATIENCE, AGAIN);
        ensure!(query.not_exists().await?, "{css} is still there");
        Ok(())
    }

    /// Drag an element sideways with the mouse.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn drag(&self, element: &WebElement, pixels: i64) -> anyhow::Result<()> {
        element.scroll_into_view().await?;
        let hands = self.driver.action_chain().move_to_element_center(element).click_and_hold();
        Ok(hands.move_by_offset(pixels / 2, 0).move_by_offset(pixels - pixels / 2, 0).release().perform().await?)
    }

    /// Leave whatever has the keyboard, so that single keys reach the page.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn step_back(&self) -> anyhow::Result<()> {
        self.driver.execute("document.activeElement?.blur()", vec![]).await?;
        Ok(())
    }

    /// What stands in the field of a label; of a day's, ISO or as far as it is typed.
    ///
    /// # Errors
    /// When there is no such field.
    pub async fn value(&self, label: &str) -> anyhow::Result<String> {
        let field = self.labelled(label).await?;
        match field.attr("data-day").await? {
            Some(day) => Ok(day),
            None => Ok(field.prop("value").await?.unwrap_or_default()),
        }
    }

    /// Wait until what stands in the field of a label is as wanted, and say what it is.
    ///
    /// # Errors
    /// When it never is: with what stands there.
    pub async fn comes_to(&self, label: &str, wanted: impl Fn(&str) -> bool) -> anyhow::Result<String> {
        let begun = Instant::now();
        loop {
            let value = steadily(async || self.value(label).await).await?;
            if wanted(&value) {
                return Ok(value);
            }
            ensure!(begun.elapsed() < PATIENCE, "{label} stays {value}");
            tokio::time::sleep(AGAIN).await;
        }
    }

    /// Press keys on the page.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn press(&self, keys: impl AsRef<str>) -> anyhow::Result<()> {
        Ok(self.driver.active_element().await?.send_keys(keys.as_ref()).await?)
    }

    /// Sign in as somebody of the demo, and come to the season. The form is passed by: what it shows is walked by
    /// [`Visitor::sign_in_at_the_door`].
    ///
    /// # Errors
    /// When the season does not open.
    pub async fn sign_in(&self, email: &str) -> anyhow::Result<()> {
        // An address of the same origin that loads no page.
        self.go("/api/health").await?;
        let signed_in: bool = self
            .ask_and_wait(&format!(
                "const headers = {{ 'content-type': 'application/json' }};
                 const body = JSON.stringify({{ email: '{email}', password: 'hay before rain' }});
                 return (await fetch('/api/sign-in', {{ method: 'POST', headers, body }})).ok;"
            ))
            .await?;
        ensure!(signed_in, "{email} was not let in");
        let farm: String = self.ask_and_wait("return (await (await fetch('/api/me')).json()).farms[0].id").await?;
        self.go(&format!("/farms/{farm}/season")).await?;
        self.finds("#season-title").await?;
        Ok(())
    }

    /// Read in these units from now on: `us` or `metric`.
    ///
    /// # Errors
    /// When the page does not follow.
    pub async fn read_in(&self, units: &str) -> anyhow::Result<()> {
        let now: String = self.ask("return document.documentElement.dataset.units").await?;
        if now != units {
            // A key typed into a form stays there.
            self.driver.execute("document.activeElement?.blur()", vec![]).await?;
            self.press("u").await?;
        }
        self.finds(&format!("html[data-units={units}]")).await?;
        Ok(())
    }

    /// Sign in as a person does, by the form.
    ///
    /// # Errors
    /// When the season does not open.
    pub async fn sign_in_at_the_door(&self, email: &str) -> anyhow::Result<()> {
        self.go("/sign-in").await?;
        self.write("E-mail", email).await?;
        self.write("Password", "hay before rain").await?;
        self.click("Sign in").await?;
        self.finds("#season-title").await?;
        Ok(())
    }

    /// Everything the page says.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn text(&self) -> anyhow::Result<String> {
        Ok(self.driver.find(By::Tag("body")).await?.text().await?)
    }
}
