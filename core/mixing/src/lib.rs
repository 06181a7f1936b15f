//! The mixing model: Kubelka–Munk with a surface.
//!
//! A measured [`colour::Reflectance`] first loses its surface ([`Surface::correct`], Saunderson
//! 1942) and becomes an [`InternalReflectance`]; only that has a [`KsRatio`] (Kubelka and Munk
//! 1931), and only K/S adds in mixtures (Duncan 1940).

mod film;
mod ratio;
mod surface;

pub use film::Film;
pub use ratio::KsRatio;
pub use surface::{Geometry, InternalReflectance, Sheen, Surface};
