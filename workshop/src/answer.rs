//! The answer to the question that a trial was planned for, in one sentence with what it rests on.

use figures::VividnessWord;
use plan::Question;
use plan::prior::Prior;
use study::TubeRef;
use study::numbers::{half_width, number};

use crate::alone::{nearest, thick_and_thin};
use crate::analysed::AnalysedTrial;
use crate::eye::StrengthByEye;
use crate::matrix::{Matrix, PairCell, PairWord, SaidBy};
use crate::mixtures::Mixtures;
use crate::surprise::surprise;
use crate::told::Answer;
use crate::warmth::warm_or_cool;

/// The answer; `None` where nothing that is known answers it. `red_is_warm` is the user's convention for blues.
#[must_use]
pub fn answer(
    question: Question,
    analysed: &AnalysedTrial,
    (matrix, prior): (&Matrix, &Prior),
    strengths: &[StrengthByEye],
    red_is_warm: bool,
) -> Option<Answer> {
    let mixtures = Mixtures { analysed, matrix };
    match question {
        Question::Mixes => mixtures.mixes(),
        Question::Stronger => mixtures.stronger(strengths),
        Question::Cleanest => mixtures.cleanest(),
        Question::Neutral => mixtures.neutral(),
        Question::Warmer => warm_or_cool(analysed, prior, red_is_warm),
        Question::WhiteAndWater => thick_and_thin(analysed),
        Question::Replaceable => nearest(analysed, prior),
        Question::Free => surprise(analysed, (matrix, prior)),
    }
}

impl Mixtures<'_> {
    /// `Leaf Green stays clean with both yellows and goes grey with Plume Magenta.`
    fn mixes(&self) -> Option<Answer> {
        let words: Vec<(&PairCell, PairWord)> =
            self.matrix.pairs().filter_map(|cell| Some((cell, cell.word?))).collect();
        // What was seen or read, or, where that is nothing, what is expected.
        let surest = words.iter().map(|(_, word)| word.said_by).min_by_key(|it| *it as usize)?;
        let known = surest.is_known();
        let is_told = |by: SaidBy| if known { by.is_known() } else { by == surest };
        let words: Vec<_> = words.into_iter().filter(|(_, it)| is_told(it.said_by)).collect();
        let surest = if words.iter().all(|(_, it)| it.said_by == SaidBy::Eye) {
            SaidBy::Eye
        } else {
            surest
        };
        // One partner: the tubes beside each other. Else one tube after the other.
        let by_partner = self.matrix.columns.len() == 1 && self.matrix.rows.len() > 1;
        let about = |place: usize| -> Vec<TubeRef> {
            let mut tubes: Vec<TubeRef> = words.iter().map(|(cell, _)| cell.pair[place]).collect();
            tubes.sort_unstable();
            tubes.dedup();
            tubes
        };
        let place = usize::from(by_partner);
        let mut sentences = about(place).into_iter().map(|tube| {
            let own: Vec<_> = words.iter().filter(|(cell, _)| cell.pair[place] == tube).collect();
            let of = |wanted: VividnessWord| -> Vec<TubeRef> {
                let same = own.iter().filter(|(_, it)| it.word == wanted);
                same.map(|(cell, _)| cell.pair[1 - place]).collect()
            };
            let [clean, grey] = [VividnessWord::Vivid, VividnessWord::Neutral].map(of);
            // “Every tube” is said only where each of them was read, seen or predicted.
            let planned = self.matrix.pairs().filter(|cell| cell.pair[place] == tube).count();
            let told: Vec<TubeRef> = own.iter().map(|(cell, _)| cell.pair[1 - place]).collect();
            let others = if told.len() < planned {
                self.names(&told)
            } else {
                "every tube it was mixed with".to_owned()
            };
            self.clean_and_grey(tube, [&clean, &grey], &others, by_partner)
        });
        let sentence = sentences.next()?;
        let mut evidence: Vec<String> = sentences.take(2).collect();
        evidence.extend(
            [
                self.extreme("Cleanest", &words, VividnessWord::Vivid),
                self.extreme("Greyest", &words, VividnessWord::Neutral),
            ]
            .into_iter()
            .flatten(),
        );
        let evidence = format!("{}{}", surest.words(), evidence.join(" "));
        Some(Answer { sentence, evidence: evidence.trim().to_owned() }.expected_unless(known))
    }

    fn clean_and_grey(
        &self,
        tube: TubeRef,
        [clean, grey]: [&[TubeRef]; 2],
        others: &str,
        beside: bool,
    ) -> String {
        let tube = self.name(tube);
        let (clean_names, grey_names) = (self.names(clean), self.names(grey));
        if beside {
            let plural = |tubes: &[TubeRef], one: &str, many: &str| {
                if tubes.len() == 1 { one.to_owned() } else { many.to_owned() }
            };
            let (stay, go) = (plural(clean, "stays", "stay"), plural(grey, "goes", "go"));
            return match (clean.is_empty(), grey.is_empty()) {
                (false, false) => {
                    format!("With {tube}, {clean_names} {stay} clean and {grey_names} {go} grey.")
                }
                (false, true) => format!("With {tube}, {clean_names} {stay} clean."),
                (true, false) => format!("With {tube}, {grey_names} {go} grey."),
                (true, true) => format!("{tube} softens or mutes {others}."),
            };
        }
        match (clean.is_empty(), grey.is_empty()) {
            (false, false) => {
                format!("{tube} stays clean with {clean_names} and goes grey with {grey_names}.")
            }
            (false, true) => format!("{tube} stays clean with {clean_names}."),
            (true, false) => format!("{tube} goes grey with {grey_names}."),
            (true, true) => format!("{tube} is softened or muted by {others}."),
        }
    }

    /// `Greyest: 1 : 1 of Leaf Green with Plume Magenta, C* 5 ± 2.`
    fn extreme(
        &self,
        title: &str,
        words: &[(&PairCell, PairWord)],
        wanted: VividnessWord,
    ) -> Option<String> {
        let same = words.iter().filter(|(_, it)| it.word == wanted);
        let known = same.filter_map(|(cell, word)| Some((cell, word, word.chroma?)));
        let chroma = |it: &(&&PairCell, &PairWord, (f64, Option<f64>))| {
            // The most vivid of the vivid, and the greyest of the grey.
            if wanted == VividnessWord::Neutral { -it.2.0 } else { it.2.0 }
        };
        let (cell, word, (value, half)) =
            known.max_by(|one, other| chroma(one).total_cmp(&chroma(other)))?;
        let half = half.map_or_else(String::new, |half| format!(" ± {}", half_width(half, 0)));
        let [a, b] = cell.pair.map(|tube| self.name(tube));
        Some(format!(
            "{title}: {a} with {b}, {}, C* {}{half}.",
            self.ratio(word.parts),
            number(value, 0)
        ))
    }

    fn stronger(&self, strengths: &[StrengthByEye]) -> Option<Answer> {
        let judged: Vec<&StrengthByEye> =
            strengths.iter().filter(|it| it.range.is_some()).collect();
        let read = self.analysed.analysis.tubes.iter().any(|tube| {
            tube.strength
                .as_ref()
                .is_ok_and(|it| it.standard != tube.tube && it.headline().is_some())
        });
        // Readings have a finding of their own.
        if read {
            return None;
        }
        let one = judged.iter().max_by(|one, other| off(one).total_cmp(&off(other)))?;
        let sentence = one.sentence(self.analysed)?;
        let others = judged.iter().filter(|it| it.tube != one.tube);
        let rest = others.filter_map(|it| it.sentence(self.analysed));
        let count = one.answers;
        let looks = if count == 1 { "one answer".to_owned() } else { format!("{count} answers") };
        let evidence: Vec<String> =
            rest.chain([format!("From {looks}, some of which may be wrong.")]).collect();
        Some(Answer { sentence, evidence: evidence.join(" ") })
    }
}

/// How far a range lies from 1, as a factor.
fn off(strength: &StrengthByEye) -> f64 {
    strength.range.map_or(0.0, |[low, high]| f64::midpoint(low.ln(), high.ln()).abs())
}
