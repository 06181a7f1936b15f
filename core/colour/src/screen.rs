//! The colour a screen can show.

use palette::convert::FromColorUnclamped;
use palette::white_point::D65;
use palette::{LinSrgb, Oklch, Srgb};

use crate::{Conditions, Lab, Observer, Reflectance, Xyz};

/// An sRGB colour (IEC 61966-2-1) standing for a paint.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ScreenColour {
    /// Red, green, blue, 0–255.
    pub rgb: [u8; 3],
    /// The paint lies outside sRGB: its chroma was reduced, and it is duller here than in life.
    pub duller: bool,
    /// Worked out from CIELAB for another observer than the screen's 2°.
    pub approximate: bool,
}

/// How far outside 0–1 a linear component may lie before it counts as out of range: half a step
/// of 8 bits, which no screen can show.
const SLACK: f64 = 0.002;

impl ScreenColour {
    /// From a spectrum, under D65/2°, the conditions sRGB is defined for.
    #[must_use]
    pub fn from_reflectance(reflectance: &Reflectance) -> Self {
        Self::from_xyz(Xyz::from_reflectance(reflectance, Conditions::D65_2), false)
    }

    /// From CIELAB alone: its coordinates are taken with the D65/2° white. Exact for 2°, and
    /// marked approximate for 10°.
    #[must_use]
    pub fn from_lab(lab: Lab, conditions: Conditions) -> Self {
        let approximate = conditions.observer != Observer::Two;
        Self::from_xyz(lab.to_xyz(Conditions::D65_2), approximate)
    }

    /// `#rrggbb`, as SVG and CSS write it.
    #[must_use]
    pub fn hex(self) -> String {
        let [r, g, b] = self.rgb;
        format!("#{r:02x}{g:02x}{b:02x}")
    }

    fn from_xyz(xyz: Xyz, approximate: bool) -> Self {
        let linear = LinSrgb::from_color_unclamped(palette::Xyz::<D65, f64>::new(
            xyz.x / 100.0,
            xyz.y / 100.0,
            xyz.z / 100.0,
        ));
        let duller = !fits(linear);
        let shown = if duller { reduce_chroma(linear) } else { linear };
        let rgb: Srgb<u8> = Srgb::<f64>::from_linear(LinSrgb::new(
            shown.red.clamp(0.0, 1.0),
            shown.green.clamp(0.0, 1.0),
            shown.blue.clamp(0.0, 1.0),
        ))
        .into_format();
        Self { rgb: [rgb.red, rgb.green, rgb.blue], duller, approximate }
    }
}

fn fits(colour: LinSrgb<f64>) -> bool {
    [colour.red, colour.green, colour.blue].iter().all(|c| (-SLACK..=1.0 + SLACK).contains(c))
}

/// The most vivid colour of the same OKLCh hue and lightness that the screen can show.
fn reduce_chroma(colour: LinSrgb<f64>) -> LinSrgb<f64> {
    let full = Oklch::from_color_unclamped(colour);
    let at =
        |share: f64| LinSrgb::from_color_unclamped(Oklch { chroma: full.chroma * share, ..full });
    let (mut shown, mut outside) = (0.0, 1.0);
    for _ in 0..24 {
        let middle = f64::midpoint(shown, outside);
        if fits(at(middle)) { shown = middle } else { outside = middle }
    }
    at(shown)
}
