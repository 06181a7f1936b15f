//! What this crate offers, tested from outside.

mod facts;

mod constants;
mod equations;
mod trade;
mod typical;
