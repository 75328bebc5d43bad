//! A picture was taken.

use agronomy::{
    refusal::{Checks, Refused},
    said::Said,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{record::Record, shape::check_words, subject::SubjectKind};

/// A picture was taken. Its bytes stand apart; by the digest the ledger's chain covers them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedPhoto)]
pub struct Photo {
    /// The picture.
    pub photo: Uuid,
    /// SHA-256 of its bytes, in hexadecimal.
    pub sha256: String,
    /// What is seen on it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for Photo {
    const KIND: &'static str = "photo";
    const TITLE: &'static str = "Photo";
    const SEVERAL: &'static [SubjectKind] = SubjectKind::ALL;
    const DEED: &'static str = "Add photo";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let digest = self.sha256.len() == 64 && self.sha256.bytes().all(|one| matches!(one, b'0'..=b'9' | b'a'..=b'f'));
        checks.require(digest, "/sha256", "64 hexadecimal digits, as they came back with the picture");
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        match self.note.as_deref().map(str::trim) {
            Some(note) if !note.is_empty() => agronomy::said!("Photo: {}", note),
            _ => "Photo".into(),
        }
    }
}
