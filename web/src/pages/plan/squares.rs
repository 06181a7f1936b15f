//! Every square of a trial, row by row, as finished text.

use std::collections::HashMap;

use plan::{Cell, CellNumber, Naming, Pile, Row, RowAbout, Source, Supply, Swatch};
use study::Basis;
use workshop::Trial;

use crate::words::{counted, number};

/// The squares of one row.
pub(super) struct Group {
    pub title: String,
    pub squares: Vec<Square>,
}

/// One square.
pub(super) struct Square {
    pub number: CellNumber,
    pub ratio: String,
    pub amounts: String,
    pub readings: String,
}

/// The squares of a plan by its rows; those of a trial from a file in one group.
pub(super) fn groups(trial: &Trial) -> Vec<Group> {
    let squares = Squares::of(trial);
    match trial.planned() {
        Some(plan) => plan.rows.iter().filter_map(|row| squares.row(row, &plan.swatches)).collect(),
        None => {
            let all = trial.swatches.iter().map(|it| squares.square(&it.swatch, true)).collect();
            vec![Group { title: "Squares".into(), squares: all }]
        }
    }
}

struct Squares<'a> {
    naming: Naming,
    supply: Supply,
    /// By swatch number.
    piles: HashMap<CellNumber, &'a Pile>,
    /// Valid and void readings by swatch number.
    readings: HashMap<CellNumber, (usize, usize)>,
}

impl<'a> Squares<'a> {
    fn of(trial: &'a Trial) -> Self {
        let piles = trial.planned().into_iter().flat_map(|plan| &plan.piles);
        let numbers: HashMap<_, CellNumber> =
            trial.swatches.iter().map(|it| (it.id, it.swatch.number)).collect();
        let mut readings: HashMap<CellNumber, (usize, usize)> = HashMap::new();
        for stored in &trial.readings {
            if let Some(number) = numbers.get(&stored.swatch) {
                let (valid, void) = readings.entry(*number).or_default();
                let count = if stored.reading.void.is_none() { valid } else { void };
                *count += 1;
            }
        }
        Self {
            naming: trial.naming(),
            supply: trial.plan.as_ref().map(|plan| plan.design.supply).unwrap_or_default(),
            piles: piles.flat_map(|pile| pile.cells.iter().map(move |it| (*it, pile))).collect(),
            readings,
        }
    }

    /// The squares that stand in a row for the first time; `None` where there are none.
    fn row(&self, row: &Row, swatches: &[Swatch]) -> Option<Group> {
        let whole = matches!(row.about, RowAbout::Grid(_));
        let squares: Vec<Square> = row
            .cells
            .iter()
            .filter_map(|cell| match cell {
                Cell::First(number) => number.of(swatches),
                _ => None,
            })
            .map(|swatch| self.square(swatch, whole))
            .collect();
        (!squares.is_empty()).then(|| Group { title: row.about.title(&self.naming.tubes), squares })
    }

    fn square(&self, swatch: &Swatch, whole_label: bool) -> Square {
        let label = self.naming.swatch(swatch);
        Square {
            number: swatch.number,
            ratio: if label.ratio.is_empty() {
                label.tubes
            } else if whole_label {
                format!("{}, {}", label.tubes, label.ratio)
            } else {
                label.ratio
            },
            amounts: self.piles.get(&swatch.number).map_or_else(String::new, |it| self.amounts(it)),
            readings: match self.readings.get(&swatch.number) {
                None => String::new(),
                Some((valid, 0)) => counted(*valid, "reading", "readings"),
                Some((valid, void)) => {
                    format!("{}, {void} void", counted(*valid, "reading", "readings"))
                }
            },
        }
    }

    /// `0.30 g Lantern Yellow + 0.10 g mixed`, as the pile is put together.
    fn amounts(&self, pile: &Pile) -> String {
        let part = |(source, amount): &(Source, f64)| {
            let amount = match self.supply.measure {
                Basis::Eye => self.supply.hand.words(*amount),
                _ => format!("{} {}", number(*amount, 2), self.supply.unit()),
            };
            match source {
                Source::Tube(tube) => {
                    format!("{amount} {}", self.naming.tubes.get(tube.0).map_or("?", |it| &it.name))
                }
                Source::Pile(_) => format!("{amount} mixed"),
            }
        };
        pile.components.iter().map(part).collect::<Vec<_>>().join(" + ")
    }
}
