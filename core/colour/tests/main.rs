//! What this crate offers, tested from outside.

mod properties;
mod published;
mod terms;
