//! What a spoilt swatch takes to be painted again.

use plan::amounts::Scale;
use plan::{CellNumber, PileRef, Source, StepRef, Work};
use study::{Basis, TubeRef};

use crate::run::Run;

/// How a spoilt swatch is painted again. Amounts are in the unit of the plan's measure.
#[derive(Debug, Clone, PartialEq)]
pub struct Redo {
    /// The step whose paint it takes.
    pub step: StepRef,
    /// What the swatch itself takes.
    pub takes: f64,
    /// What is left of that paint.
    pub left: f64,
    /// What is still to be made from it besides.
    pub owed: f64,
    /// What to mix again, where not enough is left: each source with its amount.
    pub again: Vec<(Source, f64)>,
    /// Sources of which there is not enough: each with what is left of it.
    pub lacking: Vec<(Source, f64)>,
}

impl Run {
    /// What painting a swatch again takes; `None` for one that was never spoilt, or is laid again.
    /// `left_ml` is what was left in each tube before the trial, by [`TubeRef`].
    #[must_use]
    pub fn redo(&self, swatch: CellNumber, left_ml: &[Option<f64>]) -> Option<Redo> {
        let square = self.square(swatch)?;
        if square.spoilt.is_empty() || square.laid.is_some() {
            return None;
        }
        let step = self.piles.step(swatch)?;
        let takes = self.design.supply.one_swatch();
        let straight = matches!(self.plan[step].work, Work::Straight { .. });
        // Straight from the tube nothing lies ready.
        let left = if straight { 0.0 } else { self.piles.left(step).max(0.0) };
        let owed = self.owed(step, swatch);
        let short = takes + owed - left;
        let again = if short > 1e-9 { self.again(step, short) } else { Vec::new() };
        let lacking = again.iter().filter_map(|part| self.lacking(*part, left_ml)).collect();
        Some(Redo { step, takes, left, owed, again, lacking })
    }

    /// What other swatches and piles are still to take of a step's paint.
    fn owed(&self, step: StepRef, but: CellNumber) -> f64 {
        let Work::Mix(pile) = self.plan[step].work else { return 0.0 };
        let unlaid = |number: &&CellNumber| {
            **number != but && self.square(**number).is_some_and(|it| it.laid.is_none())
        };
        let swatches = self.plan[pile].cells.iter().filter(unlaid).count() as f64;
        let mut owed = swatches * self.design.supply.one_swatch();
        for (at, other) in self.plan.piles.iter().enumerate() {
            if self.is_made(self.piles.step_of(PileRef(at))) {
                continue;
            }
            let of_pile =
                other.components.iter().filter(|(source, _)| *source == Source::Pile(pile));
            owed += of_pile.map(|(_, amount)| amount).sum::<f64>();
        }
        owed
    }

    /// The planned components in the same ratio, for at least `short` more, each weighable.
    fn again(&self, step: StepRef, short: f64) -> Vec<(Source, f64)> {
        let planned = self.piles.planned(step);
        let total: f64 = planned.iter().map(|(_, amount)| amount).sum();
        let scarce = planned.iter().map(|(_, amount)| *amount).fold(f64::INFINITY, f64::min);
        let supply = &self.design.supply;
        let scale = match supply.measure {
            Basis::Eye => None,
            _ => Scale::new(supply.resolution).ok(),
        };
        let mut factor = short / total;
        if let (Some(scale), [_, _, ..]) = (scale, planned.as_slice()) {
            factor = factor.max(scale.least() / scarce);
        }
        let amount = |amount: f64| match scale {
            Some(scale) => scale.enough(amount * factor),
            None => amount * factor,
        };
        planned.into_iter().map(|(source, planned)| (source, amount(planned))).collect()
    }

    fn lacking(
        &self,
        (source, amount): (Source, f64),
        left_ml: &[Option<f64>],
    ) -> Option<(Source, f64)> {
        let left = match source {
            Source::Tube(tube) => self.left_in_tube(tube, left_ml)?,
            Source::Pile(pile) => self.piles.left(self.piles.step_of(pile)).max(0.0),
        };
        (amount > left + 1e-9).then_some((source, left))
    }

    /// What the plan leaves in a tube, in the unit of the measure.
    fn left_in_tube(&self, tube: TubeRef, left_ml: &[Option<f64>]) -> Option<f64> {
        let left = left_ml.get(tube.0).copied().flatten()?;
        let paint = self.plan.costs.paint.iter().find(|need| need.tube == tube);
        let after = (left - paint.map_or(0.0, |need| need.millilitres)).max(0.0);
        Some(match self.design.supply.measure {
            Basis::Weight => after * self.design.supply.film.density_g_ml,
            _ => after,
        })
    }
}
