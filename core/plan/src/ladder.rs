//! The ratios of one ladder, and what is expected of them.

use colour::{Lab, ciede2000};
use serde::{Deserialize, Serialize};
use study::{Mixture, TubeRef};

use crate::by_hand::makeable;
use crate::design::{Design, StepChoice, Third};
use crate::error::PlanError;
use crate::prior::{Prior, PriorLevel};
use crate::steps::{Steps, anchored, differences, even, geometric};

/// One planned ladder.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Ladder {
    /// The first tube.
    pub from: TubeRef,
    /// The second.
    pub to: TubeRef,
    /// A tube that is in every mixture.
    pub third: Option<Third>,
    /// Share of the second tube in the two, at each step between the ends, rising.
    pub shares: Vec<f64>,
    /// Where they come from.
    pub source: StepSource,
    /// ΔE00 between neighbours, ends included, as predicted; empty where nothing is known.
    pub differences: Vec<f64>,
    /// The same for quarters.
    pub quarters: Vec<f64>,
    /// ΔE00 of the parents, where it is so small that one swatch is enough.
    pub alike: Option<f64>,
}

/// Where the ratios of a ladder come from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum StepSource {
    /// Chosen as they are.
    Chosen,
    /// Even to the eye, from K and S.
    KAndS,
    /// Even to the eye, from strengths.
    Strengths,
    /// Even to the eye, from typical paints.
    Typical,
    /// In geometric progression, since nothing is known of one of the tubes.
    Geometric,
}

impl StepSource {
    /// In words.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Self::Chosen => "as chosen",
            Self::KAndS => "even to the eye, from K and S",
            Self::Strengths => "even to the eye, from tinting strengths",
            Self::Typical => "even to the eye for typical paints of these pigments",
            Self::Geometric => "in geometric progression: too little is known of the tubes",
        }
    }
}

impl Ladder {
    /// The mixture at a share of the second tube (0–1).
    #[must_use]
    pub fn mixture(&self, share: f64) -> Mixture {
        let (a, b) = ratio(share);
        match self.third {
            None => Mixture::of(&[(self.from, a), (self.to, b)]),
            Some(Third { tube, share }) => {
                let third = (a + b) * share / (1.0 - share);
                Mixture::of(&[(self.from, a), (self.to, b), (tube, third)])
            }
        }
    }

    /// The colours that are predicted at some shares of the second tube; `None` where nothing is
    /// known of one of the tubes.
    #[must_use]
    pub fn predicted(&self, prior: &Prior, shares: &[f64]) -> Option<Vec<Lab>> {
        let (_, colour_at) = prediction(prior, self)?;
        Some(shares.iter().map(|share| colour_at(*share)).collect())
    }

    /// Largest over smallest predicted step; `None` where nothing is predicted.
    #[must_use]
    pub fn unevenness(&self) -> Option<f64> {
        unevenness(&self.differences)
    }

    /// The same for quarters.
    #[must_use]
    pub fn quarters_unevenness(&self) -> Option<f64> {
        unevenness(&self.quarters)
    }
}

fn unevenness(differences: &[f64]) -> Option<f64> {
    let least = differences.iter().copied().min_by(f64::total_cmp)?;
    let most = differences.iter().copied().max_by(f64::total_cmp)?;
    (least > 0.0).then(|| most / least)
}

/// Largest number of a ratio in whole numbers.
const LARGEST_WHOLE: f64 = 20.0;

/// Parts of the two tubes: small whole numbers where they make the share exactly, 7 : 3 for 0.3,
/// else the smaller one 1.
fn ratio(share: f64) -> (f64, f64) {
    if share <= 0.0 {
        return (1.0, 0.0);
    }
    if share >= 1.0 {
        return (0.0, 1.0);
    }
    let less = share.min(1.0 - share);
    let whole = (1..=10_u8).find_map(|parts| {
        let small = f64::from(parts);
        let large = small / less - small;
        let whole = (large - large.round()).abs() < 1e-9;
        (whole && (parts == 1 || large < LARGEST_WHOLE + 0.5)).then_some((large.round(), small))
    });
    let (large, small) = whole.unwrap_or(((1.0 - less) / less, 1.0));
    if share <= 0.5 { (large, small) } else { (small, large) }
}

/// The share of the nearest ratio with three figures, so that a list can be read.
fn readable(share: f64) -> f64 {
    let (a, b) = ratio(share);
    let (a, b) = (three_figures(a), three_figures(b));
    b / (a + b)
}

fn three_figures(parts: f64) -> f64 {
    if parts <= 0.0 {
        return 0.0;
    }
    let unit = 10.0_f64.powf(parts.log10().floor() - 2.0);
    (parts / unit).round() * unit
}

/// Plans a ladder; where the parents look alike it is one mixture, 1 : 1.
pub(super) fn planned_ladder(
    design: &Design,
    prior: &Prior,
    (from, to): (TubeRef, TubeRef),
    choice: &StepChoice,
    third: Option<Third>,
) -> Result<Ladder, PlanError> {
    let mut ladder = Ladder {
        from,
        to,
        third,
        shares: Vec::new(),
        source: StepSource::Chosen,
        differences: Vec::new(),
        quarters: Vec::new(),
        alike: parents_apart(design, prior, from, to).filter(|apart| *apart < design.alike),
    };
    let predicted = prediction(prior, &ladder);
    ladder.shares = match (choice, &predicted) {
        (StepChoice::Fixed(steps), _) => steps.shares()?,
        (StepChoice::Even(count), Some((level, colour_at))) => {
            ladder.source = match level {
                PriorLevel::KAndS => StepSource::KAndS,
                PriorLevel::Strengths => StepSource::Strengths,
                PriorLevel::Typical => StepSource::Typical,
            };
            even(*count, colour_at)?.into_iter().map(readable).collect()
        }
        (StepChoice::Even(count), None) => {
            ladder.source = StepSource::Geometric;
            geometric(*count)?
        }
    };
    if design.is_by_eye() && matches!(choice, StepChoice::Even(_)) {
        ladder.shares = makeable(&ladder.shares);
    }
    if ladder.alike.is_some() {
        ladder.shares = vec![0.5];
    }
    if let Some((_, colour_at)) = predicted {
        ladder.differences = differences(&ladder.shares, &colour_at);
        ladder.quarters = differences(&Steps::Quarters.shares()?, &colour_at);
    }
    Ok(ladder)
}

type Prediction<'a> = (PriorLevel, Box<dyn Fn(f64) -> Lab + 'a>);

/// Colour by share of the second tube, bent to the parents as they were read.
fn prediction<'a>(prior: &'a Prior, ladder: &Ladder) -> Option<Prediction<'a>> {
    let tubes = [Some(ladder.from), Some(ladder.to), ladder.third.map(|third| third.tube)];
    let level = prior.level(tubes.into_iter().flatten())?;
    let shape = ladder.clone();
    let colour_at =
        move |share: f64| prior.colour(&shape.mixture(share)).unwrap_or(Lab::new(0.0, 0.0, 0.0));
    let ends = [ladder.from, ladder.to].map(|tube| prior.known(tube)?.mass_tone);
    Some(match (ends, ladder.third) {
        ([Some(first), Some(last)], None) => (level, Box::new(anchored(colour_at, first, last))),
        _ => (level, Box::new(colour_at)),
    })
}

/// How far the parents lie apart: as mass tones and, where it can be told, as tints, since dark
/// mass tones of different pigments look alike.
fn parents_apart(design: &Design, prior: &Prior, from: TubeRef, to: TubeRef) -> Option<f64> {
    // Whether two tubes of one pigment are alike is what a trial is made to find out.
    if [from, to].iter().any(|tube| prior.known(*tube).is_some_and(|known| known.guessed)) {
        return None;
    }
    let mass_tone =
        |tube| prior.known(tube)?.mass_tone.or_else(|| prior.colour(&Mixture::neat(tube)));
    let mass_tones = ciede2000(mass_tone(from)?, mass_tone(to)?).value();
    let tint = |tube| prior.colour(&Mixture::of(&[(tube, 1.0), (design.white?, 4.0)]));
    match (tint(from), tint(to)) {
        (Some(one), Some(other)) => Some(mass_tones.max(ciede2000(one, other).value())),
        // A dark mass tone says too little.
        _ => (mass_tone(from)?.l.min(mass_tone(to)?.l) > 40.0).then_some(mass_tones),
    }
}
