//! Pictures of sheets: received, read, taken as readings in one step, and taken back in one.
//!
//! 1. `receive`: which sheet is in it, and whether it can be read; only then it is kept.
//! 2. `known`: the squares whose colour readings by something better tell.
//! 3. `looked`: what the pixels say, once; `read`: every square with its colour, what was planned for it and what needs a look.
//! 4. `drawn`: a picture by a simulated device, of a sheet that nobody painted.
//! 5. `take`: readings, and what the user changes before.

mod drawn;
mod known;
mod looked;
mod read;
mod receive;
mod square;
mod take;

pub use drawn::{painted_sheet, specimen_of};
pub use looked::LookedAt;
pub(crate) use looked::Pictures;
pub use read::PictureRead;
pub use receive::{NotUsable, Received};
pub(crate) use receive::{Opened, open};
pub use square::{Planned, Square, WhyNotTaken};
