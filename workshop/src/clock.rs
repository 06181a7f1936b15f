//! The time of day: the only place that asks for it.

use std::time::{SystemTime, UNIX_EPOCH};

/// Seconds since 1970-01-01 UTC.
#[must_use]
pub fn now() -> i64 {
    let since = SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |since| since.as_secs());
    i64::try_from(since).unwrap_or(i64::MAX)
}
