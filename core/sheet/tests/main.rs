//! What this crate offers, tested from outside.

mod layout;
