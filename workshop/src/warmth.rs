//! Warm or cool, and beside what: as the eye saw the tints lean, then as they were read, and only then as is expected.

use bench::Lean;
use plan::prior::Prior;
use study::TubeRef;
use study::shelf::HueFamily;

use crate::alone::leans;
use crate::analysed::AnalysedTrial;
use crate::told::Answer;

/// The answer; `red_is_warm` is the user's convention for blues.
pub(crate) fn warm_or_cool(
    analysed: &AnalysedTrial,
    prior: &Prior,
    red_is_warm: bool,
) -> Option<Answer> {
    let mut leans = leans(analysed, prior, red_is_warm);
    leans.sort_by(|one, other| other.shift.abs().total_cmp(&one.shift.abs()));
    let known = leans.first().is_some_and(|lean| !lean.typical);
    if let Some(seen) = by_eye(analysed, red_is_warm) {
        let read = leans.iter().filter(|lean| !lean.typical).take(2);
        let read: Vec<String> = read.map(|lean| lean.sentence(analysed)).collect();
        let evidence = format!("{} {}", seen.evidence, read.join(" ")).trim().to_owned();
        return Some(Answer { evidence, ..seen });
    }
    let mut sentences = leans.iter().map(|lean| lean.sentence(analysed));
    let sentence = sentences.next()?;
    let evidence = sentences.take(2).collect::<Vec<_>>().join(" ");
    Some(Answer { sentence, evidence }.expected_unless(known))
}

/// A tube whose tint was seen to lean.
struct Seen {
    tube: TubeRef,
    lean: Lean,
    family: Option<HueFamily>,
}

/// Family by family: only tubes of one are called warmer or cooler than each other.
fn by_eye(analysed: &AnalysedTrial, red_is_warm: bool) -> Option<Answer> {
    let seen = seen(analysed);
    let mut families: Vec<Option<HueFamily>> = Vec::new();
    for it in &seen {
        if !families.contains(&it.family) {
            families.push(it.family);
        }
    }
    let mut told: Vec<(bool, String)> = families
        .into_iter()
        .flat_map(|family| {
            let own: Vec<&Seen> = seen.iter().filter(|it| it.family == family).collect();
            of_family(analysed, family, own, red_is_warm)
        })
        .collect();
    // What tells two tubes apart comes first.
    told.sort_by_key(|(differs, _)| !differs);
    let mut sentences = told.into_iter().map(|(_, sentence)| sentence);
    let sentence = sentences.next()?;
    let rest: Vec<String> = sentences.collect();
    Some(Answer { sentence, evidence: format!("By eye. {}", rest.join(" ")).trim().to_owned() })
}

fn seen(analysed: &AnalysedTrial) -> Vec<Seen> {
    let Some(run) = analysed.trial.run() else { return Vec::new() };
    let white = analysed.study.white;
    let tubes = analysed.trial.tubes.iter().enumerate();
    let seen = tubes.filter_map(|(at, it)| {
        let tube = TubeRef(at);
        let own = analysed.trial.swatches.iter().map(|planned| &planned.swatch);
        let own = own.filter(|swatch| swatch.mixture.only_colour(white) == Some(tube));
        let mut looks = own.filter_map(|swatch| run.square(swatch.number)?.looks.lean);
        let family = it.tube.tube.codes.first().map(HueFamily::of);
        // The palest tint is the last.
        Some(Seen { tube, lean: looks.next_back()?, family })
    });
    seen.collect()
}

/// What is said of the tubes of one family, and whether they differ.
fn of_family(
    analysed: &AnalysedTrial,
    family: Option<HueFamily>,
    mut own: Vec<&Seen>,
    red_is_warm: bool,
) -> Vec<(bool, String)> {
    let name = |it: &Seen| analysed.study.label(it.tube).name;
    let warm = |it: &Seen| is_warm(family, it.lean, red_is_warm);
    own.sort_by_key(|it| std::cmp::Reverse(warm(it)));
    let (Some(warmest), Some(coolest)) = (own.first(), own.last()) else { return Vec::new() };
    if family.is_some() && warm(warmest) && !warm(coolest) {
        let leans: Vec<String> =
            own.iter().map(|it| format!("{} leans toward {}", name(it), it.lean)).collect();
        let word = if own.len() == 2 { "the warmer of the two" } else { "the warmest" };
        return vec![(true, format!("{}: {} is {word}.", leans.join(", "), name(warmest)))];
    }
    let plain = |it: &&Seen| (false, format!("{} leans toward {}.", name(it), it.lean));
    own.iter().map(plain).collect()
}

/// It leans to the warm side, by the user's convention for blues and what is beside them.
fn is_warm(family: Option<HueFamily>, lean: Lean, red_is_warm: bool) -> bool {
    let is_blue = family == Some(HueFamily::Blue);
    match lean {
        Lean::Orange | Lean::Yellow | Lean::Red => !is_blue || red_is_warm,
        Lean::Violet => is_blue && red_is_warm,
        Lean::Green => is_blue && !red_is_warm,
        Lean::Blue => false,
    }
}
