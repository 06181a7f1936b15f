//! The face of every scale.

use crate::DeviceError;

/// A scale.
pub trait Scale: Send {
    /// What it is called.
    fn name(&self) -> &str;

    /// It makes its weights up.
    fn simulated(&self) -> bool;

    /// What its last digit stands for, in g.
    fn resolution(&self) -> f64;

    /// Sets what lies on it now to 0.
    ///
    /// # Errors
    /// When the device does not do it.
    fn tare(&mut self) -> Result<(), DeviceError>;

    /// What was put on it since, in g, once it has settled. `about` is what should lie there: a real
    /// driver ignores it, a simulated one makes up a hand from it.
    ///
    /// # Errors
    /// When the device gives no weight, or does not settle.
    fn weigh(&mut self, about: f64) -> Result<f64, DeviceError>;
}
