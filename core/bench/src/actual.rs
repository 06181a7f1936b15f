//! What each pile really holds, and how surely.
//!
//! A pile is what its components were, each with what it held when it was taken. Amounts that were
//! not noted are those of the plan; a pile that is all as planned holds the planned ratio.

use std::sync::Arc;

use plan::{CellNumber, Design, PileRef, Plan, Source, StepRef, Work};
use study::{Basis, Mixture, Part, RatioError};

use crate::event::Made;

/// What a pile or a swatch holds.
#[derive(Debug, Clone, PartialEq)]
pub struct ActualMixture {
    /// The tubes with their parts.
    pub mixture: Mixture,
    /// How far its ratio may be off: of its colours to each other, or of its one colour to white.
    pub ratio_error: RatioError,
    /// It is not what was planned.
    pub deviates: bool,
}

/// The palette as the run goes on.
#[derive(Debug, Clone)]
pub(super) struct Piles {
    plan: Arc<Plan>,
    design: Arc<Design>,
    /// By step: what was made in it last.
    made: Vec<Option<ActualMixture>>,
    /// By step: how much is left of it, in the unit of the measure.
    left: Vec<f64>,
    /// The step that makes each pile.
    step_of: Vec<StepRef>,
    /// The step that each swatch is painted in, by number less 1.
    painted_in: Vec<Option<StepRef>>,
}

impl Piles {
    pub fn of(plan: &Arc<Plan>, design: &Arc<Design>) -> Self {
        let mut step_of = vec![StepRef(0); plan.piles.len()];
        for (at, step) in plan.steps.iter().enumerate() {
            if let Work::Mix(pile) = step.work {
                step_of[pile.0] = StepRef(at);
            }
        }
        let mut painted_in = vec![None; plan.swatches.len()];
        for turn in plan.turns() {
            if let Some(painted) = turn.swatch.place().and_then(|at| painted_in.get_mut(at)) {
                *painted = turn.step;
            }
        }
        Self {
            plan: Arc::clone(plan),
            design: Arc::clone(design),
            made: vec![None; plan.steps.len()],
            left: vec![0.0; plan.steps.len()],
            step_of,
            painted_in,
        }
    }

    /// The step that a swatch is painted in; `None` for a bare backing.
    pub fn step(&self, swatch: CellNumber) -> Option<StepRef> {
        swatch.of(&self.painted_in).copied().flatten()
    }

    /// How much is left of what a step made.
    pub fn left(&self, step: StepRef) -> f64 {
        self.left.get(step.0).copied().unwrap_or_default()
    }

    pub fn step_of(&self, pile: PileRef) -> StepRef {
        self.step_of.get(pile.0).copied().unwrap_or(StepRef(0))
    }

    /// What a swatch holds when it is painted now.
    pub fn held_by(&self, swatch: CellNumber) -> Option<ActualMixture> {
        let mixture = self.plan.swatch(swatch)?.mixture.clone();
        let as_planned =
            ActualMixture { mixture, ratio_error: self.planned_error(swatch), deviates: false };
        let made = self.step(swatch).and_then(|step| self.made[step.0].as_ref());
        Some(match made {
            Some(held) if held.deviates => held.clone(),
            Some(held) => ActualMixture { ratio_error: held.ratio_error, ..as_planned },
            None => as_planned,
        })
    }

    /// How far the planned ratio of a swatch may be off.
    pub fn planned_error(&self, swatch: CellNumber) -> RatioError {
        self.step(swatch).map_or(RatioError::AsStated, |step| self.error_as_planned(step))
    }

    /// A swatch takes its paint.
    pub fn take(&mut self, swatch: CellNumber) {
        let Some(step) = self.step(swatch) else { return };
        let one = self.design.supply.one_swatch();
        let times = match &self.plan[step].work {
            Work::Straight { cells, .. } => cells,
            Work::Mix(pile) => &self.plan[*pile].cells,
        };
        let times = times.iter().filter(|it| **it == swatch).count().max(1);
        self.left[step.0] -= one * times as f64;
    }

    /// Puts a pile together.
    pub fn make(&mut self, made: &Made) {
        let step = &self.plan[made.step];
        if let Some(kept) = &step.clear {
            for (at, left) in self.left.iter_mut().enumerate() {
                let stays = matches!(self.plan.steps[at].work, Work::Mix(it) if kept.contains(&it));
                if !stays {
                    *left = 0.0;
                }
            }
        }
        let parts =
            if made.parts.is_empty() { self.planned(made.step) } else { made.parts.clone() };
        let held = self.held(made, &parts);
        for (source, amount) in &parts {
            if let Source::Pile(of) = source {
                let of = self.step_of(*of);
                self.left[of.0] -= amount;
            }
        }
        self.left[made.step.0] += parts.iter().map(|(_, amount)| amount).sum::<f64>();
        self.made[made.step.0] = Some(held);
    }

    /// What a step puts together by the plan.
    pub fn planned(&self, step: StepRef) -> Vec<(Source, f64)> {
        match &self.plan[step].work {
            Work::Straight { tube, cells } => {
                let amount = self.design.supply.one_swatch() * cells.len() as f64;
                vec![(Source::Tube(*tube), amount)]
            }
            Work::Mix(pile) => {
                let components = self.plan[*pile].components;
                components.into_iter().filter(|(_, amount)| *amount > 0.0).collect()
            }
        }
    }

    fn held(&self, made: &Made, parts: &[(Source, f64)]) -> ActualMixture {
        let taken = |source: &Source| match source {
            Source::Tube(_) => None,
            Source::Pile(of) => self.made[self.step_of(*of).0].as_ref(),
        };
        let strayed = parts.iter().filter_map(|(source, _)| taken(source)).any(|it| it.deviates);
        let deviates = strayed || !made.parts.is_empty();
        let mixture = if deviates {
            let added = Mixture::new(parts.iter().flat_map(|(source, amount)| {
                let held = taken(source).map(|held| &held.mixture);
                of_source(&self.plan, source, held, *amount)
            }));
            Mixture::new(added.parts().iter().copied().map(without_dust))
        } else {
            self.plan.makes(&self.plan[made.step])
        };
        ActualMixture { mixture, ratio_error: self.error(made, parts), deviates }
    }

    /// One standard deviation of ln of the ratio.
    fn error(&self, made: &Made, parts: &[(Source, f64)]) -> RatioError {
        if let Some(base_mix) = self.base_mix(parts) {
            return self.error_of(base_mix);
        }
        if made.how == Basis::Eye {
            return RatioError::ByEye;
        }
        let mut squares = 0.0;
        for (source, amount) in parts {
            let own = match made.how {
                Basis::Weight => self.design.supply.resolution / 12.0_f64.sqrt() / amount,
                _ => VOLUME_ERROR,
            };
            squares += own * own;
            let of = match source {
                Source::Pile(of) => self.error_of(*of),
                Source::Tube(_) => RatioError::Known(0.0),
            };
            match of {
                RatioError::Known(before) => squares += before * before,
                RatioError::ByEye | RatioError::Estimated(_) => return RatioError::ByEye,
                RatioError::AsStated => {}
            }
        }
        if parts.len() < 2 { RatioError::Known(0.0) } else { RatioError::Known(squares.sqrt()) }
    }

    /// The mixture of several colours that nothing but white joins here: where its colours met, its
    /// ratio was decided.
    fn base_mix(&self, parts: &[(Source, f64)]) -> Option<PileRef> {
        let of_white = |source: &Source| match source {
            Source::Tube(tube) => Some(*tube) == self.design.white,
            Source::Pile(_) => false,
        };
        let mut others = parts.iter().map(|(source, _)| source).filter(|source| !of_white(source));
        match (others.next()?, others.next()) {
            (Source::Pile(of), None) => {
                let colours = self.plan.piles.get(of.0)?.holds.colours(self.design.white);
                (colours.count() > 1).then_some(*of)
            }
            _ => None,
        }
    }

    fn error_of(&self, pile: PileRef) -> RatioError {
        let step = self.step_of(pile);
        self.made[step.0]
            .as_ref()
            .map_or_else(|| self.error_as_planned(step), |held| held.ratio_error)
    }

    fn error_as_planned(&self, step: StepRef) -> RatioError {
        let made =
            Made { step, how: self.design.supply.measure, parts: Vec::new(), simulated: false };
        self.error(&made, &self.planned(step))
    }
}

/// Error of a part by volume, one standard deviation, as a share of it.
const VOLUME_ERROR: f64 = 0.05;

/// Parts to 12 decimals of the plan's unit: sums of floats else end in `0000000000006`, and so do the files.
fn without_dust(part: Part) -> Part {
    let rounded = (part.parts * 1e12).round() / 1e12;
    Part { parts: if rounded > 0.0 { rounded } else { part.parts }, ..part }
}

/// So much of a source as parts of its tubes.
fn of_source(plan: &Plan, source: &Source, held: Option<&Mixture>, amount: f64) -> Vec<Part> {
    match source {
        Source::Tube(tube) => vec![Part { tube: *tube, parts: amount }],
        Source::Pile(of) => {
            let Some(mixture) = held.or_else(|| plan.piles.get(of.0).map(|pile| &pile.holds))
            else {
                return Vec::new();
            };
            let total = mixture.total();
            let part = |part: &Part| Part { tube: part.tube, parts: part.parts / total * amount };
            mixture.parts().iter().map(part).collect()
        }
    }
}
