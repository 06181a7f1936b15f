//! Nine colours to choose from: a paint in other loads and hues, then the neighbours of the one that was chosen.

use colour::{Conditions, Lab, ciede2000};

use super::look::{Look, nm_of_hue};
use super::{LOAD_SIGMA, TypicalPaint, constants_as_seen, typical_constants};
use crate::{Constants, Geometry, Light, Sheen, Surface};

/// Paint for whoever has chosen nothing and has no Colour Index name: one of each kind of colour (ours).
const FAMILIES: [&str; 9] =
    ["PY3", "PO73", "PR254", "PG7", "PBr7", "PR122", "PB15:3", "PB29", "PV23"];
/// Degrees of hue, and times the chroma, between a chosen colour and its neighbours.
const NEARER_DEGREES: f64 = 6.0;
const NEARER_CHROMA: f64 = 1.25;

impl Look {
    /// The light that chosen colours are seen in: daylight, the gloss half turned away.
    #[must_use]
    pub fn light() -> Light {
        let surface = Surface::nominal(Geometry::FortyFive, Sheen::Satin);
        Light { conditions: Conditions::D65_10, surface }
    }

    /// What a paint looks like.
    #[must_use]
    pub fn of(paint: &Constants, white: &Constants) -> Self {
        let colour = |white_parts| Self::colour(paint, (white, white_parts), Self::light());
        Self { mass_tone: Some(colour(0.0)), tint: Some(colour(Self::WHITE_PARTS)) }
    }

    /// Row by row, paler to deeper; in a row from one hue to the other, the paint itself in the middle.
    fn around(paint: &Constants, white: &Constants) -> [Self; 9] {
        let nm = nm_of_hue(paint, white);
        std::array::from_fn(|at| {
            let (row, column) = ((at / 3) as f64 - 1.0, (at % 3) as f64 - 1.0);
            let load = (1.6 * LOAD_SIGMA * row).exp();
            Self::of(&paint.shifted(2.0 * nm * column).with_load(load), white)
        })
    }

    /// What to choose from first: looks around the typical paint of a tube's name and pigments, or kinds of colour where these
    /// tell nothing.
    #[must_use]
    pub fn choices<'a>(tube: &str, pigments: impl IntoIterator<Item = &'a str>) -> [Self; 9] {
        let Some(white) = TypicalPaint::named("PW6").map(TypicalPaint::constants) else {
            return [Self::default(); 9];
        };
        match typical_constants(tube, pigments) {
            Some(paint) => Self::around(&paint, &white),
            None => Self::families(&white),
        }
    }

    /// How a tube is drawn of which somebody chose this look: in the median within ΔE00 2.2 of it, at most 7, since screens and
    /// eyes are off too. `None` where there is no colour.
    #[must_use]
    pub fn drawn<'a>(
        self,
        tube: &str,
        pigments: impl IntoIterator<Item = &'a str>,
    ) -> Option<Self> {
        let white = TypicalPaint::named("PW6")?.constants();
        Some(Self::of(&constants_as_seen(tube, pigments, self)?, &white))
    }

    /// The typical paint that comes nearest; `None` where there is no colour.
    pub(super) fn nearest(self, white: &Constants) -> Option<Constants> {
        let off = |paint: &Constants| -> f64 {
            let own = Self::of(paint, white);
            let pairs = [(own.mass_tone, self.mass_tone), (own.tint, self.tint)];
            let seen = pairs.into_iter().filter_map(|(own, seen)| Some((own?, seen?)));
            seen.map(|(own, seen)| ciede2000(own, seen).value().powi(2)).sum()
        };
        if self == Self::default() {
            return None;
        }
        let all = TypicalPaint::ALL.iter().map(TypicalPaint::constants);
        let all = all.map(|paint| (off(&paint), paint));
        Some(all.min_by(|one, other| one.0.total_cmp(&other.0))?.1)
    }

    /// Kinds of colour, for a tube of which nothing is known.
    fn families(white: &Constants) -> [Self; 9] {
        FAMILIES.map(|name| {
            TypicalPaint::named(name)
                .map_or_else(Self::default, |it| Self::of(&it.constants(), white))
        })
    }

    /// Row by row, more vivid to duller; in a row hues in the same order, the same look in the middle.
    #[must_use]
    pub fn nearer(self) -> [Self; 9] {
        std::array::from_fn(|at| {
            let (row, column) = ((at / 3) as f64 - 1.0, (at % 3) as f64 - 1.0);
            let moved = |lab: Lab| {
                let (sin, cos) = (-NEARER_DEGREES * column).to_radians().sin_cos();
                let chroma = NEARER_CHROMA.powf(-row);
                let (a, b) = (chroma * lab.a, chroma * lab.b);
                Lab { l: lab.l, a: a * cos - b * sin, b: a * sin + b * cos }
            };
            Self { mass_tone: self.mass_tone.map(moved), tint: self.tint.map(moved) }
        })
    }
}
