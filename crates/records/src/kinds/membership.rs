//! Who came to the farm, with what they may do, and who left.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    record::{By, Record},
    shape::check_words,
    subject::SubjectKind,
};

/// What became of somebody's place at the farm.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Turn {
    /// A link was made for somebody.
    Invited,
    /// It was taken back.
    Withdrawn,
    /// Somebody came by a link.
    Joined,
    /// They may do something else from now on.
    Role,
    /// They are here no more.
    Left,
    /// A link was made by which they set a new password.
    Reset,
    /// They set it by that link.
    PasswordSet,
    /// They set it by a link that whoever runs the server made on the command line.
    PasswordSetByOperator,
}

/// Who came to the farm, with what they may do, and who left.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedMembership)]
pub struct MembershipTurn {
    /// What happened.
    pub what: Turn,
    /// Whom it is about; nobody yet for an invitation.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub person: Option<Uuid>,
    /// By which name.
    #[serde(default)]
    pub name: String,
    /// What they may do: manager, crew or adviser.
    pub role: String,
}

impl Record for MembershipTurn {
    const KIND: &'static str = "membership";
    const TITLE: &'static str = "People";
    const NEEDS: &'static [SubjectKind] = &[];
    const BY: By = By::Itself("invite people and change roles under Set-up");

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/role", &self.role, true);
        check_words(&mut checks, "/name", &self.name, !matches!(self.what, Turn::Invited | Turn::Withdrawn));
        checks.done()
    }

    fn says(&self) -> Said {
        let (name, role) = (self.name.as_str(), self.role.as_str());
        match self.what {
            Turn::Invited => said!("Invited as {}", role),
            Turn::Withdrawn => said!("Invitation as {} canceled", role),
            Turn::Joined => said!("{} joined as {}", name, role),
            Turn::Role => said!("{} is now {}", name, role),
            Turn::Left => said!("{} left the farm", name),
            Turn::Reset => said!("Password reset link made for {}", name),
            Turn::PasswordSet => said!("{} set a new password with a link", name),
            Turn::PasswordSetByOperator => said!("{} set a new password with a link from whoever runs the server", name),
        }
    }
}
