//! Tubes beside each other, each alone: which way they lean, which is nearest, what white and water do.

use colour::{Hue, Lab, ciede2000, signed_shift};
use compare::{Subject, Told, shared_depths};
use figures::finding::toward;
use mixing::typical::HUE_SIGMA;
use plan::prior::{Prior, PriorLevel};
use store::Role;
use study::numbers::{is_beyond, number};
use study::{FittedTubes, Mixture, Part, TubeRef};

use crate::analysed::AnalysedTrial;
use crate::eye::judged_tubes;
use crate::told::Answer;

/// A hue that was read is never surer than this, degrees (ours).
const SUREST: f64 = 1.0;
/// Tints are compared at so many parts of white.
const TINT: f64 = 4.0;

/// Which way a tube leans beside another.
#[derive(Debug, Clone, PartialEq)]
pub struct LeanBeside {
    /// Which tube.
    pub tube: TubeRef,
    /// Beside which.
    pub standard: TubeRef,
    /// Degrees, positive from red over yellow to green.
    pub shift: f64,
    /// Half-width of the 95 % interval of the shift, degrees.
    pub half_width: f64,
    /// Toward which colour; empty where the shift is within its interval.
    pub toward: &'static str,
    /// By the user's convention.
    pub is_warmer: bool,
    /// One of the two is known by a typical paint only.
    pub typical: bool,
}

/// Every judged tube beside the first, as far as their hues are known. `red_is_warm` is the convention for blues:
/// the one that leans red is called the warm one, or else the one that leans green.
#[must_use]
pub fn leans(analysed: &AnalysedTrial, prior: &Prior, red_is_warm: bool) -> Vec<LeanBeside> {
    let tubes = judged_tubes(analysed);
    let Some((standard, others)) = tubes.split_first() else { return Vec::new() };
    let hue = |tube: TubeRef| -> Option<(Hue, f64, bool)> {
        let read = analysed.tube(tube).and_then(|it| Some(&it.truest_tint()?.colour));
        if let Some((colour, hue)) = read.and_then(|it| Some((it, it.lab.hue()?))) {
            // About σ / C* radians.
            let off = colour.half_width[1].hypot(colour.half_width[2]) / colour.lab.chroma();
            return Some((hue, off.to_degrees().max(SUREST), false));
        }
        let hue = prior.colour(&tint(analysed, tube))?.hue()?;
        let typical = prior.level([tube]) == Some(PriorLevel::Typical);
        Some((hue, if typical { colour::NORMAL_95 * HUE_SIGMA } else { SUREST }, typical))
    };
    let Some((beside, also_off, also_typical)) = hue(*standard) else { return Vec::new() };
    let lean = |tube: &TubeRef| {
        let (own, off, typical) = hue(*tube)?;
        let apart = || (signed_shift(beside, own), off.hypot(also_off));
        let (shift, half_width) = at_equal_depth(analysed, *standard, *tube).unwrap_or_else(apart);
        let toward = if is_beyond(shift, half_width, 0) { toward(beside, shift) } else { "" };
        let is_warmer = is_warmer(beside, toward, red_is_warm);
        let typical = typical || also_typical;
        let (tube, standard) = (*tube, *standard);
        Some(LeanBeside { tube, standard, shift, half_width, toward, is_warmer, typical })
    };
    others.iter().filter_map(lean).collect()
}

/// The lean in the middle of the depths that the tints of both tubes share, degrees, with its half-width; `None` where they
/// share none. A pale tint beside a deep one would tell the white of the one, and not the lean of the other.
fn at_equal_depth(
    analysed: &AnalysedTrial,
    standard: TubeRef,
    tube: TubeRef,
) -> Option<(f64, f64)> {
    // Only what was read is asked for, and no K and S.
    let surface = analysed.study.protocol.surface(None);
    let fitted = FittedTubes { surface, paper: None, tubes: Vec::new() };
    let told = Told {
        study: &analysed.study,
        averages: analysed.averages(),
        fitted: &fitted,
        instrument: None,
        sheen_stated: true,
    };
    let beside = Subject { told, tube: standard };
    let of_both = [standard, tube].map(|tube| Subject { told, tube }.by_depth(&beside));
    let [Some(of_standard), Some(own)] = of_both else { return None };
    let depth = *shared_depths(&[&of_standard, &own], 3).get(1)?;
    let lean = own.at(depth)?.lean_beside(&of_standard.at(depth)?)?;
    Some((lean.shift, lean.half_width))
}

/// Who leans there from a hue is called the warmer one, by the user's convention for blues.
#[must_use]
pub fn is_warmer(from: Hue, toward: &str, red_is_warm: bool) -> bool {
    let is_blue = (222.0..312.0).contains(&from.degrees());
    match toward {
        "green" => is_blue && !red_is_warm,
        "red" | "yellow" => red_is_warm || !is_blue,
        _ => false,
    }
}

impl LeanBeside {
    /// `Ultramarine leans red by 6° beside Canopy Ultramarine: the warmer of the two.`
    #[must_use]
    pub fn sentence(&self, analysed: &AnalysedTrial) -> String {
        let name = |tube: TubeRef| analysed.study.label(tube).name;
        let (tube, standard) = (name(self.tube), name(self.standard));
        let source = if self.typical { ", as typical paints do" } else { "" };
        if self.toward.is_empty() {
            let who = if self.typical { "typical paints" } else { "these readings" };
            return format!("Which way {tube} leans beside {standard}, {who} cannot tell.");
        }
        let word = if self.is_warmer { "the warmer of the two" } else { "the cooler of the two" };
        format!(
            "{tube} leans {} by {}° ± {} beside {standard}{source}: {word}.",
            self.toward,
            number(self.shift.abs(), 0),
            number(self.half_width, 0)
        )
    }
}

/// What white and water do: how it covers, lifts, dries and granulates, as far as the eye saw it.
pub(crate) fn thick_and_thin(analysed: &AnalysedTrial) -> Option<Answer> {
    let run = analysed.trial.run()?;
    let white = analysed.study.white;
    let told = |tube: TubeRef| {
        let mut words: Vec<String> = Vec::new();
        for planned in &analysed.trial.swatches {
            let swatch = &planned.swatch;
            let alone = swatch.mixture.only_colour(white) == Some(tube);
            let Some(square) = run.square(swatch.number).filter(|_| alone) else { continue };
            words.extend(square.bar.map(|bar| bar.class().to_owned()));
            words.extend(square.looks.lift.map(|it| it.to_string()));
            words.extend(square.grain.map(|grain| format!("granulation {grain}")));
            words.extend(square.looks.drying.map(|it| it.to_string()));
            words.extend(square.looks.lean.map(|it| format!("its tint leans toward {it}")));
        }
        words.dedup();
        let name = analysed.study.label(tube).name;
        (!words.is_empty()).then(|| format!("{name}: {}.", words.join(", ")))
    };
    let mut sentences = judged_tubes(analysed).into_iter().filter_map(told);
    let sentence = sentences.next()?;
    let rest: Vec<String> = sentences.take(2).collect();
    Some(Answer { sentence, evidence: format!("By eye. {}", rest.join(" ")).trim().to_owned() })
}

/// The tube of the palette that lies nearest, in its tint: whether a mixture can stand in is for a recipe.
pub(crate) fn nearest(analysed: &AnalysedTrial, prior: &Prior) -> Option<Answer> {
    let tube = judged_tubes(analysed).into_iter().next()?;
    let own = colour(analysed, prior, tube)?;
    let places = (0..analysed.trial.tubes.len()).map(TubeRef);
    let references = places.filter(|it| analysed.trial.tubes[it.0].role == Role::Reference);
    let mut found: Vec<(f64, TubeRef, bool)> = references
        .filter_map(|it| {
            let (lab, read) = colour(analysed, prior, it)?;
            Some((ciede2000(own.0, lab).value(), it, read && own.1))
        })
        .collect();
    found.sort_by(|one, other| one.0.total_cmp(&other.0));
    let (apart, nearest, read) = found.first()?;
    let name = |tube: TubeRef| analysed.study.label(tube).name;
    // Of typical paints a distance would be no answer about these tubes.
    let far = if *read {
        format!(": ΔE00 {}", number(*apart, usize::from(*apart < 9.95)))
    } else {
        String::new()
    };
    let sentence = format!(
        "Of the palette {} comes nearest to {}, by the tint{far}.",
        name(*nearest),
        name(tube)
    );
    let evidence =
        "One tint is not the whole tube, and a mixture may come nearer: that takes a recipe.";
    Some(Answer { sentence, evidence: evidence.into() }.expected_unless(*read))
}

fn tint(analysed: &AnalysedTrial, tube: TubeRef) -> Mixture {
    let white = analysed.study.white.map(|white| Part { tube: white, parts: TINT });
    Mixture::new([Part { tube, parts: 1.0 }].into_iter().chain(white))
}

/// The tint of a tube, and whether it was read.
fn colour(analysed: &AnalysedTrial, prior: &Prior, tube: TubeRef) -> Option<(Lab, bool)> {
    let mixture = tint(analysed, tube);
    match analysed.averages().dry_averaged(&mixture) {
        Some(read) => Some((read.colour.lab, true)),
        None => Some((prior.colour(&mixture)?, false)),
    }
}
