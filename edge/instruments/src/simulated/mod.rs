//! A workshop that exists only in numbers: hidden paints, a table to mix them at, and a meter.
//!
//! It must not share the analysis's simplifications, or every check would be a circle. Here films
//! have a thickness and a backing shows through, white crowds, piles are weighed and mixed with an
//! error, and the meter has noise; the analysis knows only what a real bench would tell it.

mod alone;
mod curves;
mod device;
mod devices;
mod hash;
mod meter;
mod paint;
pub mod picture;
mod pigments;
mod table;

pub use alone::tubes_alone;
pub use device::{Fault, Running};
pub use devices::{Given, MeterDevice, MeterHabits, ScaleDevice, SimulatedBench};
pub use meter::SimulatedMeter;
pub use paint::{HiddenPaint, NoCurve};
pub use table::{MixingTable, TableErrors};
