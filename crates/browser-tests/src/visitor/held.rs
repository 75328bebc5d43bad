//! What a page is held against, whatever it shows: accessibility, its width, where it asks.

use std::path::{Path, PathBuf};

use anyhow::{Context, ensure};
use serde_json::Value;

use super::Visitor;

impl Visitor {
    /// Hold the page against the accessibility rules of axe (WCAG 2.2 AA and best practices).
    ///
    /// # Errors
    /// With every violation found.
    pub async fn is_accessible(&self) -> anyhow::Result<()> {
        self.axe("return await axe.run(document, { resultTypes: ['violations'] })").await
    }

    /// The same, and in the other themes what they may change: whether the words stand out.
    ///
    /// # Errors
    /// With every violation found.
    pub async fn is_accessible_in_each_theme(&self) -> anyhow::Result<()> {
        self.is_accessible().await?;
        for theme in ["dark", "sunlight"] {
            let stands_out = format!(
                "const own = document.documentElement.dataset, was = own.theme;
                 own.theme = '{theme}';
                 try {{ return await axe.run(document, {{ runOnly: ['color-contrast'], resultTypes: ['violations'] }}); }}
                 finally {{ own.theme = was; }}"
            );
            self.axe(&stands_out).await.with_context(|| theme.to_owned())?;
        }
        Ok(())
    }

    async fn axe(&self, run: &str) -> anyhow::Result<()> {
        let file = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../web/node_modules/axe-core/axe.min.js");
        let script = std::fs::read_to_string(file).context("axe-core")?;
        self.driver.execute(script, vec![]).await?;
        let result: Value = self.ask_and_wait(run).await?;
        let violations = result["violations"].as_array().context("axe says nothing")?;
        let said: Vec<String> =
            violations.iter().map(|one| format!("{}: {} at {}", one["id"], one["help"], nodes(one))).collect();
        ensure!(said.is_empty(), "{} violates: {said:#?}", self.path().await?);
        Ok(())
    }

    /// Nothing on the page is wider than the window.
    ///
    /// # Errors
    /// With how much it is.
    pub async fn fits_across(&self) -> anyhow::Result<()> {
        let over: i64 = self.ask("return document.documentElement.scrollWidth - window.innerWidth").await?;
        ensure!(over <= 0, "{} is {over} pixels too wide", self.path().await?);
        Ok(())
    }

    /// Every address the page asked for lies on the application itself.
    ///
    /// # Errors
    /// With the strangers.
    pub async fn stayed_home(&self) -> anyhow::Result<()> {
        let asked = "return performance.getEntriesByType('resource').map(entry => entry.name)";
        let asked: Vec<String> = self.ask(asked).await?;
        ensure!(!asked.is_empty(), "the page asked for nothing at all");
        let strangers: Vec<_> = asked.iter().filter(|name| !name.starts_with(&self.address)).collect();
        ensure!(strangers.is_empty(), "asked elsewhere: {strangers:?}");
        Ok(())
    }

    /// Take a picture of the window.
    ///
    /// # Errors
    /// When it can't be taken or written.
    pub async fn shot(&self, file: &Path) -> anyhow::Result<()> {
        let png = self.driver.screenshot_as_png().await?;
        std::fs::write(file, png).with_context(|| file.display().to_string())
    }
}

fn nodes(violation: &Value) -> String {
    let nodes = violation["nodes"].as_array().into_iter().flatten();
    nodes.take(3).map(|node| format!("{} {}", node["html"], node["any"][0]["message"])).collect::<Vec<_>>().join(" | ")
}
