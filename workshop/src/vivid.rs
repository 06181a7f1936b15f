//! The most vivid mixtures of a hue: those that somebody saw or read, and after them what is expected.

use colour::{Hue, unsigned_distance};
use figures::VividnessWord;
use study::numbers::number;

use crate::matrix::{ChartStep, Matrix, PairCell, Shown};
use crate::mixtures::Mixtures;
use crate::told::Answer;

/// Hues that people ask for by name, with the middle of each in degrees of CIELAB (from memory).
pub const WANTED_HUES: [(&str, f64); 3] = [("orange", 60.0), ("green", 150.0), ("violet", 315.0)];
/// What lies within this of a wanted hue is called by it, degrees.
const OF_HUE: f64 = 35.0;
/// Two tubes make a hue where they lie so far apart, and it between them give or take this, degrees (ours).
const APART: f64 = 30.0;
const BESIDE: f64 = 20.0;

/// A mixture of two tubes, with how vivid it is.
#[derive(Debug, Clone, Copy)]
pub struct VividMixture<'a> {
    /// The pair.
    pub cell: &'a PairCell,
    /// Its step.
    pub step: &'a ChartStep,
    /// The paler half of the step.
    pub pale: bool,
    /// L*, C* and hue, predicted where it was not read.
    pub lightness: f64,
    /// C*.
    pub chroma: f64,
    /// Its hue.
    pub hue: Hue,
    /// It was read.
    pub read: bool,
    /// How vivid it was seen, or is by its reading; `None` where nobody saw or read it.
    pub word: Option<VividnessWord>,
}

/// All mixtures of a trial near a hue, the most vivid first: by the words where any was seen and not read, then by C*; what
/// nobody saw or read comes after them.
#[must_use]
pub fn most_vivid(matrix: &Matrix, hue: f64) -> Vec<VividMixture<'_>> {
    let wanted = Hue::from_degrees(hue);
    let mut found = Vec::new();
    for cell in matrix.pairs() {
        let between = cell.steps.len().saturating_sub(1);
        for step in cell.steps.get(1..between).unwrap_or_default() {
            for (pale, shown) in [(false, Some(&step.neat)), (true, step.pale.as_ref())] {
                let Some(shown) = shown else { continue };
                let Some((lab, hue)) = shown.colour.lab().and_then(|lab| Some((lab, lab.hue()?)))
                else {
                    continue;
                };
                if unsigned_distance(hue, wanted) <= OF_HUE && is_made(cell, hue) {
                    let (lightness, chroma, read) = (lab.l, lab.chroma(), shown.colour.is_read());
                    let word = matrix.known_word(shown);
                    found.push(VividMixture {
                        cell,
                        step,
                        pale,
                        lightness,
                        chroma,
                        hue,
                        read,
                        word,
                    });
                }
            }
        }
    }
    // Of words the vivid one is the first; where all was read, C* tells more than they do.
    let by_eye = found.iter().any(|it| it.word.is_some() && !it.read);
    let word = |it: &VividMixture<'_>| match it.word {
        None => usize::MAX,
        Some(word) if by_eye => word as usize,
        Some(_) => 0,
    };
    found.sort_by(|one, other| {
        word(one).cmp(&word(other)).then(other.chroma.total_cmp(&one.chroma))
    });
    found
}

/// The two make this hue, and none of them has it already; a grey or a black makes any.
fn is_made(cell: &PairCell, made: Hue) -> bool {
    let own = |step: Option<&ChartStep>| {
        let step = step?;
        let shown: &Shown = step.pale.as_ref().unwrap_or(&step.neat);
        shown.colour.lab()?.hue()
    };
    let (Some(one), Some(other)) = (own(cell.steps.first()), own(cell.steps.last())) else {
        return true;
    };
    let apart = unsigned_distance(one, other);
    let by_way = unsigned_distance(one, made) + unsigned_distance(made, other);
    apart >= APART && by_way <= apart + BESIDE
}

impl Mixtures<'_> {
    /// `Cleanest orange: Lantern Yellow with Saddle Red, 1 : 1, vivid.`
    pub(crate) fn cleanest(&self) -> Option<Answer> {
        let all: Vec<(&str, Vec<VividMixture<'_>>)> =
            WANTED_HUES.iter().map(|(name, hue)| (*name, most_vivid(self.matrix, *hue))).collect();
        // Where anything was seen or read, only that is told.
        let known = all.iter().flat_map(|(_, found)| found).any(|it| it.word.is_some());
        let of: Vec<String> = all
            .iter()
            .filter_map(|(name, found)| {
                let best = found.iter().find(|it| it.word.is_some() || !known)?;
                let ties = found.iter().filter(|it| {
                    let is_other = it.cell.pair != best.cell.pair;
                    is_other && it.word.is_some() && it.word == best.word && !best.read
                });
                let ties = ties.map(|it| it.cell.pair).collect::<std::collections::BTreeSet<_>>();
                let beside = match ties.len() {
                    0 => String::new(),
                    1 => " (one other pair looks as clean)".to_owned(),
                    count => format!(" ({count} other pairs look as clean)"),
                };
                Some(format!("{name}: {}{beside}", self.mixture(best)))
            })
            .collect();
        let (first, rest) = of.split_first()?;
        let also =
            if rest.is_empty() { String::new() } else { format!("Cleanest {}. ", rest.join("; ")) };
        let sentence = format!("Cleanest {first}.");
        let is_read = all.iter().flat_map(|(_, found)| found).any(|it| it.read);
        let by = match (known, is_read) {
            (true, false) => "By eye.",
            _ => "At their own lightness, by C*.",
        };
        Some(Answer { sentence, evidence: format!("{also}{by}") }.expected_unless(known))
    }

    /// `Awning Blue with Lantern Yellow, 1 : 4, C* 59`, or with the word of an eye.
    fn mixture(&self, found: &VividMixture<'_>) -> String {
        let [a, b] = found.cell.pair;
        let white = if found.pale { ", with white" } else { "" };
        let how = match found.word {
            Some(word) if !found.read => word.to_string(),
            _ => format!("C* {}", number(found.chroma, 0)),
        };
        format!(
            "{} with {}, {}{white}, {how}",
            self.name(a),
            self.name(b),
            self.ratio(found.step.parts)
        )
    }
}
