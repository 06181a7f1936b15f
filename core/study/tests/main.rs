//! What this crate offers, tested from outside.

mod palette;
mod shelf;
