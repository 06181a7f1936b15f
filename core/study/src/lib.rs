//! The study: which tubes are tried against which, and what was read of their mixtures.
//!
//! Labels and readings go in; averaged colours, each with how far it may be off, come out.
//!
//! 1. [`Tube`] on the [`shelf`], with its [`ColourIndexName`]s; [`palette`]: what it is tried against.
//! 2. [`Mixture`]: tubes and their parts.
//! 3. [`Reading`]: what an instrument gave, kept as it came; [`Protocol`]: how it was made.
//!    [`FromPicture`]: what one from a scan or a photo rests on. [`Depth`] and [`Which`]: what eyes say of two paints side by side.
//! 4. [`Study`]: all of it together; [`Averages`]: repeats to one colour; [`FittedTubes`]: K and S.
//!
//! Beside them stand [`names`] and [`numbers`]: what may be typed, and how a number is written.

mod averages;
mod colour_index_name;
mod day;
mod eye;
mod from_picture;
mod k_and_s;
mod label;
mod look;
mod mixture;
pub mod names;
pub mod numbers;
pub mod palette;
mod price;
mod protocol;
mod reading;
pub mod shelf;
mod short_names;
mod study;
mod tube;
mod uncertain;
mod visible;
mod warning;
pub mod words;

pub use averages::{Averaged, Averages, PictureCheck, SwatchColour};
pub use colour_index_name::{CodeError, ColourIndexName};
pub use day::Day;
pub use eye::{Depth, Quality, SeenTint, Which};
pub use from_picture::{Calibration, FromPicture, InPictures};
pub use k_and_s::{FittedTube, FittedTubes};
pub use label::{TubeLabel, same_code};
pub use look::{ChosenColour, NoColour, TubeLook};
pub use mixture::{Mixture, Part, TubeRef};
pub use price::Price;
pub use protocol::{Basis, Protocol};
pub use reading::{Backing, FilmKind, Measured, RatioError, Reading, ReadingSource, State};
pub use study::Study;
pub use tube::{Grade, Medium, Tube};
pub use uncertain::Uncertain;
pub use visible::{CLOSE, VISIBLE};
pub use warning::Warning;
