//! The time of day: the only place that asks for it.

use std::time::{SystemTime, UNIX_EPOCH};

use bench::Time;

/// What the time is.
#[must_use]
pub fn now() -> Time {
    let since = SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |since| since.as_secs());
    Time(i64::try_from(since).unwrap_or(i64::MAX))
}
