//! What the workshop knows of its tubes: from every trial that read them, from what eyes judged, from typical paints. It is
//! gathered here and nowhere else, and kept as long as nothing that it rests on changes.
//!
//! 1. `white`: which white a trial, some tubes or the whole shelf were tried with; `as_of`: what an answer rests on.
//! 2. `evidence`: each tube of a plan or a trial; `learning`: what the eye and pictures teach its typical paint.
//! 3. `shelf`: every tube of the shelf as a paint, each with what that rests on, and what mixtures that were read taught.

mod as_of;
mod evidence;
mod learning;
mod shelf;
mod white;

pub(crate) use as_of::AsOf;
pub use evidence::{Evidence, EvidenceSource};
pub use shelf::{KnownShelf, Which};
pub(crate) use shelf::{is_of, pairs_of};
pub(crate) use white::of_newest;
