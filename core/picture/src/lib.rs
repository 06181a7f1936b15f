//! Readings from a picture of a painted sheet: pixels and the sheet's geometry in, colours with their uncertainty out.
//!
//! 1. [`Raster`]: the picture. [`Target`]: what was printed, which squares hold what, and which colours are known.
//! 2. [`find_marks`]: the four corner marks, to a fraction of a pixel.
//! 3. [`Camera`]: from millimetres on the paper to pixels. [`read_code`]: which sheet it is.
//! 4. `paper`: how the light falls, from the bare paper between the squares; `cell`: each square as the device saw it;
//!    [`Looked`]: all that the pixels say.
//! 5. `calibrate`: tone curve, map and what it leaves, by the squares whose colour is known; how far each may be off.
//! 6. [`read()`]: all of it, with what needs a look ([`Flag`]) and what cannot be read ([`Refusal`]).
//! 7. [`codes`]: the codes alone; [`straighten`]: the sheet as from above, for people to look at.

mod bend;
mod calibrate;
mod camera;
mod cell;
mod code;
mod colours;
mod doubt;
mod due;
mod edges;
mod estimates;
mod flag;
mod homography;
mod looked;
mod marks;
mod paper;
mod raster;
mod read;
mod refusal;
mod straight;
mod target;
mod told;
mod veil;
mod which;

pub use calibrate::LEAST_ANCHORS;
pub use camera::{Camera, Fitted};
pub use code::read_code;
pub use doubt::{Doubt, square_named};
pub use due::CardOff;
pub use estimates::{ContrastEstimate, Estimates, StainingEstimate};
pub use flag::Flag;
pub use looked::{Card, Looked};
pub use marks::{FoundMark, FoundMarks, find_marks};
pub use raster::Raster;
pub use read::{read, read_beside};
pub use refusal::Refusal;
pub use straight::{straighten, thumbnail};
pub use target::{Known, LikelySpectrum, PlacedByHand, Target, TargetCell, TargetMark};
pub use told::{CalibrationTold, CellReading, CellRefusal, PictureReading, Status};
pub use which::{Codes, codes};
