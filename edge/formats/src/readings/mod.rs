//! The readings file: CSV in UTF-8, comment lines first, then a header row.
//!
//! `docs/file-formats.md` describes it for users. [`read`] turns bytes into a [`ReadingsFile`]: a
//! [`study::Study`] and the text it came from, so that what a user or another program put there
//! (comments, extra columns, their own way of quoting) comes out again byte for byte.

mod columns;
mod error;
mod limits;
mod preamble;
mod read;
mod row;
mod source;
mod tubes;
mod white;
mod write;

pub use error::{FileError, Place, Problem};
pub use limits::{MAX_BYTES, MAX_ROWS};
pub use read::{ReadingsFile, read, too_large};
pub use source::{ExportRow, SourceTable};
pub use write::{export, write};
