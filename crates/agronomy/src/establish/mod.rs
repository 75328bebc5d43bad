//! From sowing to a stand: when it comes up, whether to go on waiting, and what to do with what came.

mod aims;
mod decide;
mod emergence;
mod young;

pub use aims::{Aim, AimBy, aim_of};
pub use decide::{DecideRequest, Decision, Way, WayOut, stand_decide, yield_share};
pub use emergence::{
    Emergence, EmergenceRequest, EmergenceState, Waited, emerged_by, emergence_forecast, emergence_of, least_moisture,
    still_comes,
};
pub use young::{Bar, YoungLook, YoungStand, young_looks};
