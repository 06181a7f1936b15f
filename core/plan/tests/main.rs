//! What this crate offers, tested from outside.

#[path = "../../study/tests/common/mod.rs"]
mod common;

mod by_eye;
mod making;
mod plan;
mod prior;
mod steps;
