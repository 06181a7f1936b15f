//! A calendar day.

use std::fmt;
use std::str::FromStr;

use colour::UnknownName;
use time::Date;
use time::format_description::well_known::Iso8601;

/// A day of the Gregorian calendar, written `2026-11-25`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Day(Date);

impl FromStr for Day {
    type Err = UnknownName;

    fn from_str(text: &str) -> Result<Self, UnknownName> {
        let error =
            UnknownName { what: "day", found: text.into(), expected: "a day as 2026-11-25" };
        // The standard allows other forms too; one is enough for a shelf.
        if text.trim().len() != 10 {
            return Err(error);
        }
        Date::parse(text.trim(), &Iso8601::DATE).map(Self).map_err(|_| error)
    }
}

impl fmt::Display for Day {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:04}-{:02}-{:02}", self.0.year(), u8::from(self.0.month()), self.0.day())
    }
}
