//! A trial as a chart: every pair as a small ladder, full strength and tint, from what was read, what the eye saw and what
//! is predicted.
//!
//! 1. `squares`: what is known of one square.
//! 2. [`Matrix`]: the tubes under test against their partners, or a palette against itself.
//! 3. `third`: mixtures of three as rows.
//! 4. `word`: how vivid a pair is, and who says so. `charted`: all of it, worked out once.

mod charted;
mod squares;
mod third;
mod word;

use std::collections::BTreeMap;
use std::sync::Arc;

use figures::{Scale, VividnessWord};
use plan::CellNumber;
use plan::prior::Prior;
use squares::Squares;
pub use squares::{Shown, ShownColour};
use study::{Mixture, TubeRef};
pub use third::{Rising, ThirdRow, ThirdStep};
pub(crate) use word::{GREY, as_word};
pub use word::{PairWord, SaidBy};

use crate::analysed::AnalysedTrial;

/// Parts of one mixture lie within 3 % of the other's: they stand on one step.
const SAME: f64 = 0.03;

/// Steps between two tubes that a ladder shows; what is more is left out, and told.
pub const MOST_STEPS: usize = 100;

/// The chart.
#[derive(Debug)]
pub struct Matrix {
    /// The partners, from the left.
    pub columns: Vec<TubeRef>,
    /// The tubes, from the top.
    pub rows: Vec<MatrixRow>,
    /// Rows and columns are the same tubes.
    pub is_grid: bool,
    /// What the right half of each ladder is.
    pub pale: Pale,
    /// Mixtures of three tubes.
    pub thirds: Vec<ThirdRow>,
    /// What a word for a colour is told by.
    scale: Arc<Scale>,
}

/// The tubes' ladders with each partner.
#[derive(Debug)]
pub struct MatrixRow {
    /// Which tube.
    pub tube: TubeRef,
    /// By column; `None` where the two are not mixed.
    pub cells: Vec<Option<PairCell>>,
}

/// One pair.
#[derive(Debug)]
pub struct PairCell {
    /// The two, the row's first.
    pub pair: [TubeRef; 2],
    /// From all of the first to all of the second.
    pub steps: Vec<ChartStep>,
    /// How vivid it is.
    pub word: Option<PairWord>,
}

/// One step of a pair.
#[derive(Debug)]
pub struct ChartStep {
    /// Parts of the first and of the second.
    pub parts: [f64; 2],
    /// Thick.
    pub neat: Shown,
    /// With white, or thin.
    pub pale: Option<Shown>,
}

/// What stands beside the neat colours.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Pale {
    /// So many parts of white to one.
    White(f64),
    /// A thin film or wash.
    Film,
    /// Nothing.
    None,
}

/// A mixture of two at a ratio, and the squares that show it.
struct PairMix {
    parts: [f64; 2],
    neat: Option<CellNumber>,
    pale: Option<CellNumber>,
}

impl Matrix {
    /// The chart of a trial; `prior` says what is predicted where nothing was read.
    #[must_use]
    pub fn of(analysed: &AnalysedTrial, prior: &Prior) -> Self {
        let squares = Squares::of(analysed, prior);
        let pale = squares.pale;
        let pairs = pairs(&squares, pale);
        let thirds = third::rows(&squares);
        let mut columns: Vec<TubeRef> = pairs.keys().map(|pair| pair[1]).collect();
        let mut rows: Vec<TubeRef> = pairs.keys().map(|pair| pair[0]).collect();
        // A tube that stands on both sides: a palette against itself.
        let is_grid = rows.iter().any(|tube| columns.contains(tube));
        if is_grid {
            rows.append(&mut columns);
            columns.clone_from(&rows);
        }
        for tubes in [&mut rows, &mut columns] {
            tubes.sort_unstable();
            tubes.dedup();
        }
        if is_grid {
            columns.clone_from(&rows);
        }
        let scale = Scale::seen(prior.conditions, prior.surface);
        let row = |tube: TubeRef| {
            let cell = |partner: &TubeRef| {
                let steps = steps(&squares, pale, &pairs, [tube, *partner])?;
                let pair = [tube, *partner];
                let word = word::of(analysed, &scale, pair, &steps, pale);
                Some(PairCell { pair, steps, word })
            };
            MatrixRow { tube, cells: columns.iter().map(cell).collect() }
        };
        let rows = rows.into_iter().map(row).collect();
        Self { rows, columns, is_grid, pale, thirds, scale }
    }

    /// How vivid a square is: in the word that the eye gave it, else by its reading; `None` where nobody saw or read it.
    #[must_use]
    pub fn known_word(&self, shown: &Shown) -> Option<VividnessWord> {
        let read = || Some(self.scale.vividness(shown.colour.lab()?).word);
        let eye = shown.vividness.map(as_word);
        eye.or_else(|| shown.colour.is_read().then(read).flatten())
    }

    /// Every pair, row by row.
    pub fn pairs(&self) -> impl Iterator<Item = &PairCell> {
        self.rows.iter().flat_map(|row| row.cells.iter().flatten())
    }

    /// One pair.
    #[must_use]
    pub fn pair(&self, first: TubeRef, second: TubeRef) -> Option<&PairCell> {
        self.pairs().find(|cell| cell.pair == [first, second])
    }
}

/// Every square of a trial that is painted on paper, as its chart shows it.
#[must_use]
pub fn painted_squares(analysed: &AnalysedTrial, prior: &Prior) -> BTreeMap<CellNumber, Shown> {
    let squares = Squares::of(analysed, prior);
    let numbers = analysed.trial.swatches.iter().map(|planned| planned.swatch.number);
    numbers.filter_map(|number| Some((number, squares.square(number)?))).collect()
}

/// Every tube alone, as thick as its mixtures, by [`TubeRef`].
#[must_use]
pub fn mass_tones(analysed: &AnalysedTrial, prior: &Prior) -> Vec<Shown> {
    let squares = Squares::of(analysed, prior);
    let tubes = (0..analysed.study.tubes.len()).map(|tube| Mixture::neat(TubeRef(tube)));
    tubes
        .map(|mixture| squares.shown(&mixture, Pale::None, squares.number_of(&mixture, Pale::None)))
        .collect()
}

/// Every mixture of two colours that was planned or read, each ratio once.
fn pairs(squares: &Squares<'_>, pale: Pale) -> BTreeMap<[TubeRef; 2], Vec<PairMix>> {
    let mut pairs: BTreeMap<[TubeRef; 2], Vec<PairMix>> = BTreeMap::new();
    for square in squares.all() {
        let [a, b] = square.colours.as_slice() else { continue };
        let is_pale = square.is(pale);
        if !is_pale && !square.is(Pale::None) {
            continue;
        }
        let (pair, parts) = ([a.tube, b.tube], [a.parts, b.parts]);
        let mixes = pairs.entry(pair).or_default();
        let same = |mix: &PairMix| {
            ((mix.parts[0] * parts[1]) / (mix.parts[1] * parts[0])).ln().abs() < SAME
        };
        let known = mixes.iter().position(same);
        if known.is_none() && mixes.len() == MOST_STEPS {
            continue;
        }
        let at = known.unwrap_or_else(|| {
            mixes.push(PairMix { parts, neat: None, pale: None });
            mixes.len() - 1
        });
        let place = if is_pale { &mut mixes[at].pale } else { &mut mixes[at].neat };
        *place = place.or(square.number);
    }
    pairs
}

/// The ladder of a pair with its ends; `None` where the two are not mixed.
fn steps(
    squares: &Squares<'_>,
    pale: Pale,
    pairs: &BTreeMap<[TubeRef; 2], Vec<PairMix>>,
    pair: [TubeRef; 2],
) -> Option<Vec<ChartStep>> {
    let mut of_pair: Vec<&PairMix> = pairs.get(&pair)?.iter().collect();
    let ratio = |mix: &PairMix| mix.parts[0] / mix.parts[1];
    of_pair.sort_by(|one, other| ratio(other).total_cmp(&ratio(one)));
    let end = |tube: TubeRef, parts: [f64; 2]| {
        let mixture = Mixture::neat(tube);
        let number = |of: Pale| squares.number_of(&mixture, of);
        ChartStep {
            parts,
            neat: squares.shown(&mixture, Pale::None, number(Pale::None)),
            pale: squares.paler(&mixture, pale, number(pale)),
        }
    };
    let between = of_pair.iter().map(|mix| {
        let mixture = Mixture::of(&[(pair[0], mix.parts[0]), (pair[1], mix.parts[1])]);
        ChartStep {
            parts: mix.parts,
            neat: squares.shown(&mixture, Pale::None, mix.neat),
            pale: squares.paler(&mixture, pale, mix.pale),
        }
    });
    let first = end(pair[0], [1.0, 0.0]);
    let last = end(pair[1], [0.0, 1.0]);
    Some([first].into_iter().chain(between).chain([last]).collect())
}
