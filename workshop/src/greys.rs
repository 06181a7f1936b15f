//! Which two make the best grey: as it was seen, then as it was read, and only then as is expected.

use figures::VividnessWord;
use study::numbers::number;

use crate::matrix::{ChartStep, GREY, PairCell, Shown};
use crate::mixtures::Mixtures;
use crate::told::Answer;

/// A mixture that may be a grey.
struct Grey<'a> {
    cell: &'a PairCell,
    step: &'a ChartStep,
    /// The tint, in which a grey shows its lean; else the mixture itself.
    shown: &'a Shown,
    /// C*, read or predicted; `None` where nobody knows it.
    chroma: Option<f64>,
    word: Option<VividnessWord>,
}

impl Grey<'_> {
    /// Seen by eye, and of which word.
    fn by_eye(&self) -> Option<VividnessWord> {
        self.word.filter(|_| self.shown.vividness.is_some())
    }

    /// The eye saw no lean in it.
    fn is_even(&self) -> bool {
        self.shown.lean.is_none()
    }
}

impl Mixtures<'_> {
    /// `Best grey: Canopy Ultramarine with Burnt Earth, 2 : 1.`
    pub(crate) fn neutral(&self) -> Option<Answer> {
        let mut all: Vec<Grey<'_>> =
            self.matrix.pairs().flat_map(|cell| self.greys(cell)).collect();
        let known = all.iter().any(|it| it.word.is_some());
        all.retain(|it| it.word.is_some() || !known);
        // Of words neutral is the last.
        let vivid = |it: &Grey<'_>| std::cmp::Reverse(it.word.map_or(0, |word| word as usize));
        // An unknown colour is no reason to prefer it.
        let chroma = |it: &Grey<'_>| it.chroma.unwrap_or(f64::INFINITY);
        all.sort_by(|one, other| {
            let even = other.is_even().cmp(&one.is_even());
            let grey = chroma(one).total_cmp(&chroma(other));
            vivid(one).cmp(&vivid(other)).then(even).then(grey)
        });
        let best = all.first()?;
        match best.by_eye() {
            Some(word) => Some(self.seen(best, word, &all)),
            None => Some(self.by_chroma(best, best.chroma?).expected_unless(known)),
        }
    }

    fn greys<'b>(&self, cell: &'b PairCell) -> Vec<Grey<'b>> {
        let between = cell.steps.len().saturating_sub(1);
        let steps = cell.steps.get(1..between).unwrap_or_default().iter();
        let grey = |step: &'b ChartStep| {
            let seen = |it: &&Shown| self.matrix.known_word(it).is_some();
            let tint = step.pale.as_ref();
            let shown = tint.filter(seen).or(Some(&step.neat).filter(seen));
            let shown = shown.or(tint).unwrap_or(&step.neat);
            let chroma = shown.colour.lab().map(|lab| lab.chroma());
            let word = self.matrix.known_word(shown);
            (word.is_some() || chroma.is_some()).then_some(Grey { cell, step, shown, chroma, word })
        };
        steps.filter_map(grey).collect()
    }

    fn pair(&self, cell: &PairCell) -> String {
        let [a, b] = cell.pair.map(|tube| self.name(tube));
        format!("{a} with {b}")
    }

    /// In the words that were tapped, with what ties.
    fn seen(&self, best: &Grey<'_>, word: VividnessWord, all: &[Grey<'_>]) -> Answer {
        let same = |it: &&Grey<'_>| it.by_eye() == Some(word) && it.is_even() == best.is_even();
        let own = all.iter().filter(same).filter(|it| it.cell.pair == best.cell.pair);
        let ratios = one_of(&own.map(|it| self.ratio(it.step.parts)).collect::<Vec<_>>());
        let pair = self.pair(best.cell);
        let mut others: Vec<String> = Vec::new();
        for other in all.iter().filter(same).filter(|it| it.cell.pair != best.cell.pair) {
            let name = self.pair(other.cell);
            if !others.contains(&name) {
                others.push(name);
            }
        }
        let sentence = if word == VividnessWord::Neutral {
            format!("Best grey: {pair}, {ratios}.")
        } else {
            format!(
                "No mixture so far is a grey; nearest is {pair}, {ratios}, which you called {word}."
            )
        };
        let mut evidence = vec!["By eye.".to_owned()];
        evidence.extend(best.shown.lean.map(|lean| format!("It leans toward {lean}.")));
        let uneven = all.iter().filter(|it| it.by_eye() == Some(word) && !same(it));
        let uneven: Vec<String> = uneven
            .filter(|it| it.cell.pair == best.cell.pair)
            .filter_map(|it| {
                let lean = it.shown.lean?;
                Some(format!(
                    "{} is {word} too, and leans toward {lean}.",
                    self.ratio(it.step.parts)
                ))
            })
            .collect();
        evidence.extend(uneven);
        let read = best.chroma.filter(|_| best.shown.colour.is_read());
        evidence.extend(read.map(|chroma| format!("C* {} as read.", number(chroma, 0))));
        if !others.is_empty() {
            evidence.push(format!("Just as {word}: {}.", others.join("; ")));
        }
        Answer { sentence, evidence: evidence.join(" ") }
    }

    fn by_chroma(&self, best: &Grey<'_>, chroma: f64) -> Answer {
        let (pair, ratio) = (self.pair(best.cell), self.ratio(best.step.parts));
        let sentence = if chroma <= GREY {
            format!("Best grey: {pair}, {ratio}.")
        } else {
            format!("No mixture so far is a grey; nearest is {pair}, {ratio}.")
        };
        Answer { sentence, evidence: format!("C* {} in its tint.", number(chroma, 0)) }
    }
}

/// `2 : 1, 1 : 1 or 1 : 2`.
fn one_of(names: &[String]) -> String {
    match names {
        [first @ .., last] if !first.is_empty() => format!("{} or {last}", first.join(", ")),
        _ => names.concat(),
    }
}
