//! What can go wrong in the ledger.

use agronomy::{refusal::Refused, said::Said};
use diesel::result::{DatabaseErrorKind, Error as DieselError};
use thiserror::Error;

/// A failed ledger operation.
#[derive(Debug, Error)]
pub enum Error {
    /// Nothing of that id here, or not yours: the two are not told apart.
    #[error("not found")]
    NotFound,
    /// The same id, or a name that must be single, already stands for something else.
    #[error("{0}")]
    Conflict(String),
    /// Input that can't be taken.
    #[error(transparent)]
    Refused(#[from] Refused),
    /// Somebody wrote anew, since the writer looked, what this was to replace; with what they wrote.
    #[error("{0}")]
    Overtaken(Said),
    /// The database said no.
    #[error("database: {0}")]
    Database(DieselError),
    /// All connections are in use, and none came free in time.
    #[error("the database is busy")]
    Busy,
    /// The database took too long over a statement or a lock, and ended it.
    #[error("the database took too long")]
    Slow,
    /// The tables are not those of this build.
    #[error("{0}")]
    Shape(crate::Shape),
    /// No connection.
    #[error("database connection: {0}")]
    Connection(String),
}

/// The ledger's result.
pub type Result<T> = std::result::Result<T, Error>;

impl From<DieselError> for Error {
    fn from(error: DieselError) -> Self {
        match error {
            DieselError::NotFound => Self::NotFound,
            DieselError::DatabaseError(DatabaseErrorKind::ForeignKeyViolation, _) => Self::NotFound,
            DieselError::DatabaseError(DatabaseErrorKind::UniqueViolation, info) => {
                Self::Conflict(match info.constraint_name() {
                    Some("fields_farm_id_name_key") => "a field with this name already exists".to_owned(),
                    Some("seed_lots_farm_id_crop_label_key") => {
                        "a lot of this crop with this name already exists".to_owned()
                    }
                    Some("entries_farm_id_strikes_key") => "this entry is already struck".to_owned(),
                    Some("people_email_key") => "this e-mail address is already in use".to_owned(),
                    _ => "this ID is already in use".to_owned(),
                })
            }
            DieselError::DatabaseError(DatabaseErrorKind::CheckViolation, info) => {
                Self::Conflict(info.message().to_owned())
            }
            DieselError::DatabaseError(
                DatabaseErrorKind::UnableToSendCommand | DatabaseErrorKind::ClosedConnection,
                info,
            ) => Self::Connection(info.message().to_owned()),
            // Diesel has no kind for it; servers that speak another language than English answer as failures.
            DieselError::DatabaseError(_, info) if info.message().contains("timeout") => Self::Slow,
            other => Self::Database(other),
        }
    }
}
