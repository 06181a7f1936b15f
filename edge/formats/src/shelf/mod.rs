//! The shelf as CSV: a header row, then one row a tube.
//!
//! Only the column `name` is needed. On import a tube is known again by maker, line and name; a
//! column that the file does not have leaves what is on the shelf as it is, and an empty cell of a
//! column that it has clears it. [`preview`] tells line by line what would happen before anything
//! does.

mod fields;
mod pasted;
mod preview;
mod read;

use csv::{Terminator, WriterBuilder};
pub use pasted::{PastedTube, pasted};
pub use preview::{Change, ShelfEntry, Verdict, preview};
pub use read::{MAX_LINES, ShelfError, ShelfRow, read};
use study::Tube;

use crate::cells::guarded;

/// Writes tubes with every column, in the order given.
#[must_use]
pub fn write<'a>(tubes: impl IntoIterator<Item = &'a Tube>) -> String {
    let mut out = WriterBuilder::new().terminator(Terminator::Any(b'\n')).from_writer(Vec::new());
    // Writing text to memory cannot fail.
    let _ = out.write_record(fields::FIELDS.iter().map(|field| field.column));
    for tube in tubes {
        let _ = out.write_record(fields::FIELDS.iter().map(|field| {
            let text = (field.get)(tube);
            guarded(&text).into_owned()
        }));
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}
