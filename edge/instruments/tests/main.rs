//! The simulated devices, and the computation against what only they know.

#[path = "../../../core/mixing/tests/facts/mod.rs"]
mod facts;

mod at_once;
mod deciding;
mod far_from_typical;
mod held_back;
mod hidden_load;
mod intervals;
mod looks;
mod over_a_socket;
mod pictures;
mod simulated;
mod trade;
mod twins;
