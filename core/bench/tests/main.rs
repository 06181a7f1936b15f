//! What this crate offers, tested from outside.

#[path = "../../study/tests/common/mod.rs"]
mod common;

mod at_the_bench;
mod run;
