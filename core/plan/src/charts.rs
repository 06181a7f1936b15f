//! From a design to its squares: which mixtures, over what, and how they stand in rows.

use std::collections::HashMap;

use serde::{Deserialize, Serialize};
use study::{Backing, FilmKind, Mixture, Part, TubeLabel, TubeRef};

use crate::design::{Chart, Design, StepChoice, Thinning, Third};
use crate::error::PlanError;
use crate::ladder::{Ladder, planned_ladder};
use crate::limits::MOST_GRID;
use crate::numbers::CellNumber;
use crate::prior::Prior;
use crate::remark::Remark;
use crate::swatch::Swatch;

/// A row of squares that belong together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Row {
    /// What they have in common.
    pub about: RowAbout,
    /// The squares, from the left.
    pub cells: Vec<Cell>,
}

/// What the squares of a row have in common.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub enum RowAbout {
    /// The backings without paint.
    Bare,
    /// One tube, alone and thinned.
    Alone(TubeRef),
    /// Two tubes, with so many parts of white to one part of the mixture.
    Ladder {
        /// The first tube.
        from: TubeRef,
        /// The second.
        to: TubeRef,
        /// Parts of white, 0 for none.
        white: f64,
        /// Film of every square: the washes of a ladder stand in a row of their own.
        film: FilmKind,
    },
    /// One tube with every other.
    Grid(TubeRef),
    /// A mixture of two tubes with more and more of a third.
    Temper {
        /// The two.
        base: [TubeRef; 2],
        /// The third.
        temper: TubeRef,
        /// Parts of white, 0 for none.
        white: f64,
    },
    /// Three tubes together.
    Triad {
        /// The three.
        tubes: [TubeRef; 3],
        /// Parts of white, 0 for none.
        white: f64,
    },
    /// The squares of an anchor card.
    Card,
    /// One mixture that was chosen, and its tints.
    Chosen,
}

impl RowAbout {
    /// The tube that is tried in the row; `None` for bare backings.
    #[must_use]
    pub fn tube(&self) -> Option<TubeRef> {
        match self {
            Self::Bare | Self::Card | Self::Chosen => None,
            Self::Alone(tube)
            | Self::Grid(tube)
            | Self::Ladder { from: tube, .. }
            | Self::Temper { base: [tube, _], .. }
            | Self::Triad { tubes: [tube, ..], .. } => Some(*tube),
        }
    }

    /// The row's title.
    #[must_use]
    pub fn title(&self, tubes: &[TubeLabel]) -> String {
        let name = |tube: &TubeRef| tubes.get(tube.0).map_or("?", |label| label.name.as_str());
        match self {
            Self::Bare => "Bare backings".to_owned(),
            Self::Card => "Anchor card".to_owned(),
            Self::Chosen => "Recipe".to_owned(),
            Self::Alone(tube) => name(tube).to_owned(),
            Self::Grid(tube) => format!("{} with each", name(tube)),
            Self::Ladder { from, to, white, film } => {
                let pair = format!("{} to {}", name(from), name(to));
                match film {
                    FilmKind::Thin => format!("{pair}, washes"),
                    FilmKind::Full => tinted(pair, *white),
                }
            }
            Self::Temper { base: [a, b], temper, white } => {
                tinted(format!("{} + {}, more and more {}", name(a), name(b), name(temper)), *white)
            }
            Self::Triad { tubes: [a, b, c], white } => {
                tinted(format!("{} + {} + {}", name(a), name(b), name(c)), *white)
            }
        }
    }
}

fn tinted(row: String, white: f64) -> String {
    if white > 0.0 { format!("{row}, white 1 : {}", crate::swatch::amount(white)) } else { row }
}

/// One place of a row.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Cell {
    /// The swatch of this number.
    First(CellNumber),
    /// Painted once more beside its neighbours, and not read: the swatch of this number.
    Again(CellNumber),
    /// A dab of a tube, to be compared with: no swatch, and never read.
    Dot(TubeRef),
    /// Nothing.
    Gap,
}

/// What makes two squares one swatch: shares, backing and film.
type SquareKey = (Vec<(TubeRef, u32)>, Backing, FilmKind);

/// All squares of a design.
#[derive(Debug, Default)]
pub(super) struct Squares {
    pub swatches: Vec<Swatch>,
    pub rows: Vec<Row>,
    pub ladders: Vec<Ladder>,
    pub remarks: Vec<Remark>,
    places: HashMap<SquareKey, CellNumber>,
}

impl Squares {
    pub fn of(design: &Design, prior: &Prior) -> Result<Self, PlanError> {
        check_whites(design)?;
        let mut squares = Self::default();
        if let [Chart::Card(mixtures)] = design.charts.as_slice() {
            squares.card(design, mixtures);
            return Ok(squares);
        }
        if let [Chart::Chosen(mixtures)] = design.charts.as_slice() {
            squares.chosen(design, mixtures)?;
            return Ok(squares);
        }
        let wanted = Wanted::of(design)?;
        if wanted.alone.is_empty() {
            return Err(PlanError::NothingChosen);
        }
        // A bare backing is there to be read.
        if design.repeats > 0 {
            squares.bare_row(design);
        }
        if let Some(white) = design.white.filter(|_| design.thins_with_white()) {
            squares.alone_row(design, white, &[]);
        }
        for (tube, whites) in &wanted.alone {
            squares.alone_row(design, *tube, whites);
        }
        for chart in &design.charts {
            squares.chart(design, prior, chart)?;
        }
        Ok(squares)
    }

    fn chart(&mut self, design: &Design, prior: &Prior, chart: &Chart) -> Result<(), PlanError> {
        match chart {
            // A card that is not alone has no place of its own, and chosen mixtures neither.
            Chart::Tints(_) | Chart::Card(_) | Chart::Chosen(_) => {}
            Chart::Star { tested, references, steps, third } => {
                for from in tested {
                    for to in references {
                        self.ladder(design, prior, (*from, *to), steps, *third)?;
                    }
                }
            }
            Chart::Ladder { from, to, steps, third } => {
                self.ladder(design, prior, (*from, *to), steps, *third)?;
            }
            Chart::Grid { tubes, half } => self.grid(design, tubes, *half)?,
            Chart::Pairs { tubes, steps } => {
                for (at, from) in tubes.iter().enumerate() {
                    for to in &tubes[at + 1..] {
                        self.ladder(design, prior, (*from, *to), steps, None)?;
                    }
                }
            }
            Chart::Triad { tubes, steps } => {
                let [a, b, c] = *tubes;
                for pair in [(a, b), (b, c), (c, a)] {
                    self.ladder(design, prior, pair, steps, None)?;
                }
                let together =
                    TRIAD.map(|parts| Mixture::of(&[0, 1, 2].map(|at| (tubes[at], parts[at]))));
                self.together(design, &together, |white| RowAbout::Triad { tubes: *tubes, white });
            }
            Chart::Temper { base, temper, parts } => {
                let [(a, _), (b, _)] = *base;
                check_pair(a, b, Some(Third { tube: *temper, share: 0.5 }))?;
                let total = base[0].1 + base[1].1;
                let fine = |it: &f64| (0.0..=10.0).contains(it);
                if !(total.is_finite()
                    && base.iter().all(|(_, parts)| *parts > 0.0)
                    && parts.iter().all(fine))
                {
                    return Err(PlanError::Third(*temper));
                }
                let of = |parts: &f64| Mixture::of(&[base[0], base[1], (*temper, parts * total)]);
                let all: Vec<Mixture> = parts.iter().map(of).collect();
                let about = |white| RowAbout::Temper { base: [a, b], temper: *temper, white };
                self.together(design, &all, about);
            }
        }
        Ok(())
    }

    /// A row of mixtures, and a row of each of their tints.
    fn together(&mut self, design: &Design, mixtures: &[Mixture], about: impl Fn(f64) -> RowAbout) {
        let ends = mixtures.first().map(|mixture| mixture.parts());
        let Some([first, second, ..]) = ends else { return };
        for (white, film) in design.passes(first.tube, second.tube) {
            let squares: Vec<_> = mixtures
                .iter()
                .map(|it| (with_white(it.clone(), design.white, white), Backing::Paper, film))
                .collect();
            self.row(about(white), &squares);
        }
    }

    fn cell(&mut self, mixture: &Mixture, backing: Backing, film: FilmKind) -> Cell {
        let next = CellNumber::at(self.swatches.len());
        let number = *self.places.entry((mixture.ratio_key(), backing, film)).or_insert(next);
        if number < next {
            return Cell::Again(number);
        }
        self.swatches.push(Swatch { number, mixture: mixture.clone(), backing, film });
        Cell::First(number)
    }

    fn row(&mut self, about: RowAbout, squares: &[(Mixture, Backing, FilmKind)]) {
        let cells =
            squares.iter().map(|(mixture, backing, film)| self.cell(mixture, *backing, *film));
        let cells = cells.collect();
        self.rows.push(Row { about, cells });
    }

    fn bare_row(&mut self, design: &Design) {
        let bare = |backing| (Mixture::bare(), backing, FilmKind::Full);
        let backings = backings(design);
        self.row(RowAbout::Bare, &backings.iter().map(|it| bare(*it)).collect::<Vec<_>>());
    }

    fn card(&mut self, design: &Design, mixtures: &[Mixture]) {
        let bare = [Backing::Paper, Backing::Black].map(|it| (Mixture::bare(), it));
        let white = design.white.map(Mixture::neat);
        let painted = white.iter().chain(mixtures).map(|it| (it.clone(), Backing::Paper));
        let squares = bare.into_iter().chain(painted);
        let squares: Vec<_> =
            squares.map(|(mixture, backing)| (mixture, backing, FilmKind::Full)).collect();
        self.row(RowAbout::Card, &squares);
    }

    /// Each mixture, then its tints.
    fn chosen(&mut self, design: &Design, mixtures: &[Mixture]) -> Result<(), PlanError> {
        if mixtures.iter().all(Mixture::is_bare) {
            return Err(PlanError::NothingChosen);
        }
        let whites: &[f64] = match &design.thinning {
            Thinning::White { mixtures, .. } => mixtures,
            Thinning::Water | Thinning::None => &[],
        };
        for mixture in mixtures.iter().filter(|it| !it.is_bare()) {
            let tints = [0.0].iter().chain(whites).map(|white| {
                let parts = white * mixture.total();
                let white = design.white.map(|tube| Part { tube, parts });
                let tinted = Mixture::new(mixture.parts().iter().copied().chain(white));
                (tinted, Backing::Paper, FilmKind::Full)
            });
            self.row(RowAbout::Chosen, &tints.collect::<Vec<_>>());
        }
        Ok(())
    }

    /// A tube over each backing, then thinned.
    fn alone_row(&mut self, design: &Design, tube: TubeRef, whites: &[f64]) {
        let neat = Mixture::neat(tube);
        let mut squares: Vec<_> = backings(design)
            .iter()
            .map(|backing| (neat.clone(), *backing, FilmKind::Full))
            .collect();
        // A wash of white shows nothing.
        if design.thins_to_a_film() && design.white != Some(tube) {
            squares.push((neat, Backing::Paper, FilmKind::Thin));
        }
        if let Some(white) = design.white {
            squares.extend(whites.iter().map(|parts| {
                (Mixture::of(&[(tube, 1.0), (white, *parts)]), Backing::Paper, FilmKind::Full)
            }));
        }
        self.row(RowAbout::Alone(tube), &squares);
    }

    fn ladder(
        &mut self,
        design: &Design,
        prior: &Prior,
        (from, to): (TubeRef, TubeRef),
        steps: &StepChoice,
        third: Option<Third>,
    ) -> Result<(), PlanError> {
        check_pair(from, to, third)?;
        let ladder = planned_ladder(design, prior, (from, to), steps, third)?;
        if let Some(difference) = ladder.alike {
            self.remarks.push(Remark::Alike { from, to, difference });
        }
        let dabbed = design.dots && design.is_star(from, to);
        for (white, film) in design.passes(from, to) {
            let ends = [ladder.mixture(0.0), ladder.mixture(1.0)];
            let between = ladder.shares.iter().map(|share| ladder.mixture(*share));
            let [first, last] = ends;
            let mut mixtures: Vec<Mixture> = between.collect();
            if design.anchors || third.is_some() {
                mixtures.insert(0, first);
                mixtures.push(last);
            }
            let squares: Vec<_> = mixtures
                .into_iter()
                .map(|mixture| (with_white(mixture, design.white, white), Backing::Paper, film))
                .collect();
            self.row(RowAbout::Ladder { from, to, white, film }, &squares);
            if dabbed
                && white == 0.0
                && film == FilmKind::Full
                && let Some(row) = self.rows.last_mut()
            {
                row.cells.push(Cell::Dot(to));
            }
        }
        self.ladders.push(ladder);
        Ok(())
    }

    fn grid(&mut self, design: &Design, tubes: &[TubeRef], half: bool) -> Result<(), PlanError> {
        if tubes.len() > MOST_GRID {
            return Err(PlanError::GridTooLarge(tubes.len()));
        }
        if tubes.len() > crate::limits::LARGE_GRID {
            self.remarks.push(Remark::LargeGrid { tubes: tubes.len(), minutes: 0.0 });
        }
        for (row, a) in tubes.iter().enumerate() {
            if tubes[row + 1..].contains(a) {
                return Err(PlanError::AgainstItself(*a));
            }
            let mut cells = Vec::with_capacity(tubes.len());
            for (column, b) in tubes.iter().enumerate() {
                let mixture = if row == column {
                    Mixture::neat(*a)
                } else {
                    Mixture::of(&[(*a, 1.0), (*b, 1.0)])
                };
                cells.push(if half && column < row {
                    Cell::Gap
                } else {
                    self.cell(&mixture, Backing::Paper, FilmKind::Full)
                });
            }
            self.rows.push(Row { about: RowAbout::Grid(*a), cells });
        }
        if design.white.is_some_and(|white| tubes.contains(&white)) {
            return Err(PlanError::WhiteTested);
        }
        Ok(())
    }
}

/// Each tube that stands alone, with the parts of white it is tinted with.
struct Wanted {
    alone: Vec<(TubeRef, Vec<f64>)>,
}

impl Wanted {
    fn of(design: &Design) -> Result<Self, PlanError> {
        let (alone, mixtures): (&[f64], &[f64]) = match &design.thinning {
            Thinning::White { alone, mixtures, .. } => (alone, mixtures),
            _ => (&[], &[]),
        };
        let mut wanted = Self { alone: Vec::new() };
        for chart in &design.charts {
            match chart {
                Chart::Tints(tubes) => wanted.add(tubes, alone),
                Chart::Card(_) | Chart::Chosen(_) => {}
                Chart::Star { tested, references, .. } => {
                    wanted.add(tested, mixtures);
                    if !design.dots {
                        wanted.add(references, mixtures);
                    }
                    if design.white.is_some_and(|white| tested.contains(&white)) {
                        return Err(PlanError::WhiteTested);
                    }
                }
                Chart::Ladder { from, to, .. } => wanted.add(&[*from, *to], mixtures),
                Chart::Grid { tubes, .. } => wanted.add(tubes, &[]),
                Chart::Pairs { tubes, .. } => wanted.add(tubes, mixtures),
                Chart::Triad { tubes, .. } => wanted.add(tubes, mixtures),
                Chart::Temper { base: [(a, _), (b, _)], temper, .. } => {
                    wanted.add(&[*a, *b, *temper], mixtures);
                }
            }
        }
        wanted.alone.retain(|(tube, _)| Some(*tube) != design.white || !design.thins_with_white());
        Ok(wanted)
    }

    fn add(&mut self, tubes: &[TubeRef], whites: &[f64]) {
        for tube in tubes {
            let known = match self.alone.iter_mut().find(|(known, _)| known == tube) {
                Some((_, known)) => known,
                None => {
                    self.alone.push((*tube, Vec::new()));
                    let last = self.alone.len() - 1;
                    &mut self.alone[last].1
                }
            };
            for white in whites.iter().filter(|white| **white > 0.0) {
                if !known.iter().any(|it| (it - white).abs() < 1e-9) {
                    known.push(*white);
                }
            }
            known.sort_by(f64::total_cmp);
        }
    }
}

/// Parts of three primaries that are mixed together.
const TRIAD: [[f64; 3]; 4] = [[1.0, 1.0, 1.0], [2.0, 1.0, 1.0], [1.0, 2.0, 1.0], [1.0, 1.0, 2.0]];

impl Design {
    /// A star asks for this pair.
    fn is_star(&self, from: TubeRef, to: TubeRef) -> bool {
        let asks = |chart: &Chart| match chart {
            Chart::Star { tested, references, .. } => {
                tested.contains(&from) && references.contains(&to)
            }
            _ => false,
        };
        self.charts.iter().any(asks)
    }

    pub(super) fn thins_to_a_film(&self) -> bool {
        matches!(self.thinning, Thinning::Water | Thinning::White { film: true, .. })
    }

    fn thins_with_white(&self) -> bool {
        matches!(&self.thinning, Thinning::White { alone, mixtures, .. }
            if mixtures.iter().chain(alone).any(|white| *white > 0.0))
    }

    /// Parts of white and film of each row of a ladder.
    fn passes(&self, from: TubeRef, to: TubeRef) -> Vec<(f64, FilmKind)> {
        let mut passes = vec![(0.0, FilmKind::Full)];
        if self.thins_to_a_film() {
            passes.push((0.0, FilmKind::Thin));
        }
        match &self.thinning {
            // More white in a ladder that ends in white makes no other colours.
            Thinning::White { mixtures, .. } if ![Some(from), Some(to)].contains(&self.white) => {
                let whites = mixtures.iter().filter(|white| **white > 0.0);
                passes.extend(whites.map(|white| (*white, FilmKind::Full)));
            }
            _ => {}
        }
        passes
    }
}

fn backings(design: &Design) -> &'static [Backing] {
    match (design.tests.opacity, design.repeats) {
        (false, _) => &[Backing::Paper],
        // The eye sees the black bar beside the paper.
        (true, 0) => &[Backing::Paper, Backing::Black],
        (true, _) => &[Backing::Paper, Backing::White, Backing::Black],
    }
}

/// So many parts of white to one part of a mixture.
fn with_white(mixture: Mixture, white: Option<TubeRef>, parts: f64) -> Mixture {
    match white {
        Some(tube) if parts > 0.0 => {
            let white = Part { tube, parts: parts * mixture.total() };
            Mixture::new(mixture.parts().iter().copied().chain([white]))
        }
        _ => mixture,
    }
}

fn check_pair(from: TubeRef, to: TubeRef, third: Option<Third>) -> Result<(), PlanError> {
    if from == to {
        return Err(PlanError::AgainstItself(from));
    }
    match third {
        Some(third)
            if third.tube == from
                || third.tube == to
                || !(third.share > 0.0 && third.share < 1.0) =>
        {
            Err(PlanError::Third(third.tube))
        }
        _ => Ok(()),
    }
}

fn check_whites(design: &Design) -> Result<(), PlanError> {
    let Thinning::White { alone, mixtures, .. } = &design.thinning else { return Ok(()) };
    for list in [alone, mixtures] {
        let wrong = list.iter().find(|white| !(0.1..=1000.0).contains(*white) && **white != 0.0);
        if let Some(found) = wrong.or(list.get(12)) {
            return Err(PlanError::Whites(*found));
        }
    }
    if design.thins_with_white() && design.white.is_none() {
        return Err(PlanError::NoWhite);
    }
    Ok(())
}
