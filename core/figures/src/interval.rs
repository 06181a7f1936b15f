//! A figure, its 95 % interval, and the reasons why one or the other is missing.

use std::fmt;

use colour::Lab;
use study::Uncertain;

/// A number with its 95 % interval.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Figure {
    /// The number, in the unit that its field states.
    pub value: f64,
    /// Half the width of the 95 % interval in the same unit, or why there is none.
    pub half_width: Result<f64, WhyNot>,
    /// It points the way and is no measurement: it rests on a picture that does not carry more.
    pub indicative: bool,
}

/// A figure, or why it has no meaning.
pub type Outcome = Result<Figure, WhyNot>;

impl Figure {
    /// A figure whose interval could not be worked out where `half_width` is `None`.
    pub(super) fn with(value: f64, half_width: Option<f64>) -> Self {
        Self { value, half_width: half_width.ok_or(WhyNot::NotSteady), indicative: false }
    }

    /// A figure that is above 0 whatever the readings: a strength, a ratio. An interval that would
    /// reach 0 tells nothing of it.
    pub(super) fn positive(value: f64, half_width: Option<f64>) -> Self {
        Self::with(value, half_width.filter(|half| *half < value))
    }

    /// A figure that is what it is by definition: a reference against itself.
    pub(super) fn exact(value: f64) -> Self {
        Self { value, half_width: Ok(0.0), indicative: false }
    }

    /// A limit, which has no interval.
    pub(super) fn limit(value: f64) -> Self {
        Self { value, half_width: Err(WhyNot::Bound), indicative: false }
    }

    /// The same, which only points the way.
    pub(super) fn as_indicative(self) -> Self {
        Self { indicative: true, ..self }
    }

    /// Lower and upper end of the interval.
    #[must_use]
    pub fn interval(&self) -> Option<[f64; 2]> {
        let half = self.half_width.ok()?;
        Some([self.value - half, self.value + half])
    }
}

/// Why a figure, or its interval, is missing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum WhyNot {
    /// A colour of C* < 2 has no hue.
    NearNeutral,
    /// The mass tone has not been read.
    MassToneUnread,
    /// Fewer than two tints with colour enough to compare.
    TintsUnread,
    /// The same paint as a thin film has not been read.
    ThinFilmUnread,
    /// The parent tube has not been read at the same parts of white.
    ParentUnread,
    /// The film over black or over white has not been read.
    OpacityUnread,
    /// The bare black backing has not been read.
    BareBlackUnread,
    /// The white has not been read alone.
    WhiteUnread,
    /// No other tube with the same pigments stands as the standard.
    NoStandard,
    /// The standard has no tint at these parts of white.
    StandardUnread,
    /// Corrected reflectance below 0.002: only the surface is seen.
    SurfaceFloor,
    /// Corrected reflectance above 1: fluorescent, metallic or pearl, or the wrong sheen.
    AboveOne,
    /// The standard's depth is under three times its uncertainty.
    TooPale,
    /// The two tint ladders share no depth.
    NoSharedDepth,
    /// Y over white is under 15: too dark to tell hiding from darkness.
    Dark,
    /// The mixture's hue meets the straight line between the parents nowhere, or only near grey.
    OffTheLine,
    /// No mixture of the pair has been read.
    MixturesUnread,
    /// The two tubes differ too much in hue for their strengths to be compared.
    OtherFamily,
    /// It has not been read wet.
    WetUnread,
    /// It has not been read after lifting.
    LiftedUnread,
    /// The bare paper has not been read.
    PaperUnread,
    /// Dry, it is within ΔE00 5 of the paper.
    NearPaper,
    /// The two tubes have not been read at this ratio without the others.
    BaseUnread,
    /// A bound has no interval.
    Bound,
    /// It was read from a picture without squares of known colour, which does not carry it.
    Uncalibrated,
    /// The figure itself fails within the uncertainty of what it is worked out from.
    NotSteady,
}

impl WhyNot {
    /// Every reason, for complete tables.
    pub const ALL: &'static [Self] = &[
        Self::NearNeutral,
        Self::MassToneUnread,
        Self::TintsUnread,
        Self::ThinFilmUnread,
        Self::ParentUnread,
        Self::OpacityUnread,
        Self::BareBlackUnread,
        Self::WhiteUnread,
        Self::NoStandard,
        Self::StandardUnread,
        Self::SurfaceFloor,
        Self::AboveOne,
        Self::TooPale,
        Self::NoSharedDepth,
        Self::Dark,
        Self::OffTheLine,
        Self::MixturesUnread,
        Self::OtherFamily,
        Self::WetUnread,
        Self::LiftedUnread,
        Self::PaperUnread,
        Self::NearPaper,
        Self::BaseUnread,
        Self::Bound,
        Self::Uncalibrated,
        Self::NotSteady,
    ];
}

impl fmt::Display for WhyNot {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::NearNeutral => "near neutral (C* below 2): no hue to compare",
            Self::MassToneUnread => "the mass tone has not been read",
            Self::TintsUnread => "fewer than two tints have been read",
            Self::ThinFilmUnread => "the thin film has not been read",
            Self::ParentUnread => "a parent has not been read at these parts of white",
            Self::OpacityUnread => "the film has not been read over black and over white",
            Self::BareBlackUnread => "the bare black has not been read",
            Self::WhiteUnread => "the white has not been read alone",
            Self::NoStandard => "no other tube declares the same pigments",
            Self::StandardUnread => "the standard has not been read at these parts of white",
            Self::SurfaceFloor => "too dark here: the reading shows only the surface",
            Self::AboveOne => {
                "reflects more than all light here: fluorescent, metallic or pearl, or the wrong sheen"
            }
            Self::TooPale => "too pale: the standard's depth is under three times its uncertainty",
            Self::NoSharedDepth => "their tints don't overlap in depth",
            Self::Dark => "dark: over white it is hardly lighter than over black",
            Self::OffTheLine => "the mixture's hue meets the line between its parents nowhere, or only near grey",
            Self::MixturesUnread => "no mixture of this pair has been read",
            Self::OtherFamily => "another colour: strengths are compared only between tubes of like hue",
            Self::WetUnread => "it has not been read wet",
            Self::LiftedUnread => "it has not been read after lifting",
            Self::PaperUnread => "the bare paper has not been read",
            Self::NearPaper => "too near the paper to tell what is left of it",
            Self::BaseUnread => "its pair has not been read at this ratio",
            Self::Bound => "only a limit is known",
            Self::Uncalibrated => {
                "read from a picture without squares of known colour, which cannot tell it"
            }
            Self::NotSteady => "too uncertain for an interval",
        })
    }
}

/// Half-width of a figure by numeric derivatives, added in quadrature. `None` where the figure
/// fails within the half-width of an input.
pub(super) fn propagate(
    values: &[f64],
    half_widths: &[f64],
    figure: impl Fn(&[f64]) -> Option<f64>,
) -> Option<f64> {
    let [half] = propagate_together(values, half_widths, |values| Some([figure(values)?]))?;
    Some(half)
}

/// [`propagate`] for figures that are worked out together. An input that is uncertain without limit
/// leaves them without an interval.
pub(super) fn propagate_together<const N: usize>(
    values: &[f64],
    half_widths: &[f64],
    figures: impl Fn(&[f64]) -> Option<[f64; N]>,
) -> Option<[f64; N]> {
    propagate_in_steps(values, half_widths, half_widths, figures)
}

/// [`propagate_together`], each input moved by its step, which is at most its half-width: for inputs
/// that must keep their order.
pub(super) fn propagate_in_steps<const N: usize>(
    values: &[f64],
    half_widths: &[f64],
    steps: &[f64],
    figures: impl Fn(&[f64]) -> Option<[f64; N]>,
) -> Option<[f64; N]> {
    let mut trial = values.to_vec();
    let mut sums = [0.0; N];
    let inputs = half_widths.iter().zip(steps).enumerate();
    for (at, (half, step)) in inputs.filter(|(_, (half, _))| **half > 0.0) {
        // An input that has no room to move, and is uncertain, says nothing of what it does.
        if *step <= 0.0 {
            return None;
        }
        trial[at] = values[at] + step;
        let above = figures(&trial)?;
        trial[at] = values[at] - step;
        let below = figures(&trial)?;
        trial[at] = values[at];
        for (sum, (above, below)) in sums.iter_mut().zip(above.into_iter().zip(below)) {
            *sum += ((above - below) / 2.0 * (half / step)).powi(2);
        }
    }
    let half_widths = sums.map(f64::sqrt);
    half_widths.iter().all(|half| half.is_finite()).then_some(half_widths)
}

/// [`propagate`] for a figure of colours.
pub(super) fn propagate_colours<const N: usize>(
    inputs: [Uncertain; N],
    figure: impl Fn([Lab; N]) -> Option<f64>,
) -> Option<f64> {
    let half_widths: Vec<f64> = inputs
        .iter()
        .flat_map(|input| [input.reading[0], input.reading[1], input.reading[2], 1.0])
        .collect();
    let values = vec![0.0; half_widths.len()];
    propagate(&values, &half_widths, |offsets| {
        figure(std::array::from_fn(|at| {
            let (input, offset) = (inputs[at], &offsets[at * 4..at * 4 + 4]);
            let axes = input.lab.axes();
            Lab::from_axes(std::array::from_fn(|axis| {
                axes[axis] + offset[axis] + offset[3] * input.ratio[axis]
            }))
        }))
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The law of propagation for a product: relative half-widths add in quadrature.
    #[test]
    fn half_widths_add_in_quadrature() {
        let product = |values: &[f64]| Some(values[0] * values[1]);
        let half = propagate(&[10.0, 20.0], &[0.3, 0.8], product).expect("a product");
        assert!((half - 200.0 * 0.03_f64.hypot(0.04)).abs() < 1e-9);
        let broken = |values: &[f64]| (values[0] > 9.9).then_some(values[0]);
        assert_eq!(propagate(&[10.0], &[0.3], broken), None);
    }

    /// A ratio part moves all three axes of a colour together.
    #[test]
    fn the_ratio_part_moves_a_colour_as_a_whole() {
        let colour = Uncertain {
            lab: Lab::new(50.0, 30.0, 40.0),
            reading: [0.0; 3],
            ratio: [1.0, 0.3, 0.4],
        };
        let chroma = propagate_colours([colour], |[lab]| Some(lab.chroma()));
        assert!((chroma.expect("a chroma") - 0.5).abs() < 1e-9);
        let lightness = propagate_colours([colour], |[lab]| Some(lab.l));
        assert!((lightness.expect("a lightness") - 1.0).abs() < 1e-9);
    }
}
