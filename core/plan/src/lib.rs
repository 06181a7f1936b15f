//! The plan of a trial: from what the user wants to try to squares, piles, order and costs.
//!
//! A [`Design`] and a [`prior::Prior`] go in; a [`Plan`] comes out.
//!
//! 1. [`prior`]: what earlier readings tell of the tubes.
//! 2. `charts`: a [`Design`] to squares in rows; `ladder` and [`steps`] choose the ratios.
//! 3. `piles`, [`amounts`] and `by_hand`: how much of what, backwards from the last tint.
//! 4. [`order`] and `schedule`: what after what, with clean-ups and palettes; `filling`: rows in that order.
//! 5. `costs`, `remark` and [`cautions`]: what it takes, and what to know before starting.

pub mod amounts;
mod by_hand;
pub mod cautions;
mod charts;
mod costs;
mod design;
mod error;
mod filling;
mod ladder;
mod limits;
mod numbers;
pub mod order;
mod piles;
mod plan;
pub mod prior;
mod remark;
mod schedule;
pub mod steps;
mod swatch;

pub use by_hand::Measures;
pub use charts::{Cell, Row, RowAbout};
pub use costs::{Costs, PaintNeed};
pub use design::{Chart, Design, Pace, Question, StepChoice, Supply, Tests, Thinning, Third};
pub use error::PlanError;
pub use ladder::{Ladder, StepSource};
pub use limits::{MOST_GRID, MOST_LADDERS, MOST_SQUARES};
pub use numbers::{CellNumber, PileRef, StepRef};
pub use piles::{Pile, PileKind, Source};
pub use plan::{Plan, Turn};
pub use remark::Remark;
pub use schedule::{Step, Work};
pub use swatch::{Naming, Swatch, SwatchLabel};
