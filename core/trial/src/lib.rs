//! The trial: what is tested and against what, what was measured, and what follows from it.
//!
//! Data flows one way, one module a step:
//!
//! [`Tube`] with its [`shelf`], and the [`palette`] it is tried against → [`prior`] (what earlier
//! readings tell) and [`plan`] (squares, piles, order, costs) → [`run`] (what was really done) →
//! [`Reading`] and [`Study`] (what was measured) → [`figures`] (hue shift, chroma loss, tinting
//! strength …) → [`finding`] (one plain sentence). No step knows a file, a clock or a page.

pub mod bench;
mod day;
pub mod figures;
pub mod finding;
mod mixture;
pub mod names;
pub mod numbers;
pub mod palette;
pub mod plan;
pub mod prior;
mod reading;
pub mod run;
pub mod shelf;
mod study;
mod tube;

pub use day::Day;
pub use figures::{Analysis, Averages, analyse, analyse_averages};
pub use mixture::{Mixture, Part, TubeRef};
pub use reading::{Backing, FilmKind, Measured, RatioError, Reading, ReadingSource, State};
pub use study::{Basis, Protocol, Study, TubeLabel, same_code};
pub use tube::{CodeError, ColourIndexName, Grade, Medium, Tube};
