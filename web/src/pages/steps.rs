//! The work at the table, step by step, as it is told: in the mixing list and at the bench.

use std::collections::HashMap;

use plan::{
    CellNumber, Naming, Pile, PileKind, PileRef, Plan, Source, Step, StepRef, Supply, Work,
};
use study::{Basis, Mixture, TubeRef};
use workshop::OpenTrial;

use crate::words::{number, parts};

/// One step.
pub(crate) struct MixStep {
    pub number: usize,
    /// Wash first, and why.
    pub clean: String,
    /// Wipe the knife first.
    pub wipe: bool,
    /// Take a fresh palette first.
    pub clear: String,
    pub verb: &'static str,
    pub what: String,
    pub lines: Vec<MixLine>,
    pub total: String,
    pub place: String,
    pub cells: String,
    pub off: String,
}

pub(crate) struct MixLine {
    pub amount: String,
    pub from: String,
}

/// The steps of a trial as they are told.
pub(crate) struct WorkList<'a> {
    trial: &'a OpenTrial,
    plan: &'a Plan,
    supply: Supply,
    naming: Naming,
    sheets: HashMap<CellNumber, usize>,
    /// Where the piles that each step takes from stand by then.
    sources: Vec<[Option<usize>; 2]>,
}

impl<'a> WorkList<'a> {
    pub fn of(trial: &'a OpenTrial, plan: &'a Plan) -> Self {
        let supply = trial.plan.as_ref().map(|it| it.design.supply).unwrap_or_default();
        Self {
            trial,
            plan,
            supply,
            naming: trial.naming(),
            sheets: trial.sheet_numbers(),
            sources: source_places(plan),
        }
    }

    pub fn name(&self, tube: TubeRef) -> String {
        self.trial.tubes.get(tube.0).map_or_else(|| "?".into(), |it| it.tube.tube.name.clone())
    }

    /// With as many decimals as the scale shows, and its unit; by eye as people put it out.
    pub fn amount(&self, amount: f64) -> String {
        if self.by_eye() {
            return self.supply.hand.words(amount);
        }
        format!("{} {}", self.bare_amount(amount), self.supply.unit())
    }

    /// The same without the unit.
    pub fn bare_amount(&self, amount: f64) -> String {
        let digits = match self.supply.measure {
            Basis::Eye => 2,
            _ => (-self.supply.resolution.log10()).ceil().clamp(0.0, 4.0) as usize,
        };
        number(amount, digits)
    }

    pub fn label(&self, mixture: &Mixture) -> String {
        let label = self.naming.pile(mixture);
        [label.tubes, label.ratio]
            .into_iter()
            .filter(|it| !it.is_empty())
            .collect::<Vec<_>>()
            .join(", ")
    }

    /// Every step.
    pub fn steps(&self) -> Vec<MixStep> {
        (0..self.plan.steps.len()).map(|at| self.step(StepRef(at))).collect()
    }

    /// Where something is taken from, by name.
    pub fn source(&self, source: &Source) -> String {
        match source {
            Source::Tube(tube) => self.name(*tube),
            Source::Pile(of) => self.label(&self.plan[*of].holds),
        }
    }

    pub fn unit(&self) -> &'static str {
        self.supply.unit()
    }

    pub fn by_eye(&self) -> bool {
        self.supply.measure == Basis::Eye
    }

    pub fn by_weight(&self) -> bool {
        self.supply.measure == Basis::Weight
    }

    /// One step.
    pub fn step(&self, at: StepRef) -> MixStep {
        let (step, number) = (&self.plan[at], at.0 + 1);
        let before = || {
            let before = self.plan.steps.get(at.0.checked_sub(1)?)?;
            Some(self.label(&self.plan.makes(before)))
        };
        let clean = if step.clean { clean_up(step, before().as_deref()) } else { String::new() };
        let clear = step.clear.as_ref().map_or_else(String::new, |kept| self.clear(kept));
        match &step.work {
            Work::Straight { tube, cells } => MixStep {
                number,
                clean,
                wipe: step.wipe,
                clear,
                verb: "Straight from the tube",
                what: self.name(*tube),
                lines: vec![MixLine {
                    amount: self.amount(self.supply.one_swatch() * cells.len() as f64),
                    from: self.name(*tube),
                }],
                total: String::new(),
                place: String::new(),
                cells: self.cells(cells),
                off: String::new(),
            },
            Work::Mix(pile) => {
                let pile = &self.plan[*pile];
                MixStep {
                    number,
                    clean,
                    wipe: step.wipe,
                    clear,
                    verb: verb(pile.kind),
                    what: self.label(&pile.holds),
                    lines: self.lines(pile, self.sources[number - 1]),
                    total: if self.by_eye() { String::new() } else { self.amount(pile.total()) },
                    place: step.place.map_or_else(String::new, |place| (place + 1).to_string()),
                    cells: self.cells(&pile.cells),
                    // By eye it is the same for every pile, and nobody reads it.
                    off: if self.by_eye() { String::new() } else { off(pile) },
                }
            }
        }
    }

    fn lines(&self, pile: &Pile, places: [Option<usize>; 2]) -> Vec<MixLine> {
        let line = |((source, amount), place): (&(Source, f64), Option<usize>)| MixLine {
            amount: self.amount(*amount),
            from: match (source, place) {
                (Source::Tube(tube), _) => self.name(*tube),
                (Source::Pile(_), Some(place)) => format!("from pile {}", place + 1),
                (Source::Pile(of), None) => self.label(&self.plan[*of].holds),
            },
        };
        let parts = pile.components.iter().zip(places);
        parts.filter(|((_, amount), _)| *amount > 0.0).map(line).collect()
    }

    /// `sheet 1: 12, 13 × 3`: a swatch that is painted again beside its neighbours counts twice.
    fn cells(&self, cells: &[CellNumber]) -> String {
        let mut counted: Vec<(CellNumber, usize)> = Vec::new();
        for cell in cells {
            match counted.iter_mut().find(|(known, _)| known == cell) {
                Some((_, times)) => *times += 1,
                None => counted.push((*cell, 1)),
            }
        }
        let mut sheet = 0;
        let words = counted.into_iter().map(|(cell, times)| {
            let on = self.sheets.get(&cell).copied().unwrap_or(1);
            let before = if on == sheet { String::new() } else { format!("sheet {on}: ") };
            sheet = on;
            let times = if times > 1 { format!(" × {times}") } else { String::new() };
            format!("{before}{cell}{times}")
        });
        words.collect::<Vec<_>>().join(", ")
    }

    fn clear(&self, kept: &[PileRef]) -> String {
        if kept.is_empty() {
            return "Put the palette aside and take a fresh one.".into();
        }
        let kept: Vec<String> =
            kept.iter().map(|pile| self.label(&self.plan[*pile].holds)).collect();
        format!("Take a fresh palette, and move over to it, from place 1 on: {}.", kept.join("; "))
    }
}

/// For each step, the places of the piles it takes from: a pile that is kept moves when the palette
/// is cleared.
fn source_places(plan: &Plan) -> Vec<[Option<usize>; 2]> {
    let mut places: HashMap<PileRef, usize> = HashMap::new();
    let of_step = |step: &Step| {
        if let Some(kept) = &step.clear {
            places = kept.iter().enumerate().map(|(place, pile)| (*pile, place)).collect();
        }
        let Work::Mix(pile) = step.work else { return [None; 2] };
        if let Some(place) = step.place {
            places.insert(pile, place);
        }
        plan[pile].components.map(|(source, _)| match source {
            Source::Pile(of) => places.get(&of).copied(),
            Source::Tube(_) => None,
        })
    };
    plan.steps.iter().map(of_step).collect()
}

fn verb(kind: PileKind) -> &'static str {
    match kind {
        PileKind::LetDown => "Let down",
        PileKind::Base | PileKind::Mixture => "Mix",
        PileKind::Tint => "Tint",
    }
}

fn clean_up(step: &Step, before: Option<&str>) -> String {
    let why = match (step.residue, before) {
        (Some(residue), Some(before)) => {
            format!(": a trace of {before} would show here (ΔE {})", number(residue, 1))
        }
        _ => String::new(),
    };
    format!("Wash knife and brush and change the water{why}.")
}

/// How far the ratio may be off, and what that does to the colour.
fn off(pile: &Pile) -> String {
    let ratio = format!("ratio ± {} %", parts((1000.0 * pile.ratio_error).round() / 10.0));
    match pile.colour_error {
        Some(colour) => format!("{ratio}, ΔE {}", number(colour, 1)),
        None => ratio,
    }
}
