//! What becomes of the device: its line, and where it is.

use serde_json::json;

use super::Visitor;
use crate::until;

impl Visitor {
    /// Cut the page off from the server, or mend the line.
    ///
    /// # Errors
    /// When the browser says no.
    pub async fn cut_off(&self, offline: bool) -> anyhow::Result<()> {
        let line = json!({"offline": offline, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1});
        self.driver.cdp().send_raw("Network.enable", json!({})).await?;
        self.driver.cdp().send_raw("Network.emulateNetworkConditions", line).await?;
        Ok(())
    }

    /// Wait until this device keeps no record that is still to be sent, anybody's. The device's own store is asked: a page
    /// that has just opened shows nothing of it yet.
    ///
    /// # Errors
    /// When something stays.
    pub async fn all_is_sent(&self) -> anyhow::Result<()> {
        let left = "const asked = indexedDB.open('ink-meadow');
            const device = await new Promise((kept, not) => {
              asked.onsuccess = () => kept(asked.result);
              asked.onerror = () => not(asked.error);
            });
            const all = device.transaction('outbox').objectStore('outbox').count();
            const left = await new Promise((counted, not) => {
              all.onsuccess = () => counted(all.result);
              all.onerror = () => not(all.error);
            });
            device.close();
            return left;";
        until("all is sent", async || Ok(self.ask_and_wait::<u32>(left).await? == 0)).await?;
        until("the page says so", async || Ok(self.count("[data-outbox]").await? == 0)).await
    }

    /// The middle of a field: degrees north and east.
    ///
    /// # Errors
    /// When the farm has no such field.
    pub async fn middle_of(&self, farm: &str, field: &str) -> anyhow::Result<(f64, f64)> {
        self.ask_and_wait(&format!(
            "const {{ fields }} = await (await fetch('/api{farm}/fields')).json();
             const own = fields.find((one) => one.name === '{field}').boundary;
             const ring = (own.geometry ?? own).coordinates[0].slice(1);
             const mean = (axis) => ring.reduce((sum, at) => sum + at[axis], 0) / ring.length;
             return [mean(1), mean(0)];"
        ))
        .await
    }

    /// Let the device say that it is there.
    ///
    /// # Errors
    /// When the browser does not do it.
    pub async fn stand_at(&self, latitude: f64, longitude: f64) -> anyhow::Result<()> {
        let cdp = self.driver.cdp();
        cdp.send_raw("Browser.grantPermissions", json!({"permissions": ["geolocation"]})).await?;
        let place = json!({"latitude": latitude, "longitude": longitude, "accuracy": 8});
        cdp.send_raw("Emulation.setGeolocationOverride", place).await?;
        Ok(())
    }
}
