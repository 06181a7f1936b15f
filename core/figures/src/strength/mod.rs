//! Tinting strength against a standard, in two ways that are both shown.
//!
//! *Same ratio* ([`same_ratio`]) compares K/S at the same parts of white, and tells what the
//! pigment load does. *Equal depth* ([`equal_depth`]) compares the parts of white that bring both
//! to the same depth, and tells what the user does. They agree for one pigment at two loads; where
//! they do not, the pigments differ. Frame: ISO 787-24, ISO 18314-2, ASTM D4838.

mod equal_depth;
mod lightening;
mod same_ratio;

pub use equal_depth::{Bound, EqualDepth, EqualStrengthColour};
pub use lightening::LighteningPower;
pub(crate) use lightening::{is_white, lightening_power};
pub use same_ratio::{SameRatio, StrengthBasis};
use study::{Study, SwatchColour, TubeRef, Warning};

use crate::footing::{ByDevice, Footing};
use crate::interval::{Figure, Outcome, WhyNot};
use crate::ladder::Ladder;

/// Tinting strength of a tube against its standard.
#[derive(Debug, Clone, PartialEq)]
pub struct Strength {
    /// What stands at 100 %.
    pub standard: TubeRef,
    /// One entry for each tint that both have, fewest parts of white first.
    pub same_ratio: Vec<SameRatio>,
    /// The entry to quote: where the standard's corrected reflectance is nearest 0.41.
    pub headline: Option<usize>,
    /// Parts of white to the same depth.
    pub equal_depth: Result<EqualDepth, WhyNot>,
    /// The two colours once they are equally deep.
    pub colour_at_equal_strength: Result<EqualStrengthColour, WhyNot>,
}

impl Strength {
    /// The strength to quote, with its bound: equal depth where it answers, else the same ratio,
    /// else a limit. `None` where there is neither.
    #[must_use]
    pub fn quoted(&self) -> Option<(Figure, Option<Bound>)> {
        match (&self.equal_depth, self.headline()) {
            (Ok(depth), _) if depth.bound.is_none() => Some((depth.percent, None)),
            (_, Some(headline)) => Some((headline.percent.ok()?, None)),
            (Ok(depth), None) => Some((depth.percent, depth.bound)),
            (Err(_), None) => None,
        }
    }

    /// Equal depth and the same ratio, in percent, where they answer differently: apart by more than
    /// both their intervals, and by more than a twentieth (ours).
    #[must_use]
    pub fn contradiction(&self) -> Option<(Figure, Figure)> {
        let (depth, ratio) = self.both_methods()?;
        let apart = (depth.value / ratio.value).ln().abs();
        (self.disagrees() && apart > 1.05_f64.ln()).then_some((depth, ratio))
    }

    /// True where equal depth and the same ratio lie apart by more than both their intervals.
    #[must_use]
    pub fn disagrees(&self) -> bool {
        let intervals = |(depth, ratio): (Figure, Figure)| depth.interval().zip(ratio.interval());
        self.both_methods().and_then(intervals).is_some_and(
            |([low, high], [other_low, other_high])| low > other_high || other_low > high,
        )
    }

    /// A tint that the quoted strength rests on was put out by eye.
    #[must_use]
    pub fn is_by_eye(&self) -> bool {
        let by_depth = self.equal_depth.as_ref().is_ok_and(|depth| depth.by_eye);
        by_depth || self.headline().is_some_and(|entry| entry.by_eye)
    }

    fn both_methods(&self) -> Option<(Figure, Figure)> {
        let depth = self.equal_depth.as_ref().ok().filter(|depth| depth.bound.is_none())?;
        Some((depth.percent, self.headline()?.percent.ok()?))
    }

    /// The same-ratio entry to quote.
    #[must_use]
    pub fn headline(&self) -> Option<&SameRatio> {
        self.same_ratio.get(self.headline?)
    }
}

/// A tube and its standard with all that strength needs of them.
pub(super) struct Contest<'a> {
    pub study: &'a Study,
    pub standard_tube: TubeRef,
    pub sample: &'a Ladder,
    pub standard: &'a Ladder,
    pub white: Option<&'a SwatchColour>,
    /// A tube against itself is 100 % by definition.
    pub itself: bool,
    /// Both declare the same pigments: what a picture gets wrong of one it gets wrong of the other.
    pub same_pigments: bool,
}

/// What a strength from pictures is off by, as a share of it (docs/science.md, "A picture of a sheet").
const SAME_PIGMENTS: ByDevice = ByDevice(0.05, 0.12);
const SAME_PIGMENTS_UNCALIBRATED: ByDevice = ByDevice(0.05, 0.14);
pub(super) const UNLIKE_AT_ONE_RATIO: ByDevice = ByDevice(0.10, 0.16);
const UNLIKE_AT_ONE_DEPTH: ByDevice = ByDevice(0.30, 0.30);

/// By which of the two methods.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Method {
    SameRatio,
    EqualDepth,
}

/// What pictures leave of a strength.
#[derive(Debug, Clone, Copy)]
pub(super) struct PictureStrength {
    /// Of the readings' own half-widths.
    pub left: f64,
    /// What comes to them, as a share of the figure.
    pub share: f64,
    indicative: bool,
}

impl PictureStrength {
    /// Of a strength by one method.
    ///
    /// # Errors
    /// [`WhyNot::Uncalibrated`] where the picture does not carry it.
    pub fn of(footing: Footing, method: Method, same_pigments: bool) -> Result<Self, WhyNot> {
        if !footing.is_picture() {
            return Ok(Self { left: 1.0, share: 0.0, indicative: false });
        }
        let (share, indicative) = match (footing.is_uncalibrated(), method, same_pigments) {
            (true, Method::EqualDepth, true) if footing.in_one => {
                (SAME_PIGMENTS_UNCALIBRATED, false)
            }
            (true, ..) => return Err(WhyNot::Uncalibrated),
            (false, _, true) => (SAME_PIGMENTS, false),
            (false, Method::SameRatio, false) => (UNLIKE_AT_ONE_RATIO, footing.is_photo),
            (false, Method::EqualDepth, false) => (UNLIKE_AT_ONE_DEPTH, true),
        };
        Ok(Self {
            // Within one picture the share stands for all that its readings get wrong.
            left: if footing.in_one { 0.0 } else { 1.0 },
            share: footing.half_width(share),
            indicative: indicative || footing.is_guessed(),
        })
    }

    /// The figure with what the pictures add to it.
    pub fn widened(self, figure: Figure) -> Figure {
        let half = figure.half_width.map(|half| half.hypot(self.share * figure.value));
        let figure = Figure { half_width: half, ..figure };
        if self.indicative { figure.as_indicative() } else { figure }
    }
}

impl Contest<'_> {
    /// What these colours were read with, and the white.
    fn footing<'c>(&'c self, colours: impl IntoIterator<Item = &'c SwatchColour>) -> Footing {
        Footing::of(colours.into_iter().chain(self.white))
    }

    fn pictures(&self, footing: Footing, method: Method) -> Result<PictureStrength, WhyNot> {
        PictureStrength::of(footing, method, self.same_pigments)
    }
}

/// The same of a figure that may be missing.
fn widened(pictures: PictureStrength, figure: Outcome) -> Outcome {
    figure.map(|figure| pictures.widened(figure))
}

/// Strength of the sample by both methods.
pub(super) fn strength(contest: &Contest<'_>) -> Strength {
    let same_ratio = same_ratio::same_ratio(contest);
    let (equal_depth, colour_at_equal_strength) = match equal_depth::equal_depth(contest) {
        Ok((depth, colour)) => (Ok(depth), colour),
        Err(why) => (Err(why), Err(why)),
    };
    Strength {
        standard: contest.standard_tube,
        headline: same_ratio::headline(&same_ratio),
        same_ratio,
        equal_depth,
        colour_at_equal_strength,
    }
}

/// Strength that moves along the ladder by more than a tenth, and by more than its intervals.
pub(super) fn wandering(name: &str, strength: &Strength) -> Option<Warning> {
    let figures: Vec<_> =
        strength.same_ratio.iter().filter_map(|entry| entry.percent.ok()).collect();
    let headline = strength.headline()?.percent.ok()?.value;
    let by_value = |one: &&Figure, other: &&Figure| one.value.total_cmp(&other.value);
    let (low, high) = (figures.iter().min_by(by_value)?, figures.iter().max_by(by_value)?);
    let moved = high.value - low.value;
    let unsure = low.half_width.unwrap_or(0.0) + high.half_width.unwrap_or(0.0);
    (moved > 0.1 * headline && moved > unsure).then(|| Warning {
        line: None,
        message: format!(
            "{name}: its strength moves from {:.0} % to {:.0} % along the ladder; it scatters, or \
             contains white",
            low.value, high.value
        ),
    })
}
