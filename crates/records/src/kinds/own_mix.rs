//! A mix of the farm's own, kept under a name. The last one counts; those before it are its versions.

use agronomy::{
    crop::library,
    mix,
    refusal::{Checks, Refused},
    said,
    said::Said,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    kinds::choices::Mix,
    record::{By, Founds, Record},
    shape::{Turn, check_words},
    subject::SubjectKind,
};

/// A mix of the farm's own, as it is from then on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnMix {
    /// What it is called.
    pub name: String,
    /// What is in it.
    pub mix: Mix,
    /// What for, and what came of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
    /// It is sown no more; stands sown to it stay.
    #[serde(default)]
    pub gone: bool,
}

impl Record for OwnMix {
    const KIND: &'static str = "own-mix";
    const TITLE: &'static str = "Our mix";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Mix];
    const BY: By = By::Manager;
    const REPLACES: bool = true;
    const FOUNDS: Option<Founds> = Some(Founds::one(SubjectKind::Mix));

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/name", &self.name, true);
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        let request: mix::MixRequest = self.mix.clone().turn();
        checks.part("/mix", mix::rates(&request));
        checks.done()
    }

    fn says(&self) -> Said {
        let named = |id: &str| library().crop(id).map_or_else(|| id.to_owned(), |crop| crop.name.clone());
        let part = |member: &crate::kinds::choices::Member| match (member.share, member.rate) {
            (Some(share), _) => said!("{} {}", share, named(&member.crop)),
            (None, Some(rate)) => said!("{} {}", rate, named(&member.crop)),
            (None, None) => Said::from(named(&member.crop)),
        };
        let members = Said::joined(self.mix.members.iter().map(part), ", ");
        let gone = if self.gone { "; no longer sown" } else { "" };
        said!("Mix {}: {}{}", self.name.as_str(), members, gone)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(book) = books.mix_of(inked) {
            book.versions.push(inked.dated(self.clone()));
        }
    }
}
