//! What is known of a tube before anything is measured: its pigments, and the traps of its label.

mod colour_index;
mod search;
mod traps;

pub use colour_index::{CautionGroup, HueFamily, Pigment, nearest, pigment, pigments};
pub use search::{Query, SortBy, search};
pub use traps::{Trap, TrapKind, traps};
