//! One square of a plan, and what is written under it.

use serde::{Deserialize, Serialize};
use study::numbers::{Ratios, percent};
use study::{Backing, FilmKind, Mixture, Part, TubeLabel, TubeRef};

use crate::numbers::CellNumber;

/// One square on the sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Swatch {
    /// Its number on the sheet, from 1.
    pub number: CellNumber,
    /// What is painted; empty for the bare backing, which is only read.
    pub mixture: Mixture,
    /// What it is painted on.
    pub backing: Backing,
    /// How thick.
    pub film: FilmKind,
}

/// What is written under a square before painting.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SwatchLabel {
    /// The tubes, `Canopy Ultramarine + Lantern Yellow`; `bare paper` where there is no paint.
    pub tubes: String,
    /// The ratio, `3 : 1 with white 1 : 4`, `white 1 : 8` or `mass tone over black`.
    pub ratio: String,
}

impl Swatch {
    /// One tube alone, in full film over paper: what is lifted.
    #[must_use]
    pub fn is_mass_tone_on_paper(&self) -> bool {
        self.mixture.parts().len() == 1
            && self.backing == Backing::Paper
            && self.film == FilmKind::Full
    }
}

/// How the mixtures of a trial are called.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Naming {
    /// Its tubes, by [`TubeRef`].
    pub tubes: Vec<TubeLabel>,
    /// The white among them.
    pub white: Option<TubeRef>,
    /// Parts or percent.
    pub ratios: Ratios,
}

impl Naming {
    /// The label of a square.
    #[must_use]
    pub fn swatch(&self, swatch: &Swatch) -> SwatchLabel {
        self.mixture(&swatch.mixture, swatch.backing, swatch.film)
    }

    /// The label of a pile: a full film over paper.
    #[must_use]
    pub fn pile(&self, mixture: &Mixture) -> SwatchLabel {
        self.mixture(mixture, Backing::Paper, FilmKind::Full)
    }

    /// The label of any mixture over any backing.
    #[must_use]
    pub fn mixture(&self, mixture: &Mixture, backing: Backing, film: FilmKind) -> SwatchLabel {
        label(self, mixture, backing, film)
    }
}

fn label(naming: &Naming, mixture: &Mixture, backing: Backing, film: FilmKind) -> SwatchLabel {
    let Naming { tubes, white, ratios } = naming;
    let white = *white;
    if mixture.is_bare() {
        return SwatchLabel { tubes: format!("bare {backing}"), ratio: String::new() };
    }
    let name = |tube: TubeRef| tubes.get(tube.0).map_or("?", |label| label.name.as_str());
    let colours: Vec<_> = mixture.colours(white).collect();
    let named: Vec<&str> = if colours.is_empty() {
        mixture.parts().iter().map(|part| name(part.tube)).collect()
    } else {
        colours.iter().map(|part| name(part.tube)).collect()
    };
    let mut ratio = match colours.as_slice() {
        [] | [_] => String::new(),
        many if *ratios == Ratios::Percent => {
            percent(&many.iter().map(|part| part.parts).collect::<Vec<_>>())
        }
        many => {
            // Shares that make 1 are told as parts: 1 : 6, and not 0.143 : 0.857.
            let least = many.iter().map(|part| part.parts).fold(f64::INFINITY, f64::min);
            let shares = many.iter().all(|part| part.parts < 1.0);
            let told = |part: &&Part| {
                amount(if shares {
                    (100.0 * part.parts / least).round() / 100.0
                } else {
                    part.parts
                })
            };
            many.iter().map(told).collect::<Vec<_>>().join(" : ")
        }
    };
    match mixture.white_per_colour(white) {
        Some(white_parts) if white_parts > 0.0 && colours.len() > 1 => {
            ratio.push_str(&format!(" with white 1 : {}", amount(white_parts)));
        }
        Some(white_parts) if white_parts > 0.0 => {
            ratio.push_str(&format!("white 1 : {}", amount(white_parts)));
        }
        _ if ratio.is_empty() => ratio.push_str("mass tone"),
        _ => {}
    }
    if film == FilmKind::Thin {
        ratio.push_str(", thin");
    }
    if backing != Backing::Paper {
        ratio.push_str(&format!(" over {backing}"));
    }
    SwatchLabel { tubes: named.join(" + "), ratio }
}

/// Parts with at most three decimals and no trailing zeros.
pub(super) fn amount(parts: f64) -> String {
    let text = format!("{parts:.3}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}
