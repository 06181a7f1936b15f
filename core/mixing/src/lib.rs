//! The mixing model: Kubelka–Munk with a surface.
//!
//! A measured [`colour::Reflectance`] first loses its surface ([`Surface::correct`], Saunderson
//! 1942) and becomes an [`InternalReflectance`]; only that has a [`KsRatio`] (Kubelka and Munk
//! 1931), and only K and S add in mixtures (Duncan 1940). [`fit`] finds a tube's own [`Constants`]
//! from its readings, [`fit_colours`] from their
//! colours alone, and [`predict`] tells what a mixture will reflect. [`typical`] has paints from memory, for
//! tubes that nobody has read.

mod colours;
mod film;
mod fit;
mod ratio;
mod surface;
pub mod typical;

pub use colours::{ColourReading, Light, fit_colours};
pub use film::Film;
pub use fit::{
    Constants, Drawdown, FitKind, POOR_FIT, Tint, fit, fit_between, predict, white_constants,
};
pub use ratio::KsRatio;
pub use surface::{Geometry, InternalReflectance, Sheen, Surface};
