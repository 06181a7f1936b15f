//! What this crate offers, tested from outside.

#[path = "../../study/tests/common/mod.rs"]
mod common;

mod exact;
mod look_alikes;
