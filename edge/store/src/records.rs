//! Plans, designs, sheets and bench events as they are stored: JSON with the version of its form.
//!
//! A type of the core may change; what stands in a workshop file does not. When one changes so that an
//! older text reads otherwise, [`VERSION`] rises and the older form gets its own way of reading here.
//! `tests/golden/` holds one text of every version.

use bench::BenchEvent;
use plan::{Design, Plan};
use serde::Serialize;
use serde::de::DeserializeOwned;
use sheet::Sheet;

use crate::StoreError;

/// The version that is written: 4 tells how ratios are told, at whose pace the minutes are, and which tube a dab is
/// of; 3 has questions, dabs, a film beside tints, and charts of pairs, three primaries
/// and tempering; 2 tells where the knife is only wiped, and how long that takes. In 1 it was never wiped. What
/// an older text does not tell reads as it was then. A recipe's chart and its aim change no other text: they stand in 4.
pub const VERSION: i64 = 4;

/// Reads a line of the bench log.
///
/// # Errors
/// For a version of a later release, and for a text that is none.
pub fn read_event(version: i64, text: &str) -> Result<BenchEvent, StoreError> {
    read("line of the bench log", version, text)
}

/// Reads a design.
///
/// # Errors
/// As [`read_event`].
pub fn read_design(version: i64, text: &str) -> Result<Design, StoreError> {
    read("design", version, text)
}

/// Reads a plan.
///
/// # Errors
/// As [`read_event`].
pub fn read_plan(version: i64, text: &str) -> Result<Plan, StoreError> {
    read("plan", version, text)
}

/// Reads the sheets of a plan.
///
/// # Errors
/// As [`read_event`].
pub fn read_sheets(version: i64, text: &str) -> Result<Vec<Sheet>, StoreError> {
    read("sheets", version, text)
}

fn read<T: DeserializeOwned>(
    what: &'static str,
    version: i64,
    text: &str,
) -> Result<T, StoreError> {
    if !(1..=VERSION).contains(&version) {
        return Err(StoreError::Corrupt { what, found: format!("version {version}") });
    }
    serde_json::from_str(text)
        .map_err(|error| StoreError::Corrupt { what, found: error.to_string() })
}

pub(crate) fn write(what: &'static str, value: &impl Serialize) -> Result<String, StoreError> {
    serde_json::to_string(value)
        .map_err(|error| StoreError::Corrupt { what, found: error.to_string() })
}
