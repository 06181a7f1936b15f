//! How vivid a colour is beside the most vivid that this trial's tubes can mix there.

use std::fmt;

use colour::{Lab, Reflectance, unsigned_distance};
use mixing::{Constants, InternalReflectance, Surface, predict};
use study::{FittedTubes, Study, TubeRef};

use crate::interval::WhyNot;

/// What lies within this of a colour in hue, degrees, and in L* stands beside it.
const HUE_WINDOW: f64 = 10.0;
const LIGHTNESS_WINDOW: f64 = 10.0;
/// Ratios of each pair, by strength, and parts of white with each.
const RATIOS: usize = 15;
const WHITES: usize = 15;

/// How painters call it (ours).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum VividnessWord {
    /// 85 % or more of the highest chroma there.
    Vivid,
    /// 60 % or more.
    Softened,
    /// 35 % or more.
    Muted,
    /// Less, and every colour that is near neutral.
    Neutral,
}

impl fmt::Display for VividnessWord {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Vivid => "vivid",
            Self::Softened => "softened",
            Self::Muted => "muted",
            Self::Neutral => "neutral",
        })
    }
}

/// C* over the highest C* that is predicted for any pair of the trial's tubes with white, within 10° of
/// hue and 10 of L* (ours).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Vividness {
    /// 0 to 1, and a little above where the mixture is more vivid than any prediction.
    pub share: f64,
    /// The same as a word.
    pub word: VividnessWord,
}

impl Vividness {
    fn of(share: f64) -> Self {
        let word = match share {
            share if share >= 0.85 => VividnessWord::Vivid,
            share if share >= 0.60 => VividnessWord::Softened,
            share if share >= 0.35 => VividnessWord::Muted,
            _ => VividnessWord::Neutral,
        };
        Self { share, word }
    }
}

/// The colours that the tubes of a trial can mix, two by two, with white.
#[derive(Debug)]
pub(super) struct Reach(Vec<Lab>);

impl Reach {
    pub fn of(study: &Study, fitted: &FittedTubes) -> Self {
        let known = |tube: TubeRef| fitted.tubes.get(tube.0)?.constants.as_ref();
        let Some(white) = study.white.and_then(known) else { return Self(Vec::new()) };
        let tubes: Vec<&Constants> = (0..study.tubes.len())
            .map(TubeRef)
            .filter(|tube| Some(*tube) != study.white)
            .filter_map(known)
            .collect();
        let painter = Painter { study, white, surface: fitted.surface, paper: fitted.paper };
        let mut colours = Vec::new();
        for (at, one) in tubes.iter().enumerate() {
            painter.tints(&[(1.0, one)], &mut colours);
            for other in &tubes[at + 1..] {
                for share in shares(strength(one), strength(other)) {
                    painter.tints(&[(1.0 - share, one), (share, other)], &mut colours);
                }
            }
        }
        Self(colours)
    }

    pub fn vividness(&self, colour: Lab) -> Result<Vividness, WhyNot> {
        let Some(hue) = colour.hue() else { return Ok(Vividness::of(0.0)) };
        let near = self.0.iter().filter(|other| {
            (other.l - colour.l).abs() <= LIGHTNESS_WINDOW
                && other.hue().is_some_and(|it| unsigned_distance(it, hue) <= HUE_WINDOW)
        });
        let highest =
            near.map(|other| other.chroma()).max_by(f64::total_cmp).ok_or(WhyNot::OutOfReach)?;
        Ok(Vividness::of(colour.chroma() / highest))
    }
}

/// Paints predicted colours.
struct Painter<'a> {
    study: &'a Study,
    white: &'a Constants,
    surface: Option<Surface>,
    paper: Option<InternalReflectance>,
}

impl Painter<'_> {
    /// The mixture thick over paper, and with each number of parts of white.
    fn tints(&self, colours: &[(f64, &Constants)], into: &mut Vec<Lab>) {
        into.push(self.colour(colours));
        let mut parts = colours.to_vec();
        parts.push((0.0, self.white));
        for step in 1..WHITES {
            // From 1 : 0.125 to 1 : 64.
            parts[colours.len()].0 = 0.125 * 512_f64.powf((step - 1) as f64 / (WHITES - 2) as f64);
            into.push(self.colour(&parts));
        }
    }

    fn colour(&self, parts: &[(f64, &Constants)]) -> Lab {
        let total: f64 = parts.iter().map(|(share, _)| share).sum();
        let shares: Vec<(f64, &Constants)> =
            parts.iter().map(|(share, paint)| (share / total, *paint)).collect();
        let film: Reflectance = predict(&shares, self.paper.as_ref()).to_measured(self.surface);
        Lab::from_reflectance(&film, self.study.conditions)
    }
}

/// How much a paint absorbs, on the whole.
fn strength(paint: &Constants) -> f64 {
    (paint.k.iter().sum::<f64>() / paint.k.len() as f64).max(1e-3)
}

/// Shares of the second tube at which the two matter as 1 : 32 to 32 : 1.
fn shares(one: f64, other: f64) -> impl Iterator<Item = f64> {
    (0..RATIOS).map(move |step| {
        let by_strength = 1024_f64.powf(step as f64 / (RATIOS - 1) as f64) / 32.0;
        let parts = by_strength * one / other;
        parts / (1.0 + parts)
    })
}
