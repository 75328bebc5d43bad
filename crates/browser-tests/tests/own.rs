//! What is one's own: another farm, its end, one's password and sessions.

use anyhow::ensure;
use browser_tests::{PHONE, on_demo};
use thirtyfour::By;

#[tokio::test(flavor = "multi_thread")]
async fn one_more_farm_is_founded_renamed_closed_and_opened_again() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.trim_end_matches("/season").to_owned();
        visitor.go(&format!("{farm}/set-up/farm")).await?;
        visitor.click("Add farm").await?;
        let own = "section[aria-label='Add farm']";
        visitor.finds(&format!("{own} form")).await?;
        visitor.is_accessible().await?;
        // The page has two of each field: that of this farm stands first.
        let inputs = visitor.driver().find_all(By::Css(format!("{own} input"))).await?;
        for (input, text) in inputs.iter().zip(["Far End", "-34.5", "-56", "120 m"]) {
            input.send_keys(text).await?;
        }
        visitor.click("Create farm").await?;
        visitor.sees("34.50° south, 56.00° west, time zone America/Montevideo").await?;
        visitor.click("Open farm").await?;
        visitor.write("Farm name", "Near End").await?;
        visitor.click("Save farm").await?;
        visitor.sees("Farm saved").await?;
        visitor.sees("Near End").await?;
        visitor.click("Close farm").await?;
        visitor.click("Yes, close Near End").await?;
        visitor.sees("Closed on").await?;
        // A closed farm is read by all alike: nothing offers to write.
        ensure!(!visitor.text().await?.contains("Save farm"), "it can still be corrected");
        visitor.press("n").await?;
        visitor.sees("Only a manager can start a stand").await?;
        visitor.press("t").await?;
        visitor.click("Open farm").await?;
        visitor.click("Reopen farm").await?;
        visitor.sees("Save farm").await?;
        visitor.press("l").await?;
        visitor.choose("Type", "The farm").await?;
        visitor.sees("Near End reopened").await?;
        Ok(())
    })
    .await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_forgotten_password_is_set_by_a_link_and_sessions_are_ended() {
    on_demo(|visitor| async move {
        visitor.sign_in("mara@fennick.example").await?;
        let farm = visitor.path().await?.trim_end_matches("/season").to_owned();
        visitor.go(&format!("{farm}/set-up/people")).await?;
        visitor.click("Reset password: Tobias Quill").await?;
        let link = visitor.finds("input[aria-label='Link']").await?.prop("value").await?.unwrap_or_default();
        visitor.finds("svg[role=img]").await?;
        visitor.is_accessible().await?;
        let path = link.split_once("/resets/").map(|(_, key)| format!("/resets/{key}")).unwrap_or_default();

        let other = visitor.another().await?;
        other.size(PHONE).await?;
        other.go(&path).await?;
        other.sees("New password for Tobias Quill").await?;
        other.is_accessible().await?;
        other.write("New password", "short").await?;
        other.click("Save password and sign in").await?;
        other.sees("use 10–200 characters").await?;
        other.write("New password", "remembered this time").await?;
        other.click("Save password and sign in").await?;
        other.sees("Recorded today").await?;
        other.go(&path).await?;
        other.sees("this link has been used").await?;
        other.leave().await;

        // A second browser of Mara's, which she ends from the first.
        let lost = visitor.another().await?;
        lost.sign_in("mara@fennick.example").await?;
        visitor.go(&format!("{farm}/set-up/you")).await?;
        visitor.sees("(this device)").await?;
        visitor.is_accessible().await?;
        visitor.click("Sign out all others").await?;
        lost.driver().refresh().await?;
        lost.sees("Sign in").await?;
        lost.leave().await;
        visitor.write("Current password", "rain before hay").await?;
        visitor.write("New password", "a longer password").await?;
        visitor.click("Save password").await?;
        visitor.sees("the current password is wrong").await?;
        visitor.write("Current password", "hay before rain").await?;
        visitor.click("Save password").await?;
        visitor.sees("Password changed").await?;
        Ok(())
    })
    .await;
}
