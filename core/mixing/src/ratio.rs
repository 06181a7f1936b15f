//! K/S of a film that hides what lies under it.

/// Absorption over scattering, K/S, of one band: 0 or more, without a unit.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd)]
pub struct KsRatio(pub f64);

impl KsRatio {
    /// K/S = (1 − R)² / 2R of an internal reflectance, 0 < R ≤ 1 (Kubelka and Munk 1931).
    ///
    /// `None` above 1 (fluorescence or gloss: no K/S has it) and at or below zero.
    ///
    /// ```
    /// # use mixing::KsRatio;
    /// assert_eq!(KsRatio::of_hiding_film(0.5), Some(KsRatio(0.25)));
    /// assert_eq!(KsRatio::of_hiding_film(1.1), None);
    /// ```
    #[must_use]
    pub fn of_hiding_film(internal: f64) -> Option<Self> {
        (internal > 0.0 && internal <= 1.0)
            .then(|| Self((1.0 - internal).powi(2) / (2.0 * internal)))
    }

    /// Internal reflectance of a hiding film, R∞ = 1 / (1 + q + √(q² + 2q)), 0 < R ≤ 1.
    #[must_use]
    pub fn hiding_reflectance(self) -> f64 {
        let q = self.0.max(0.0);
        1.0 / (1.0 + q + (q * q + 2.0 * q).sqrt())
    }
}
