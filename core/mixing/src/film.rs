//! A film of finite thickness over a backing.

/// Absorption and scattering of a dry film in one band.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Film {
    /// K times thickness: absorption of the whole film, 0 or more, without a unit.
    pub absorption: f64,
    /// S times thickness: scattering of the whole film, above 0, without a unit.
    pub scattering: f64,
}

/// Above this bSX the backing no longer shows in double precision.
const HIDING: f64 = 20.0;

impl Film {
    /// Internal reflectance over a backing of internal reflectance `backing` (0–1).
    ///
    /// R = ((1 − a·Rg)·u + Rg) / ((a − Rg)·u + 1) with u = tanh(bSX)/b, a = 1 + K/S and
    /// b = √(a² − 1): the form of Kubelka (1948) that stays finite where K is 0.
    #[must_use]
    pub fn reflectance_over(self, backing: f64) -> f64 {
        let scattering = self.scattering.max(1e-9);
        let a = 1.0 + self.absorption.max(0.0) / scattering;
        let b = (a * a - 1.0).max(0.0).sqrt();
        let depth = b * scattering;
        let u = match depth {
            _ if depth < 1e-9 => scattering,
            _ if depth >= HIDING => 1.0 / b,
            _ => depth.tanh() / b,
        };
        ((1.0 - a * backing) * u + backing) / ((a - backing) * u + 1.0)
    }
}
