//! The work in its order: what is mixed after what, where knife and brush are cleaned, where the
//! palette is cleared, and when everything is dry.

use serde::{Deserialize, Serialize};
use study::{Mixture, TubeRef};

use crate::design::Design;
use crate::error::PlanError;
use crate::numbers::{CellNumber, PileRef, StepRef};
use crate::order::{customary_order, working_order};
use crate::piles::{Group, Pile, Source};
use crate::prior::Prior;

/// Up to so many colours each takes its own place in the order; beyond, the colours of a ladder
/// stay together, and of neighbouring ladders where there are more ladders than that.
const MOST_SINGLE: usize = 120;
/// A visible difference.
const VISIBLE: f64 = study::VISIBLE;
/// Share of the last mixture that stays on the knife.
const RESIDUE: f64 = 0.01;
/// Share of that which a cloth leaves (ours). Whoever reads with a meter washes wherever an unwiped knife would
/// show; whoever looks at squares that lie apart washes where a wiped one would be more than close.
const WIPED: f64 = 1.0 / 3.0;

/// One step at the table.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Step {
    /// What is done.
    pub work: Work,
    /// Wash knife and brush first, and change the water.
    pub clean: bool,
    /// Wipe the knife on a cloth first: another colour comes, and what stays on it will not show.
    #[serde(default)]
    pub wipe: bool,
    /// ΔE00 that a trace of the step before would make here; `None` where it cannot be told.
    pub residue: Option<f64>,
    /// Put the palette aside first, keeping these piles.
    pub clear: Option<Vec<PileRef>>,
    /// The pile's place on the palette, from 0; `None` for paint straight from the tube.
    pub place: Option<usize>,
}

/// What is done in a step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum Work {
    /// Swatch a tube as it is.
    Straight {
        /// Which tube.
        tube: TubeRef,
        /// Numbers of the swatches.
        cells: Vec<CellNumber>,
    },
    /// Mix a pile, and swatch what it is for.
    Mix(PileRef),
}

/// Everything in order.
#[derive(Debug)]
pub(super) struct Schedule {
    pub piles: Vec<Pile>,
    pub steps: Vec<Step>,
    /// The order follows predicted residues, not custom alone.
    pub by_residue: bool,
}

/// Puts the groups in order and lays their piles on the palette.
pub(super) fn schedule(
    design: &Design,
    prior: &Prior,
    groups: Vec<Group>,
) -> Result<Schedule, PlanError> {
    let wash_above = match (design.wash_always, design.is_by_eye()) {
        (true, _) => 0.0,
        (false, true) => study::CLOSE / WIPED,
        (false, false) => VISIBLE,
    };
    let mut table = Table { prior, wash_above, last: None, piles: Vec::new(), steps: Vec::new() };
    let mut by_residue = true;
    for block in by_tube(groups) {
        let (order, known) = order(prior, &block, design.is_by_eye());
        by_residue &= known;
        let mut groups: Vec<Option<Group>> = block.into_iter().map(Some).collect();
        let in_order: Vec<Group> =
            order.into_iter().filter_map(|at| groups.get_mut(at)?.take()).collect();
        let opacity: Vec<Work> = in_order.iter().filter_map(over_bars).collect();
        for group in in_order {
            table.work(group);
        }
        for work in opacity {
            table.straight(work);
        }
    }
    let Table { piles, mut steps, .. } = table;
    lay_out(&mut steps, &piles, design.supply.places)?;
    Ok(Schedule { piles, steps, by_residue })
}

/// The groups of one tube after those of the other, in the order of the rows: nobody has nine tubes open at a
/// time.
fn by_tube(groups: Vec<Group>) -> Vec<Vec<Group>> {
    let mut blocks: Vec<(Option<TubeRef>, Vec<Group>)> = Vec::new();
    for group in groups {
        match blocks.iter_mut().find(|(tube, _)| *tube == group.tried) {
            Some((_, block)) => block.push(group),
            None => blocks.push((group.tried, vec![group])),
        }
    }
    blocks.into_iter().map(|(_, block)| block).collect()
}

/// The squares over black and white of a tube.
fn over_bars(group: &Group) -> Option<Work> {
    let [only] = group.base_mix.parts() else { return None };
    (!group.opacity.is_empty())
        .then(|| Work::Straight { tube: only.tube, cells: group.opacity.clone() })
}

/// The table as the work goes on.
struct Table<'a> {
    prior: &'a Prior,
    /// ΔE00 of a trace from which on knife and brush are washed; 0 for every mixture.
    wash_above: f64,
    last: Option<Mixture>,
    piles: Vec<Pile>,
    steps: Vec<Step>,
}

impl Table<'_> {
    fn work(&mut self, group: Group) {
        let mut new_colour = true;
        if let (false, [only]) = (group.straight.is_empty(), group.base_mix.parts()) {
            self.straight(Work::Straight { tube: only.tube, cells: group.straight });
            new_colour = false;
        }
        let first = self.piles.len();
        for mut pile in group.piles {
            for (source, _) in &mut pile.components {
                if let Source::Pile(at) = source {
                    at.0 += first;
                }
            }
            self.step(Work::Mix(PileRef(self.piles.len())), &pile.holds, new_colour);
            self.piles.push(pile);
            new_colour = false;
        }
    }

    fn straight(&mut self, work: Work) {
        if let Work::Straight { tube, .. } = work {
            self.step(work, &Mixture::neat(tube), true);
        }
    }

    fn step(&mut self, work: Work, makes: &Mixture, new_colour: bool) {
        let residue = self.last.as_ref().and_then(|last| self.prior.residue(last, makes, RESIDUE));
        let clean = match residue {
            _ if self.wash_above == 0.0 => new_colour && self.last.is_some(),
            Some(residue) => residue > self.wash_above,
            // Where nothing is known, every new colour deserves a clean knife.
            None => new_colour && self.last.is_some(),
        };
        let wipe = new_colour && !clean && self.last.is_some();
        self.steps.push(Step { work, clean, wipe, residue, clear: None, place: None });
        self.last = Some(makes.clone());
    }
}

/// The order of the groups, and whether it comes from predicted residues. By eye the mixtures of a pair stay
/// together: nobody opens the same tube twice.
fn order(prior: &Prior, groups: &[Group], by_eye: bool) -> (Vec<usize>, bool) {
    let runs = runs(groups, by_eye);
    let ends: Vec<(&Mixture, &Mixture)> = runs
        .iter()
        .filter_map(|run| {
            Some((&groups.get(*run.first()?)?.base_mix, last_of(groups.get(*run.last()?)?)))
        })
        .collect();
    let Some(table) = residues(prior, &ends) else {
        let first = |run: &Vec<usize>| prior.custom(&groups[run[0]].base_mix);
        let customary: Vec<(f64, f64)> = runs.iter().map(first).collect();
        let mut order = customary_order(&customary);
        alone_first(&mut order, &runs, groups, by_eye);
        return (order.into_iter().flat_map(|at| runs[at].clone()).collect(), false);
    };
    let mut last: Option<&Mixture> = None;
    let mut in_order = Vec::with_capacity(groups.len());
    let mut order = working_order(&table).order;
    alone_first(&mut order, &runs, groups, by_eye);
    for run in order {
        let mut run = runs[run].clone();
        // From the other end, where the last mixture spoils that one less.
        if let (true, Some(last), [first, .., end]) = (by_eye, last, run.as_slice()) {
            let spoils = |at: &usize| prior.residue(last, &groups[*at].base_mix, RESIDUE);
            if spoils(end) < spoils(first) {
                run.reverse();
            }
        }
        last = run.last().map(|at| last_of(&groups[*at]));
        in_order.extend(run);
    }
    (in_order, true)
}

/// By eye the tube itself comes before its mixtures: they are judged beside it.
fn alone_first(order: &mut [usize], runs: &[Vec<usize>], groups: &[Group], by_eye: bool) {
    let is_alone = |at: &usize| runs[*at].iter().all(|it| groups[*it].base_mix.parts().len() == 1);
    if by_eye {
        order.sort_by_key(|at| !is_alone(at));
    }
}

/// Groups that stay together: each on its own, or a ladder's or several ladders' in a large plan.
fn runs(groups: &[Group], by_eye: bool) -> Vec<Vec<usize>> {
    let ladders = by_ladder(groups, by_eye);
    let together = ladders.len().div_ceil(MOST_SINGLE).max(1);
    ladders.chunks(together).map(<[_]>::concat).collect()
}

fn by_ladder(groups: &[Group], by_eye: bool) -> Vec<Vec<usize>> {
    let mut runs: Vec<Vec<usize>> = Vec::new();
    for (at, group) in groups.iter().enumerate() {
        let follows = (by_eye || groups.len() > MOST_SINGLE)
            && at.checked_sub(1).is_some_and(|before| groups[before].ladder == group.ladder);
        match runs.last_mut() {
            Some(run) if follows => run.push(at),
            _ => runs.push(vec![at]),
        }
    }
    runs
}

fn last_of(group: &Group) -> &Mixture {
    group.piles.last().map_or(&group.base_mix, |pile| &pile.holds)
}

/// Residue of the last mixture of each run in the first of each other; `None` where some mixture
/// cannot be predicted.
fn residues(prior: &Prior, ends: &[(&Mixture, &Mixture)]) -> Option<Vec<Vec<f64>>> {
    let paints: Option<Vec<_>> = ends
        .iter()
        .map(|(first, last)| Some((prior.constants(first)?, prior.constants(last)?)))
        .collect();
    if let Some(paints) = paints {
        let colours: Vec<_> = paints.iter().map(|(first, _)| prior.film(first)).collect();
        let row = |(_, of): &(_, _)| {
            let each = paints.iter().zip(&colours);
            each.map(|((within, _), clean)| prior.trace(of, within, *clean, RESIDUE)).collect()
        };
        return Some(paints.iter().map(row).collect());
    }
    let row = |(_, of): &(&Mixture, &Mixture)| {
        ends.iter().map(|(first, _)| prior.residue(of, first, RESIDUE)).collect::<Option<Vec<_>>>()
    };
    ends.iter().map(row).collect()
}

/// Gives each pile its place on the palette, and says where the palette must be cleared.
fn lay_out(steps: &mut [Step], piles: &[Pile], places: usize) -> Result<(), PlanError> {
    let last_use = last_uses(steps, piles);
    let mut on_palette: Vec<Option<PileRef>> = vec![None; places];
    for (at, step) in steps.iter_mut().enumerate() {
        let Work::Mix(pile) = step.work else { continue };
        if on_palette.iter().all(Option::is_some) {
            let kept: Vec<PileRef> = on_palette
                .iter()
                .flatten()
                .copied()
                .filter(|it| last_use[it.0] >= StepRef(at))
                .collect();
            if kept.len() >= places {
                return Err(PlanError::TooFewPlaces { places, needed: kept.len() + 1 });
            }
            on_palette = vec![None; places];
            for (place, pile) in kept.iter().enumerate() {
                on_palette[place] = Some(*pile);
            }
            step.clear = Some(kept);
        }
        step.place = on_palette.iter().position(Option::is_none);
        match step.place {
            Some(place) => on_palette[place] = Some(pile),
            None => return Err(PlanError::TooFewPlaces { places, needed: 1 }),
        }
    }
    Ok(())
}

/// The step at which each pile is used last.
fn last_uses(steps: &[Step], piles: &[Pile]) -> Vec<StepRef> {
    let mut last = vec![StepRef(0); piles.len()];
    for (at, step) in steps.iter().enumerate().map(|(at, step)| (StepRef(at), step)) {
        let Work::Mix(pile) = step.work else { continue };
        last[pile.0] = last[pile.0].max(at);
        for (source, _) in &piles[pile.0].components {
            if let Source::Pile(of) = source {
                last[of.0] = at;
            }
        }
    }
    last
}
