//! The drill: what should fall in each row, what did, and which setting to try next.

mod calibrate;
mod filling;
mod row;
mod rows;
mod setting;

pub use calibrate::{ByCount, Calibration, CalibrationRequest, Caught, Course, SeedsSeen, Verdict, Wheel, calibrate};
pub use filling::{InBox, OfBox};
pub use row::{RowRequest, RowTarget, row};
pub use rows::{RowFound, RowState, RowsAnswer, RowsRequest, drill_rows};
pub use setting::{How, NextSetting, SettingTried, next_setting};
