//! What this crate offers, tested from outside.

#[path = "../../study/tests/common/mod.rs"]
mod common;

mod averages;
mod by_eye;
mod changes;
mod figures;
mod findings;
mod pictures;
mod sentences;
mod vividness;
