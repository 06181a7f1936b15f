//! Instruments, each behind a small face, and the simulated ones that ship with the product.

mod meter;
pub mod simulated;

pub use meter::{Meter, MeterError, Specimen};
