//! Hue angles: degrees, counter-clockwise from +a* (red) through +b* (yellow).

/// Below this C*ab a colour is called near neutral, and its hue is not a number.
pub const NEAR_NEUTRAL_CHROMA: f64 = 2.0;

/// A hue angle in degrees, 0 ≤ h < 360, of a colour that is not near neutral.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd)]
pub struct Hue(f64);

impl Hue {
    /// Wraps any finite angle in degrees into 0–360.
    #[must_use]
    pub fn from_degrees(degrees: f64) -> Self {
        Self(degrees.rem_euclid(360.0))
    }

    /// The angle in degrees, 0 ≤ h < 360.
    #[must_use]
    pub fn degrees(self) -> f64 {
        self.0
    }

    /// The hue that lies so many degrees further round.
    #[must_use]
    pub fn turned(self, degrees: f64) -> Self {
        Self::from_degrees(self.0 + degrees)
    }
}

/// The angle from `from` to `to`, the shortest way, in degrees within −180 < shift ≤ 180.
/// Positive runs red → yellow → green → blue.
#[must_use]
pub fn signed_shift(from: Hue, to: Hue) -> f64 {
    let turn = (to.0 - from.0).rem_euclid(360.0);
    if turn > 180.0 { turn - 360.0 } else { turn }
}

/// The angle between two hues without its direction, 0–180 degrees.
#[must_use]
pub fn unsigned_distance(one: Hue, other: Hue) -> f64 {
    signed_shift(one, other).abs()
}
