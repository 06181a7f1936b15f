//! Which swatches a trial needs: tubes under test against one reference, each with white; and how
//! they are made: [`steps`], [`amounts`] and [`order`].

pub mod amounts;
pub mod cautions;
pub mod order;
pub mod steps;

use std::fmt;

use crate::{Backing, FilmKind, Mixture, TubeLabel, TubeRef};

/// Most tubes under test in one trial.
pub const MOST_TESTED: usize = 4;

/// Parts of tested tube to reference between the two pure ends.
const PAIR_STEPS: [(f64, f64); 3] = [(3.0, 1.0), (1.0, 1.0), (1.0, 3.0)];
/// Parts of white to one part of a mixture of two tubes, and to their pure ends.
const PAIR_WHITES: [f64; 3] = [0.0, 1.0, 4.0];
/// Parts of white to one part of a tube alone.
const TINTS: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];

/// What is tried against what.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Chart {
    /// Tubes under test, one to four.
    pub tested: Vec<TubeRef>,
    /// The tube that each is mixed with.
    pub reference: TubeRef,
    /// The white.
    pub white: TubeRef,
}

/// Why a chart cannot be planned.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ChartError {
    /// No tube under test.
    NothingTested,
    /// More than four tubes under test.
    TooMany(usize),
    /// A tube stands twice among the tested, or is reference or white as well.
    AgainstItself(TubeRef),
}

impl fmt::Display for ChartError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::NothingTested => f.write_str("choose at least one tube to test"),
            Self::TooMany(found) => write!(
                f,
                "{found} tubes are too many for one trial; choose up to {MOST_TESTED}, and plan a \
                 second trial for the rest"
            ),
            Self::AgainstItself(_) => f.write_str(
                "a tube cannot be tried against itself; choose another tube under test, reference \
                 or white",
            ),
        }
    }
}

impl std::error::Error for ChartError {}

/// One square on the sheet.
#[derive(Debug, Clone, PartialEq)]
pub struct Swatch {
    /// Its number on the sheet, from 1.
    pub number: u32,
    /// What is painted; empty for the bare backing, which is only read.
    pub mixture: Mixture,
    /// What it is painted on.
    pub backing: Backing,
    /// How thick.
    pub film: FilmKind,
}

impl Chart {
    /// Plans the swatches in working order: bare backings, white, each tube from mass tone to
    /// palest tint, then the mixtures. Every mixture stands once over paper, so the pure ends of a
    /// pair are the tube's own steps.
    ///
    /// # Errors
    /// When nothing or too much is tested, or a tube stands against itself.
    pub fn swatches(&self) -> Result<Vec<Swatch>, ChartError> {
        self.check()?;
        let mut sheet = Sheet::default();
        for backing in [Backing::Paper, Backing::White, Backing::Black] {
            sheet.add(Mixture::bare(), backing);
        }
        sheet.add_mass_tone(self.white);
        for &tube in self.tested.iter().chain([&self.reference]) {
            sheet.add_mass_tone(tube);
            for white_parts in TINTS {
                sheet.add(Mixture::of(&[(tube, 1.0), (self.white, white_parts)]), Backing::Paper);
            }
        }
        for &tube in &self.tested {
            self.add_pair(&mut sheet, tube);
        }
        Ok(sheet.swatches)
    }

    fn add_pair(&self, sheet: &mut Sheet, tube: TubeRef) {
        for (a, b) in PAIR_STEPS {
            for white_parts in PAIR_WHITES {
                let white = white_parts * (a + b);
                let parts = [(tube, a), (self.reference, b), (self.white, white)];
                sheet.add(Mixture::of(&parts), Backing::Paper);
            }
        }
    }

    fn check(&self) -> Result<(), ChartError> {
        if self.tested.is_empty() {
            return Err(ChartError::NothingTested);
        }
        if self.tested.len() > MOST_TESTED {
            return Err(ChartError::TooMany(self.tested.len()));
        }
        let mut all = self.tested.clone();
        all.extend([self.reference, self.white]);
        all.sort_unstable();
        match all.windows(2).find(|pair| pair[0] == pair[1]) {
            Some(pair) => Err(ChartError::AgainstItself(pair[0])),
            None => Ok(()),
        }
    }
}

/// Numbers the squares as they are added.
#[derive(Default)]
struct Sheet {
    swatches: Vec<Swatch>,
}

impl Sheet {
    fn add(&mut self, mixture: Mixture, backing: Backing) {
        let number = u32::try_from(self.swatches.len() + 1).unwrap_or(u32::MAX);
        self.swatches.push(Swatch { number, mixture, backing, film: FilmKind::Full });
    }

    fn add_mass_tone(&mut self, tube: TubeRef) {
        for backing in [Backing::Paper, Backing::White, Backing::Black] {
            self.add(Mixture::neat(tube), backing);
        }
    }
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
    /// The label, with the names of the trial's tubes by [`TubeRef`].
    #[must_use]
    pub fn label(&self, tubes: &[TubeLabel], white: Option<TubeRef>) -> SwatchLabel {
        mixture_label(&self.mixture, self.backing, self.film, tubes, white)
    }
}

/// The label of any mixture over any backing.
#[must_use]
pub fn mixture_label(
    mixture: &Mixture,
    backing: Backing,
    film: FilmKind,
    tubes: &[TubeLabel],
    white: Option<TubeRef>,
) -> SwatchLabel {
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
        many => many.iter().map(|part| amount(part.parts)).collect::<Vec<_>>().join(" : "),
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
fn amount(parts: f64) -> String {
    let text = format!("{parts:.3}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}
