//! The answer to the question that a trial was planned for, in one sentence with what it rests on.

use colour::{Hue, unsigned_distance};
use figures::VividnessWord;
use plan::Question;
use plan::prior::Prior;
use study::TubeRef;
use study::numbers::{half_width, number};

use crate::alone::{nearest, thick_and_thin, warm_or_cool};
use crate::analysed::AnalysedTrial;
use crate::eye::StrengthByEye;
use crate::matrix::{ChartStep, GREY, Matrix, PairCell, PairWord, SaidBy};
use crate::surprise::surprise;
use crate::told::Answer;

/// Hues that people ask for by name, with the middle of each in degrees of CIELAB (from memory).
pub const WANTED_HUES: [(&str, f64); 3] = [("orange", 60.0), ("green", 150.0), ("violet", 315.0)];
/// What lies within this of a wanted hue is called by it, degrees.
const OF_HUE: f64 = 35.0;

/// A mixture of two tubes, with how vivid it is.
#[derive(Debug, Clone, Copy)]
pub struct VividMixture<'a> {
    /// The pair.
    pub cell: &'a PairCell,
    /// Its step.
    pub step: &'a ChartStep,
    /// The paler half of the step.
    pub pale: bool,
    /// L*, C* and hue.
    pub lightness: f64,
    /// C*.
    pub chroma: f64,
    /// Its hue.
    pub hue: Hue,
    /// It was read.
    pub read: bool,
}

/// All mixtures of a trial near a hue, the most vivid first.
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
                if unsigned_distance(hue, wanted) <= OF_HUE {
                    let (lightness, chroma, read) = (lab.l, lab.chroma(), shown.colour.is_read());
                    found.push(VividMixture { cell, step, pale, lightness, chroma, hue, read });
                }
            }
        }
    }
    found.sort_by(|one, other| other.chroma.total_cmp(&one.chroma));
    found
}

/// The answer; `None` where nothing that is known answers it. `red_is_warm` is the user's convention for blues.
#[must_use]
pub fn answer(
    question: Question,
    analysed: &AnalysedTrial,
    (matrix, prior): (&Matrix, &Prior),
    strengths: &[StrengthByEye],
    red_is_warm: bool,
) -> Option<Answer> {
    let teller = Teller { analysed, matrix };
    match question {
        Question::Mixes => teller.mixes(),
        Question::Stronger => teller.stronger(strengths),
        Question::Cleanest => teller.cleanest(),
        Question::Neutral => teller.neutral(),
        Question::Warmer => warm_or_cool(analysed, prior, red_is_warm),
        Question::WhiteAndWater => thick_and_thin(analysed),
        Question::Replaceable => nearest(analysed, prior),
        Question::Free => surprise(analysed, (matrix, prior)),
    }
}

struct Teller<'a> {
    analysed: &'a AnalysedTrial,
    matrix: &'a Matrix,
}

impl Teller<'_> {
    fn name(&self, tube: TubeRef) -> String {
        self.analysed.study.label(tube).name
    }

    fn ratio(&self, [first, second]: [f64; 2]) -> String {
        self.analysed.trial.ratios().of(first, second)
    }

    fn names(&self, tubes: &[TubeRef]) -> String {
        let names: Vec<String> = tubes.iter().map(|tube| self.name(*tube)).collect();
        match names.as_slice() {
            [] => String::new(),
            [only] => only.clone(),
            [first @ .., last] if names.len() <= 4 => format!("{} and {last}", first.join(", ")),
            [one, two, rest @ ..] => format!("{one}, {two} and {} others", rest.len()),
        }
    }

    /// `Leaf Green stays clean with both yellows and goes grey with Plume Magenta.`
    fn mixes(&self) -> Option<Answer> {
        let words: Vec<(&PairCell, PairWord)> =
            self.matrix.pairs().filter_map(|cell| Some((cell, cell.word?))).collect();
        let surest = words.iter().map(|(_, word)| word.said_by).min_by_key(|it| *it as usize)?;
        let words: Vec<_> = words.into_iter().filter(|(_, it)| it.said_by == surest).collect();
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
        let known = matches!(surest, SaidBy::Readings | SaidBy::Eye);
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

    fn cleanest(&self) -> Option<Answer> {
        // Where anything was read, only what was read is told.
        let any = self.matrix.pairs().flat_map(|cell| &cell.steps);
        let read = any.flat_map(|step| [Some(&step.neat), step.pale.as_ref()]).flatten();
        let read = read.into_iter().any(|shown| shown.colour.is_read());
        let of: Vec<String> = WANTED_HUES
            .iter()
            .filter_map(|(name, hue)| {
                let found = most_vivid(self.matrix, *hue);
                let best = found.iter().find(|it| it.read || !read)?;
                Some(format!("{name}: {}", self.mixture(best)))
            })
            .collect();
        let (first, rest) = of.split_first()?;
        let also =
            if rest.is_empty() { String::new() } else { format!("Cleanest {}. ", rest.join("; ")) };
        let sentence = format!("Cleanest {first}.");
        let evidence = format!("{also}At their own lightness, by C*.");
        Some(Answer { sentence, evidence }.expected_unless(read))
    }

    /// `Awning Blue with Lantern Yellow, 1 : 4, C* 59`.
    fn mixture(&self, found: &VividMixture<'_>) -> String {
        let [a, b] = found.cell.pair;
        let white = if found.pale { ", with white" } else { "" };
        format!(
            "{} with {}, {}{white}, C* {}",
            self.name(a),
            self.name(b),
            self.ratio(found.step.parts),
            number(found.chroma, 0)
        )
    }

    fn neutral(&self) -> Option<Answer> {
        let mixtures = self.matrix.pairs().flat_map(|cell| {
            let between = cell.steps.len().saturating_sub(1);
            let steps = cell.steps.get(1..between).unwrap_or_default().iter();
            // A grey shows its lean in the tint.
            steps.filter_map(move |step| {
                let shown = step.pale.as_ref().unwrap_or(&step.neat);
                Some((cell, step, shown.colour.lab()?.chroma(), shown.colour.is_read()))
            })
        });
        let mut all: Vec<_> = mixtures.collect();
        all.sort_by(|one, other| other.3.cmp(&one.3).then(one.2.total_cmp(&other.2)));
        let (cell, step, chroma, read) = all.first()?;
        let [a, b] = cell.pair.map(|tube| self.name(tube));
        let sentence = if *chroma <= GREY {
            format!("Best grey: {a} with {b}, {}.", self.ratio(step.parts))
        } else {
            format!(
                "No mixture so far is a grey; nearest is {a} with {b}, {}.",
                self.ratio(step.parts)
            )
        };
        let evidence = format!("C* {} in its tint.", number(*chroma, 0));
        Some(Answer { sentence, evidence }.expected_unless(*read))
    }
}

/// How far a range lies from 1, as a factor.
fn off(strength: &StrengthByEye) -> f64 {
    strength.range.map_or(0.0, |[low, high]| f64::midpoint(low.ln(), high.ln()).abs())
}
