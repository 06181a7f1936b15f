//! Nine colours to choose from: a paint in other loads and hues, then the neighbours of the one that was chosen.

use colour::{Conditions, Lab};

use super::look::{Look, nm_of_hue};
use super::{LOAD_SIGMA, TypicalPaint, seen_as};
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
    #[must_use]
    pub fn around(paint: &Constants, white: &Constants) -> [Self; 9] {
        let nm = nm_of_hue(paint, white);
        std::array::from_fn(|at| {
            let (row, column) = ((at / 3) as f64 - 1.0, (at % 3) as f64 - 1.0);
            let load = (1.6 * LOAD_SIGMA * row).exp();
            Self::of(&paint.shifted(2.0 * nm * column).with_load(load), white)
        })
    }

    /// Kinds of colour, for a tube of which nothing is known.
    #[must_use]
    pub fn families(white: &Constants) -> [Self; 9] {
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

/// The paint of a tube that somebody saw: of its pigments or, where its label gives none, of the typical paint that comes
/// nearest. `None` where nobody saw it and no typical paint is known.
#[must_use]
pub fn paint_of(name: &str, pigments: &[Constants], look: Look) -> Option<Constants> {
    let white = TypicalPaint::named("PW6")?.constants();
    if !pigments.is_empty() {
        return seen_as(pigments, name, &white, look, Look::light());
    }
    let off = |paint: &Constants| {
        let own = Look::of(paint, &white);
        let pairs = [(own.mass_tone, look.mass_tone), (own.tint, look.tint)];
        let seen = pairs.into_iter().filter_map(|(own, seen)| Some((own?, seen?)));
        seen.map(|(own, seen)| colour::ciede2000(own, seen).value().powi(2)).sum::<f64>()
    };
    if look == Look::default() {
        return None;
    }
    let all = TypicalPaint::ALL.iter().map(TypicalPaint::constants);
    let nearest = all.min_by(|one, other| off(one).total_cmp(&off(other)))?;
    seen_as(&[nearest], name, &white, look, Look::light())
}
