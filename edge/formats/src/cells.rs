//! Text in a CSV file that a spreadsheet would take for a formula.
//!
//! A cell that begins with `=`, `+`, `-`, `@`, a tab or a line's end is run by common spreadsheets when
//! the file is opened (OWASP, "CSV injection"). Such text is written with an apostrophe before it, which
//! reading takes off again. A number is no formula and stays as it is.

use std::borrow::Cow;

/// The text as it is written.
#[must_use]
pub fn guarded(text: &str) -> Cow<'_, str> {
    if is_formula(text) && text.parse::<f64>().is_err() {
        Cow::Owned(format!("'{text}"))
    } else {
        Cow::Borrowed(text)
    }
}

/// The text that a cell stands for.
#[must_use]
pub fn plain(cell: &str) -> &str {
    match cell.strip_prefix('\'') {
        Some(rest) if is_formula(rest) => rest,
        _ => cell,
    }
}

/// With any apostrophes and spaces before it, so that one that was typed comes back too.
fn is_formula(text: &str) -> bool {
    text.trim_start_matches(['\'', ' ']).starts_with(['=', '+', '-', '@', '\t', '\r', '\n'])
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::{guarded, plain};

    proptest! {
        #[test]
        fn no_cell_is_run_and_each_comes_back(text in "['=+@\t\r 0-9a-z-]{0,6}") {
            let cell = guarded(&text);
            prop_assert_eq!(plain(&cell), text.as_str());
            let run = cell.starts_with(['=', '+', '-', '@', '\t', '\r']);
            prop_assert!(!run || cell.parse::<f64>().is_ok(), "{:?}", cell);
        }
    }
}
