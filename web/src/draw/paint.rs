//! A paint as a screen can show it.

use colour::{Conditions, Lab, ScreenColour};
use study::SwatchColour;

/// A fill and what must be said of it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Paint {
    /// `#rrggbb`.
    pub fill: String,
    /// Outside the screen's range: a corner is notched.
    pub duller: bool,
    /// Shown from CIELAB for the 10° observer.
    pub approximate: bool,
}

impl Paint {
    pub fn of_screen(shown: ScreenColour) -> Self {
        Self { fill: shown.hex(), duller: shown.duller, approximate: shown.approximate }
    }

    pub fn of(colour: &SwatchColour, conditions: Conditions) -> Self {
        let shown = match &colour.reflectance {
            Some(reflectance) => ScreenColour::from_reflectance(reflectance),
            None => ScreenColour::from_lab(colour.lab, conditions),
        };
        Self::of_screen(shown)
    }

    /// A colour that is only predicted.
    pub fn predicted(lab: Lab, conditions: Conditions) -> Self {
        let shown = ScreenColour::from_lab(lab, conditions);
        Self::of_screen(shown)
    }

    /// What a reader who cannot see the notch is told.
    pub fn remark(&self) -> &'static str {
        match (self.duller, self.approximate) {
            (true, true) => ", duller here than in life, approximate",
            (true, false) => ", duller here than in life",
            (false, true) => ", approximate on screen",
            (false, false) => "",
        }
    }
}
