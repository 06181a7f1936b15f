//! The tint ladder of a tube: mass tone, then each step with more white.

use study::{Averages, RatioError, Study, SwatchColour, Uncertain};

use crate::between::Between;

/// Parts of white count as the same within this share (3 %).
const SAME_PARTS: f64 = 0.03;

/// One step of a tint ladder.
#[derive(Debug, Clone)]
pub(super) struct Step {
    /// Parts of white to one part of the tube; 0 is the mass tone.
    pub white_parts: f64,
    pub colour: SwatchColour,
    /// How far the colour moves (Lab) when the ratio is off by its 95 % half-width.
    pub ratio: [f64; 3],
    /// 95 % half-width of ln(parts of white).
    pub ratio_half_width: f64,
    /// 95 % half-width of ln(parts of white) that the hand adds, as the ladders tell. In colours it is part of how far
    /// squares lie apart already.
    pub hand: f64,
    /// Its parts were put out by eye.
    pub by_eye: bool,
    /// Its ratio was estimated from its colour.
    pub estimated: bool,
}

impl Step {
    pub fn uncertain(&self) -> Uncertain {
        self.colour.uncertain(self.ratio)
    }

    /// 95 % half-width of ln(parts of white), the hand and all.
    pub fn amount_half_width(&self) -> f64 {
        self.ratio_half_width.hypot(self.hand)
    }
}

/// A tube's steps, fewest parts of white first.
#[derive(Debug, Clone, Default)]
pub(super) struct Ladder {
    pub steps: Vec<Step>,
}

impl Ladder {
    /// The ladders of all tubes of a study, by tube. The white has none.
    pub fn of_all(study: &Study, averages: &Averages, between: Between) -> Vec<Self> {
        let mut ladders = vec![Self::default(); study.tubes.len()];
        for averaged in averages.dry_on_paper() {
            let mut colours = averaged.mixture.colours(study.white);
            let (Some(part), None) = (colours.next(), colours.next()) else { continue };
            let Some(white_parts) = study.white_per_colour(&averaged.mixture) else { continue };
            let share = 1.0 / (1.0 + white_parts);
            ladders[part.tube.0].steps.push(Step {
                white_parts,
                colour: between.square(&averaged.colour, white_parts > 0.0),
                ratio: [0.0; 3],
                ratio_half_width: if white_parts > 0.0 {
                    study.protocol.ratio_half_width(averaged.ratio_error, share, 1.0 - share)
                } else {
                    0.0
                },
                hand: colour::NORMAL_95 * between.hand,
                by_eye: white_parts > 0.0 && study.protocol.is_by_eye(averaged.ratio_error),
                estimated: matches!(averaged.ratio_error, RatioError::Estimated(_)),
            });
        }
        for ladder in &mut ladders {
            ladder.steps.sort_by(|one, other| one.white_parts.total_cmp(&other.white_parts));
            ladder.fill_ratio_part();
        }
        ladders
    }

    /// Without the steps whose ratio was estimated: what K and S said of them is no news to a strength.
    pub fn without_estimates(&self) -> Self {
        let steps = self.steps.iter().filter(|step| !step.estimated);
        Self { steps: steps.cloned().collect() }
    }

    /// The mass tone.
    pub fn mass_tone(&self) -> Option<&Step> {
        self.steps.first().filter(|step| step.white_parts == 0.0)
    }

    /// The steps that hold white.
    pub fn tints(&self) -> &[Step] {
        let from = self.steps.iter().take_while(|step| step.white_parts == 0.0).count();
        &self.steps[from..]
    }

    /// The step at the same parts of white, within 3 %.
    pub fn at(&self, white_parts: f64) -> Option<&Step> {
        self.steps.iter().filter(|step| same_parts(step.white_parts, white_parts)).min_by(
            |one, other| {
                let off = |step: &Step| (step.white_parts - white_parts).abs();
                off(one).total_cmp(&off(other))
            },
        )
    }

    /// Place of the step of highest chroma, the mass tone included.
    pub fn truest(&self) -> Option<usize> {
        let chroma = |at: &usize| self.steps[*at].colour.lab.chroma();
        (0..self.steps.len()).max_by(|one, other| chroma(one).total_cmp(&chroma(other)))
    }

    fn fill_ratio_part(&mut self) {
        let from = self.steps.len() - self.tints().len();
        let points: Vec<(f64, [f64; 3])> = self.steps[from..]
            .iter()
            .map(|step| (step.white_parts.ln(), step.colour.lab.axes()))
            .collect();
        for at in 0..points.len() {
            let half = self.steps[from + at].ratio_half_width;
            self.steps[from + at].ratio = slope(&points, at).map(|slope| slope * half);
        }
    }
}

/// True where two numbers of parts of white count as the same (within 3 %).
#[must_use]
pub fn same_parts(one: f64, other: f64) -> bool {
    (one - other).abs() <= SAME_PARTS * one.max(other)
}

/// Slope of a ladder of colours at one of its points, from the neighbours; zero where there are
/// none.
pub(super) fn slope(points: &[(f64, [f64; 3])], at: usize) -> [f64; 3] {
    let (left, right) = (at.saturating_sub(1), (at + 1).min(points.len().saturating_sub(1)));
    let run = points[right].0 - points[left].0;
    if run <= 0.0 {
        return [0.0; 3];
    }
    std::array::from_fn(|axis| (points[right].1[axis] - points[left].1[axis]) / run)
}
