//! A design to its plan.

use std::ops::Index;

use serde::{Deserialize, Serialize};
use study::{Mixture, TubeRef};

use crate::charts::{Cell, Row, Squares};
use crate::costs::{Costs, PaintNeed};
use crate::design::{Chart, Design, Question, StepChoice, Thinning};
use crate::error::PlanError;
use crate::filling::fill_in_order;
use crate::ladder::Ladder;
use crate::limits::{MOST_GRID, MOST_LADDERS, MOST_SQUARES};
use crate::numbers::{CellNumber, PileRef, StepRef};
use crate::piles::{self, Pile};
use crate::prior::{POOR_FIT, Prior, PriorLevel};
use crate::remark::Remark;
use crate::schedule::{self, Step, Work};
use crate::swatch::Swatch;

/// A whole plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Plan {
    /// The swatches by number, from 1: as they stand on the sheets, row by row.
    pub swatches: Vec<Swatch>,
    /// The rows of the sheets.
    pub rows: Vec<Row>,
    /// The ladders, with where their ratios come from.
    pub ladders: Vec<Ladder>,
    /// The piles, in working order.
    pub piles: Vec<Pile>,
    /// The work, step by step.
    pub steps: Vec<Step>,
    /// What it takes.
    pub costs: Costs,
    /// What to know before starting.
    pub remarks: Vec<Remark>,
}

/// A swatch in the order of work.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Turn {
    /// Its number.
    pub swatch: CellNumber,
    /// The step it is painted in; `None` for a bare backing.
    pub step: Option<StepRef>,
}

impl Plan {
    /// Works out the plan of a design. `left_ml` is what is left in each tube, by [`TubeRef`], as
    /// far as it is known; `prior` covers the same tubes.
    ///
    /// # Errors
    /// Where the design asks for what cannot be made.
    pub fn new(design: &Design, prior: &Prior, left_ml: &[Option<f64>]) -> Result<Self, PlanError> {
        check_film(design)?;
        check_size(design)?;
        let mut squares = Squares::of(design, prior)?;
        let groups = piles::groups(design, prior, &squares)?;
        let mut work = schedule::schedule(design, prior, groups)?;
        if design.is_by_eye() {
            fill_in_order(&mut squares, &mut work);
        }
        let costs = Costs::of(
            design,
            left_ml.len(),
            &squares.swatches,
            &squares.rows,
            &work.piles,
            &work.steps,
        );
        let mut remarks = not_enough(&costs, left_ml);
        remarks.append(&mut squares.remarks);
        for remark in &mut remarks {
            if let Remark::LargeGrid { minutes, .. } = remark {
                *minutes = costs.table_minutes;
            }
        }
        remarks.extend(too_few_to_compare(design));
        remarks.extend(poor_fits(prior, &costs));
        if !work.by_residue {
            remarks.push(Remark::CustomaryOrder { unread: unread(prior, &costs) });
        }
        let typical = typical(prior, &costs);
        if !typical.is_empty() {
            remarks.push(Remark::Typical { tubes: typical });
        }
        if design.pace.dry > 24.0 * 60.0 && costs.waiting_minutes > 0.0 {
            remarks.push(Remark::AnotherDay { days: design.pace.dry / (24.0 * 60.0) });
        }
        Ok(Self {
            swatches: squares.swatches,
            rows: squares.rows,
            ladders: squares.ladders,
            piles: work.piles,
            steps: work.steps,
            costs,
            remarks,
        })
    }

    /// The swatches in the order they are painted, each once with the step that it is painted in; then the
    /// bare backings, which are only read.
    #[must_use]
    pub fn turns(&self) -> Vec<Turn> {
        let mut turns: Vec<Turn> = Vec::with_capacity(self.swatches.len());
        let mut known = vec![false; self.swatches.len() + 1];
        for (at, step) in self.steps.iter().enumerate() {
            let cells = match &step.work {
                Work::Straight { cells, .. } => cells,
                Work::Mix(pile) => &self[*pile].cells,
            };
            for cell in cells {
                if !std::mem::replace(&mut known[cell.0 as usize], true) {
                    turns.push(Turn { swatch: *cell, step: Some(StepRef(at)) });
                }
            }
        }
        let bare = self.swatches.iter().filter(|swatch| swatch.mixture.is_bare());
        turns.extend(bare.map(|swatch| Turn { swatch: swatch.number, step: None }));
        turns
    }

    /// What is made in a step.
    #[must_use]
    pub fn makes(&self, step: &Step) -> Mixture {
        match &step.work {
            Work::Straight { tube, .. } => Mixture::neat(*tube),
            Work::Mix(pile) => self[*pile].holds.clone(),
        }
    }

    /// The swatch of a number.
    #[must_use]
    pub fn swatch(&self, number: CellNumber) -> Option<&Swatch> {
        number.of(&self.swatches)
    }

    /// The tube that is dabbed beside a row when the first square of the row is painted, which this one is.
    #[must_use]
    pub fn dab_beside(&self, number: CellNumber) -> Option<TubeRef> {
        let row = self.rows.iter().find(|row| row.cells.contains(&Cell::First(number)))?;
        let dot = row.cells.iter().find_map(|cell| match cell {
            Cell::Dot(tube) => Some(*tube),
            _ => None,
        })?;
        let first =
            self.turns().into_iter().find(|turn| row.cells.contains(&Cell::First(turn.swatch)))?;
        (first.swatch == number).then_some(dot)
    }

    /// The pile that a swatch is painted from; `None` for paint straight from the tube.
    #[must_use]
    pub fn pile_of(&self, swatch: CellNumber) -> Option<&Pile> {
        self.piles.iter().find(|pile| pile.cells.contains(&swatch))
    }
}

impl Index<StepRef> for Plan {
    type Output = Step;

    fn index(&self, step: StepRef) -> &Step {
        &self.steps[step.0]
    }
}

impl Index<PileRef> for Plan {
    type Output = Pile;

    fn index(&self, pile: PileRef) -> &Pile {
        &self.piles[pile.0]
    }
}

fn check_film(design: &Design) -> Result<(), PlanError> {
    let film = &design.supply.film;
    let sizes = [film.side_mm, film.thickness_mm, film.density_g_ml];
    if sizes.iter().all(|size| *size > 0.0 && size.is_finite()) && film.waste >= 0.0 {
        Ok(())
    } else {
        Err(PlanError::Film)
    }
}

/// Counts the squares before they are made, so that no request works for long.
fn check_size(design: &Design) -> Result<(), PlanError> {
    let pairs = |tubes: usize| tubes * tubes.saturating_sub(1) / 2;
    let passes = match &design.thinning {
        Thinning::White { mixtures, film, .. } => 1 + mixtures.len() + usize::from(*film),
        Thinning::Water => 2,
        Thinning::None => 1,
    };
    let count = |steps: &StepChoice| match steps {
        StepChoice::Even(count) => *count,
        StepChoice::Fixed(steps) => steps.shares().map_or(0, |shares| shares.len()),
    };
    let squares = |chart: &Chart| match chart {
        Chart::Tints(tubes) => tubes.len() * 15,
        Chart::Star { tested, references, steps, .. } => {
            tested.len() * references.len() * (count(steps) + 2) * passes
        }
        Chart::Ladder { steps, .. } => (count(steps) + 2) * passes,
        Chart::Grid { tubes, .. } => tubes.len() * tubes.len(),
        Chart::Pairs { tubes, steps } => pairs(tubes.len()) * (count(steps) + 2) * passes,
        Chart::Triad { steps, .. } => (3 * (count(steps) + 2) + 4) * passes,
        Chart::Temper { parts, .. } => parts.len() * passes,
        Chart::Card(mixtures) => mixtures.len() + 3,
        Chart::Chosen(mixtures) => mixtures.len() * passes,
    };
    if let Some(Chart::Grid { tubes, .. }) = design
        .charts
        .iter()
        .find(|it| matches!(it, Chart::Grid { tubes, .. } if tubes.len() > MOST_GRID))
    {
        return Err(PlanError::GridTooLarge(tubes.len()));
    }
    let ladders = |chart: &Chart| match chart {
        Chart::Star { tested, references, .. } => tested.len() * references.len(),
        Chart::Ladder { .. } => 1,
        Chart::Pairs { tubes, .. } => pairs(tubes.len()),
        Chart::Triad { .. } => 3,
        _ => 0,
    };
    let found: usize = design.charts.iter().map(ladders).sum();
    if found > MOST_LADDERS {
        return Err(PlanError::TooManyLadders(found));
    }
    match design.charts.iter().map(squares).sum() {
        0..=MOST_SQUARES => Ok(()),
        found => Err(PlanError::TooMany(found)),
    }
}

fn not_enough(costs: &Costs, left_ml: &[Option<f64>]) -> Vec<Remark> {
    let lacking = |need: &PaintNeed| {
        let left = left_ml.get(need.tube.0).copied().flatten()?;
        (need.millilitres > left).then_some(Remark::NotEnough {
            tube: need.tube,
            takes_ml: need.millilitres,
            left_ml: left,
        })
    };
    costs.paint.iter().filter_map(lacking).collect()
}

/// Which is stronger takes two tubes, and more than one tint of each.
fn too_few_to_compare(design: &Design) -> Option<Remark> {
    if design.question != Question::Stronger {
        return None;
    }
    let alone = design.charts.iter().find_map(|chart| match chart {
        Chart::Tints(tubes) => Some(tubes.len()),
        _ => None,
    })?;
    match &design.thinning {
        _ if alone < 2 => Some(Remark::OneTube),
        Thinning::White { alone, .. } if alone.len() < 2 => Some(Remark::OneTint),
        _ => None,
    }
}

fn poor_fits(prior: &Prior, costs: &Costs) -> Vec<Remark> {
    let poor = |need: &PaintNeed| {
        let residual = prior.known(need.tube)?.constants.as_ref()?.residual;
        (residual > POOR_FIT).then_some(Remark::PoorFit { tube: need.tube, residual })
    };
    costs.paint.iter().filter_map(poor).collect()
}

fn typical(prior: &Prior, costs: &Costs) -> Vec<TubeRef> {
    let tubes = costs.paint.iter().map(|need| need.tube);
    tubes.filter(|tube| prior.level([*tube]) == Some(PriorLevel::Typical)).collect()
}

fn unread(prior: &Prior, costs: &Costs) -> Vec<TubeRef> {
    let tubes = costs.paint.iter().map(|need| need.tube);
    tubes.filter(|tube| prior.level([*tube]).is_none()).collect()
}
