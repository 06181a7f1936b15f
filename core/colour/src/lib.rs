//! Colour science: from a measured reflectance to CIELAB, a difference, a hue and a screen colour.
//!
//! The flow of this crate, one file a step:
//!
//! 1. [`Reflectance`]: what a spectral instrument gave, 36 bands.
//! 2. [`Conditions`]: illuminant and observer; nothing is comparable without them.
//! 3. [`Xyz`]: tristimulus values by ASTM E308.
//! 4. [`Lab`]: CIELAB, its chroma and hue; [`StatedLab`] when the conditions travel with it.
//! 5. [`DeltaE`]: CIEDE2000, of many pairs at once in [`ciede2000_columns`], and the spread of repeats.
//! 6. [`Reflectance::smoothest`]: back from a colour to a reflectance that may have made it.
//! 7. [`munsell_value`], [`oklch_hue`] and [`ScreenColour`]: the same colour told or shown otherwise.

mod columns;
mod conditions;
mod difference;
mod hue;
mod lab;
mod lanes;
mod munsell;
mod oklch;
mod screen;
mod smoothest;
mod spectrum;
mod xyz;

pub use columns::{LabColumns, ciede2000_columns};
pub use conditions::{Conditions, Illuminant, Observer, UnknownName};
pub use difference::{
    Components, DeltaE, ciede2000, ciede2000_terms, components, delta_e_ab, spread,
};
pub use hue::{Hue, NEAR_NEUTRAL_CHROMA, signed_shift, unsigned_distance};
pub use lab::{ConversionError, Lab, StatedLab};
pub use munsell::munsell_value;
pub use oklch::oklch_hue;
pub use screen::ScreenColour;
pub use spectrum::{BANDS, Reflectance, ReflectanceError, wavelength};
pub use xyz::{Xyz, short_wave_share_of_x};

/// Standard deviations of a normal distribution that hold 95 % of it, either way.
pub const NORMAL_95: f64 = 1.96;
