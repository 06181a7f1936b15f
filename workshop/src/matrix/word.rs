//! How vivid a pair is: the word for its mixture nearest to equal parts, and who says it.

use bench::EyeVividness;
use figures::{Scale, VividnessWord};
use study::TubeRef;

use super::squares::{Shown, ShownColour};
use super::{ChartStep, Pale};
use crate::analysed::AnalysedTrial;

/// Mixtures below this C* are greys (ours).
pub(crate) const GREY: f64 = 10.0;

/// A word for a pair.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PairWord {
    /// The word.
    pub word: VividnessWord,
    /// Parts of the two.
    pub parts: [f64; 2],
    /// C* of the mixture, where its colour is known, with the half-width of its 95 % interval where it was read.
    pub chroma: Option<(f64, Option<f64>)>,
    /// Who says so.
    pub said_by: SaidBy,
}

/// What a word rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SaidBy {
    /// Readings.
    Readings,
    /// The user's eye.
    Eye,
    /// A prediction from these tubes' own readings.
    Prediction,
    /// Typical paints of the same pigments.
    Typical,
}

impl SaidBy {
    /// Somebody read or saw it.
    pub(crate) fn is_known(self) -> bool {
        matches!(self, Self::Readings | Self::Eye)
    }

    /// Whom the whole answer rests on, where it is not readings.
    pub(crate) fn words(self) -> &'static str {
        match self {
            Self::Readings => "",
            Self::Eye => "By eye. ",
            Self::Prediction => "From earlier readings of these tubes. ",
            Self::Typical => "From typical paints of these pigments, not from your tubes. ",
        }
    }
}

/// The word of a pair: what was seen, or read, before a prediction.
pub(super) fn of(
    analysed: &AnalysedTrial,
    scale: &Scale,
    pair: [TubeRef; 2],
    steps: &[ChartStep],
    pale: Pale,
) -> Option<PairWord> {
    let between = steps.get(1..steps.len().checked_sub(1)?)?;
    let mut words: Vec<PairWord> = between
        .iter()
        .filter_map(|step| {
            let tint = step.pale.as_ref().filter(|_| matches!(pale, Pale::White(_)));
            let shown = tint.unwrap_or(&step.neat);
            word(analysed, scale, (pair, pale), step.parts, [shown, &step.neat])
        })
        .collect();
    let off = |word: &PairWord| (word.parts[0] / word.parts[1]).ln().abs();
    let chroma = |word: &PairWord| word.chroma.map_or(0.0, |(chroma, _)| chroma);
    words.sort_by(|one, other| {
        rank(one.said_by)
            .cmp(&rank(other.said_by))
            .then(off(one).total_cmp(&off(other)))
            .then(chroma(one).total_cmp(&chroma(other)))
    });
    words.first().copied()
}

fn rank(said_by: SaidBy) -> usize {
    match said_by {
        SaidBy::Eye | SaidBy::Readings => 0,
        SaidBy::Prediction => 1,
        SaidBy::Typical => 2,
    }
}

fn word(
    analysed: &AnalysedTrial,
    scale: &Scale,
    (pair, pale): ([TubeRef; 2], Pale),
    parts: [f64; 2],
    [shown, neat]: [&Shown; 2],
) -> Option<PairWord> {
    let eye = shown.vividness.or(neat.vividness).map(as_word);
    let chroma = |half: Option<f64>| shown.colour.lab().map(|lab| (lab.chroma(), half));
    match &shown.colour {
        // A reading makes what was seen more exact, and takes no word back.
        ShownColour::Read { colour, .. } => {
            let half = colour.half_width[1].hypot(colour.half_width[2]);
            let chroma = chroma(Some(half));
            if let Some(word) = eye {
                return Some(PairWord { word, parts, chroma, said_by: SaidBy::Eye });
            }
            let word = figured(analysed, (pair, pale), parts)
                .unwrap_or_else(|| scale.vividness(colour.lab).word);
            Some(PairWord { word, parts, chroma, said_by: SaidBy::Readings })
        }
        _ if eye.is_some() => {
            Some(PairWord { word: eye?, parts, chroma: None, said_by: SaidBy::Eye })
        }
        ShownColour::Predicted { lab, typical } => {
            let word = scale.vividness(*lab).word;
            let said_by = if *typical { SaidBy::Typical } else { SaidBy::Prediction };
            Some(PairWord { word, parts, chroma: chroma(None), said_by })
        }
        ShownColour::Unknown => None,
    }
}

/// The word that the figures have for a mixture that was read.
fn figured(
    analysed: &AnalysedTrial,
    ([a, b], pale): ([TubeRef; 2], Pale),
    parts: [f64; 2],
) -> Option<VividnessWord> {
    let white = match pale {
        Pale::White(parts) => parts,
        _ => 0.0,
    };
    let pair =
        analysed.analysis.pairs.iter().find(|pair| {
            pair.a == a && pair.b == b && figures::same_parts(pair.white_parts, white)
        })?;
    let step = pair
        .steps
        .iter()
        .find(|step| figures::same_parts(step.a_parts / step.b_parts, parts[0] / parts[1]))?;
    Some(step.vividness.word)
}

/// What the eye said, in the word that figures have for it.
pub(crate) fn as_word(word: EyeVividness) -> VividnessWord {
    match word {
        EyeVividness::Vivid => VividnessWord::Vivid,
        EyeVividness::Softened => VividnessWord::Softened,
        EyeVividness::Muted => VividnessWord::Muted,
        EyeVividness::Neutral => VividnessWord::Neutral,
    }
}
