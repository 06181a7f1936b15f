//! Instruments, each behind a small face: a colour meter and a scale. Drivers reach real ones and the
//! simulated ones that ship with the product over the same line protocol.

mod error;
mod line;
mod meter;
mod remote;
mod scale;
pub mod simulated;

pub use error::DeviceError;
pub use meter::{CHECK_TILE, Meter, Specimen, WHITE_TILE};
pub use remote::{RemoteMeter, RemoteScale};
pub use scale::Scale;
