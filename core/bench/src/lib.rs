//! A trial at the bench: what was really done beside what was planned, what comes next, and what a
//! reading says at once.
//!
//! A [`plan::Plan`], the log and the readings go in; what to do, and whether the colour is as
//! planned, come out. The log of [`BenchEvent`]s is only ever added to; [`Run::new`] replays it together
//! with the readings. Every [`Time`] is given from outside.
//!
//! 1. `event`: what can be done besides reading; `seen`: what the eye saw, in the trade's words.
//! 2. `actual`: what each pile and each swatch really holds, and how surely.
//! 3. `run`: what became of each swatch; `agenda`: what is left of it, and what comes next.
//! 4. `rules`: what can be done to a square as it stands; `redo`: what a spoilt swatch takes to be
//!    painted again.
//! 5. `pace`: how fast this user works; `tiles`: whether the meter has drifted.
//! 6. [`diagnosis`]: what a reading says while the swatch is still there.

mod actual;
mod agenda;
pub mod diagnosis;
mod event;
mod numbers;
mod pace;
mod redo;
mod rules;
mod run;
mod seen;
mod tiles;

pub use actual::ActualMixture;
pub use agenda::{Left, Next, Tally, Task};
pub use event::{BarShows, BenchEvent, Grain, LogEntry, Made, Tile, Word, is_laid};
pub use numbers::{EntryId, ReadingId, Time};
pub use pace::PaceEvidence;
pub use redo::Redo;
pub use rules::{Refused, Standing, may_do, may_read};
pub use run::{ReadBy, Run, Square, Taken};
pub use seen::{BesideAim, Dried, EyeVividness, Lean, LiftLeaves, Look, Looks};
pub use tiles::{Drift, MOST_DRIFT, TILE_EVERY, TileDue, drifts, tile_due};
