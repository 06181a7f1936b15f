//! What eyes alone tell: how strong a tube is, and which of several is greener, warmer or cleaner. Each answer
//! may be wrong, so each figure is a range, and no figure of readings ever takes one in.

mod order;
mod strength;

pub use order::{EyeOrder, Pick, most_questions};
pub use strength::{EyeStrength, HeldTint, MOST_LOOKS, NextTint};
