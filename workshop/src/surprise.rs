//! The most useful thing that a trial shows where nothing in particular was asked: a twin, a mixture that is not
//! what its tubes promise, a grey.

use std::collections::BTreeMap;

use colour::ciede2000;
use figures::{Scale, VividnessWord};
use plan::prior::{Prior, PriorLevel};
use study::numbers::number;
use study::{CLOSE, Mixture, Part, SwatchColour, TubeRef};

use crate::analysed::AnalysedTrial;
use crate::matrix::{ChartStep, GREY, Matrix, PairCell, Pale, SaidBy, Shown, ShownColour, as_word};
use crate::told::Answer;

/// Twins are told from so many squares on that both tubes have (ours).
const SHARED: usize = 4;
/// Twins are looked for among so many tubes.
const MOST: usize = 40;
/// A mixture this far from its prediction is one that nobody would have expected, ΔE00 (ours).
const FAR: f64 = 8.0;

/// What nobody asked for and should know; `None` where there is nothing of the kind.
pub(crate) fn surprise(
    analysed: &AnalysedTrial,
    (matrix, prior): (&Matrix, &Prior),
) -> Option<Answer> {
    let found = Finder { analysed, matrix, prior };
    found
        .twin()
        .or_else(|| found.far())
        .or_else(|| found.unlike_its_word())
        .or_else(|| found.grey())
}

struct Finder<'a> {
    analysed: &'a AnalysedTrial,
    matrix: &'a Matrix,
    prior: &'a Prior,
}

impl Finder<'_> {
    fn name(&self, tube: TubeRef) -> String {
        self.analysed.study.label(tube).name
    }

    /// `Leaf Green with Plume Magenta, 1 : 4`.
    fn mixture(&self, cell: &PairCell, parts: [f64; 2]) -> String {
        let [a, b] = cell.pair.map(|tube| self.name(tube));
        let ratio = self.analysed.trial.ratios().of(parts[0], parts[1]);
        format!("{a} with {b}, {ratio}")
    }

    /// Two tubes that do the same to every partner, as far as both were read.
    fn twin(&self) -> Option<Answer> {
        let cells: BTreeMap<[TubeRef; 2], &PairCell> =
            self.matrix.pairs().map(|cell| (cell.pair, cell)).collect();
        let rows = self.matrix.rows.iter().map(|row| row.tube);
        let mut tubes: Vec<TubeRef> = rows.chain(self.matrix.columns.iter().copied()).collect();
        tubes.sort_unstable();
        tubes.dedup();
        tubes.truncate(MOST);
        let ladder = |tube: TubeRef, partner: TubeRef| {
            let cell = cells.get(&[tube, partner]).or_else(|| cells.get(&[partner, tube]))?;
            Some(squares_of(cell, tube))
        };
        let pairs = tubes.iter().enumerate();
        let pairs = pairs.flat_map(|(at, one)| tubes[at + 1..].iter().map(|other| (*one, *other)));
        let (one, other, apart, squares) = pairs
            .filter_map(|(one, other)| {
                let partners = tubes.iter().filter(|tube| ![one, other].contains(tube));
                let both = partners
                    .filter_map(|partner| ladder(one, *partner).zip(ladder(other, *partner)));
                let apart: Vec<f64> = both.flat_map(|(one, other)| shared(&one, &other)).collect();
                let most = apart.iter().copied().max_by(f64::total_cmp)?;
                let alike = apart.len() >= SHARED && most <= CLOSE;
                alike.then_some((one, other, most, apart.len()))
            })
            .min_by(|one, other| one.2.total_cmp(&other.2))?;
        Some(Answer {
            sentence: format!(
                "{} and {} do the same in every mixture of this trial.",
                self.name(one),
                self.name(other)
            ),
            evidence: format!(
                "Of {squares} squares that were read of both, none differs by more than ΔE00 {}, the interval \
                 included.",
                number(apart, 1)
            ),
        })
    }

    /// The mixture that was read farthest from what the K and S of its tubes promise.
    fn far(&self) -> Option<Answer> {
        let read = self.each_square().filter_map(|(cell, step, shown, pale)| {
            let ShownColour::Read { colour, .. } = &shown.colour else { return None };
            if self.prior.level(cell.pair)? == PriorLevel::Typical {
                return None;
            }
            let expected = self.prior.colour(&self.painted(cell, step, pale))?;
            let off = ciede2000(colour.lab, expected).value();
            let surely = off - norm(colour) > FAR;
            surely.then_some((cell, step, off, colour.lab, expected))
        });
        let (cell, step, off, seen, expected) =
            read.max_by(|one, other| one.2.total_cmp(&other.2))?;
        let livelier = if seen.chroma() > expected.chroma() { "more vivid" } else { "duller" };
        let lighter = if seen.l > expected.l { "lighter" } else { "darker" };
        Some(Answer {
            sentence: format!("{} is not what its tubes promise.", self.mixture(cell, step.parts)),
            evidence: format!(
                "ΔE00 {} from the prediction, {livelier} and {lighter}. Was it mixed as planned?",
                number(off, 0)
            ),
        })
    }

    /// The mixture whose word by eye is farthest from the expected one, two words at least.
    fn unlike_its_word(&self) -> Option<Answer> {
        let scale = Scale::seen(self.prior.conditions, self.prior.surface);
        let seen = self.each_square().filter_map(|(cell, step, shown, _)| {
            let ShownColour::Predicted { lab, .. } = &shown.colour else { return None };
            let word = as_word(shown.vividness?);
            let expected = scale.vividness(*lab).word;
            let apart = (word as i32 - expected as i32).abs();
            (apart >= 2).then_some((cell, step, word, expected, apart))
        });
        let (cell, step, word, expected, _) = seen.max_by_key(|it| it.4)?;
        let what = self.mixture(cell, step.parts);
        Some(Answer {
            sentence: format!("{what} looks {word}, where {expected} was expected."),
            evidence: "By eye, beside what is predicted of these tubes.".into(),
        })
    }

    /// A grey: by its word, and by its chroma where that is known.
    fn grey(&self) -> Option<Answer> {
        let (cell, word) = self.matrix.pairs().find_map(|cell| {
            let word = cell.word?;
            let seen = matches!(word.said_by, SaidBy::Readings | SaidBy::Eye);
            let grey = word.chroma.is_none_or(|(chroma, _)| chroma <= GREY);
            (word.word == VividnessWord::Neutral && seen && grey).then_some((cell, word))
        })?;
        let [a, b] = cell.pair.map(|tube| self.name(tube));
        let chroma = word
            .chroma
            .map_or_else(String::new, |(chroma, _)| format!(", C* {}", number(chroma, 0)));
        let ratio = self.analysed.trial.ratios().of(word.parts[0], word.parts[1]);
        Some(Answer {
            sentence: format!("{a} and {b} make a grey."),
            evidence: format!("{}At {ratio}{chroma}.", word.said_by.words()),
        })
    }

    /// Every square of every pair, the pure colours left out, and whether it is the paler one.
    fn each_square(&self) -> impl Iterator<Item = (&PairCell, &ChartStep, &Shown, bool)> {
        self.matrix.pairs().flat_map(|cell| {
            let between = cell.steps.len().saturating_sub(1);
            let steps = cell.steps.get(1..between).unwrap_or_default().iter();
            steps.flat_map(move |step| {
                let both = [Some((&step.neat, false)), step.pale.as_ref().map(|it| (it, true))];
                both.into_iter().flatten().map(move |(shown, pale)| (cell, step, shown, pale))
            })
        })
    }

    fn painted(&self, cell: &PairCell, step: &ChartStep, pale: bool) -> Mixture {
        let [a, b] = step.parts;
        let mut parts =
            vec![Part { tube: cell.pair[0], parts: a }, Part { tube: cell.pair[1], parts: b }];
        if let (true, Pale::White(white), Some(tube)) =
            (pale, self.matrix.pale, self.analysed.study.white)
        {
            parts.push(Part { tube, parts: white * (a + b) });
        }
        Mixture::new(parts)
    }
}

/// The squares of a pair by the share of one of its tubes, and whether each is the paler one; without the other
/// tube's own, which says nothing of this one.
fn squares_of(cell: &PairCell, tube: TubeRef) -> Vec<(f64, bool, &SwatchColour)> {
    let place = usize::from(cell.pair[1] == tube);
    let steps = cell.steps.iter().filter(|step| step.parts[place] > 0.0);
    let squares = steps.flat_map(|step| {
        let share = step.parts[place] / (step.parts[0] + step.parts[1]);
        [Some((share, false, &step.neat)), step.pale.as_ref().map(|it| (share, true, it))]
    });
    squares
        .flatten()
        .filter_map(|(share, pale, shown)| match &shown.colour {
            ShownColour::Read { colour, .. } => Some((share, pale, &**colour)),
            _ => None,
        })
        .collect()
}

/// Differences of squares of the same ratio, each with its interval.
fn shared(one: &[(f64, bool, &SwatchColour)], other: &[(f64, bool, &SwatchColour)]) -> Vec<f64> {
    let same = one.iter().filter_map(|(share, pale, a)| {
        let same = |it: &&(f64, bool, &SwatchColour)| (it.0 - share).abs() < 0.01 && it.1 == *pale;
        other.iter().find(same).map(|(_, _, b)| (*a, *b))
    });
    same.map(|(a, b)| ciede2000(a.lab, b.lab).value() + norm(a).hypot(norm(b))).collect()
}

/// The half-widths of all three axes together.
fn norm(colour: &SwatchColour) -> f64 {
    colour.half_width.iter().map(|half| half * half).sum::<f64>().sqrt()
}
