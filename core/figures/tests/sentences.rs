//! Every sentence that a finding can say, beside the figures that lead to it. The figures are put into an
//! analysis by hand; how they are worked out is tested elsewhere.

use crate::common::Bench;
use colour::{Hue, Lab};
use figures::finding::{Finding, Subject, findings, what_others_did};
use figures::{
    Analysis, Bound, EqualDepth, EqualStrengthColour, Figure, Outcome, Vividness, VividnessWord,
    WhyNot, analyse,
};
use study::{Study, TubeRef};

const fn sure(value: f64, half: f64) -> Figure {
    Figure { value, half_width: Ok(half), indicative: false }
}

const fn bare(value: f64) -> Figure {
    Figure { value, half_width: Err(WhyNot::NotSteady), indicative: false }
}

fn of(subject: Subject, study: &Study, analysis: &Analysis) -> Finding {
    let found = findings(study, analysis).into_iter().find(|finding| finding.subject == subject);
    found.expect("a finding")
}

/// What was found of a tube beside the standard by both methods.
struct Strength {
    equal_depth: Option<(Figure, Option<Bound>)>,
    same_ratio: Option<Figure>,
}

fn depth(percent: Figure) -> Strength {
    Strength { equal_depth: Some((percent, None)), same_ratio: None }
}

fn limit(percent: f64, bound: Bound) -> Strength {
    Strength { equal_depth: Some((bare(percent), Some(bound))), same_ratio: None }
}

fn both(equal_depth: Figure, same_ratio: Figure) -> Strength {
    Strength { equal_depth: Some((equal_depth, None)), same_ratio: Some(same_ratio) }
}

fn put(analysis: &mut Analysis, tube: usize, found: &Strength) {
    let strength = analysis.tubes[tube].strength.as_mut().expect("read");
    strength.equal_depth = found.equal_depth.ok_or(WhyNot::TintsUnread).map(|(percent, bound)| {
        let lightness = bound.is_none().then_some(60.0);
        EqualDepth { depth: lightness, lightness, percent, bound, by_eye: false }
    });
    strength.same_ratio.truncate(usize::from(found.same_ratio.is_some()));
    strength.headline = found.same_ratio.map(|_| 0);
    if let (Some(entry), Some(percent)) = (strength.same_ratio.first_mut(), found.same_ratio) {
        entry.percent = Ok(percent);
        entry.indicative = false;
    }
}

#[test]
fn every_strength_of_one_tube_has_its_sentence() {
    let bench = Bench::of_loads(&[1.0, 1.0]);
    let cases = [
        (
            depth(sure(70.0, 4.0)),
            "Maker 0 is 1.4 times as strong as Maker 1.",
            "Equal depth at L* 60: 70 % of the standard, interval 66 to 74.",
        ),
        (
            depth(sure(140.0, 4.0)),
            "Maker 1 is 1.4 times as strong as Maker 0.",
            "Equal depth at L* 60: 140 % of the standard, interval 136 to 144.",
        ),
        (
            depth(sure(103.0, 1.0)),
            "Maker 1 is 1.03 times as strong as Maker 0.",
            "Equal depth at L* 60: 103 % of the standard, interval 102 to 104.",
        ),
        (
            depth(sure(97.0, 4.0)),
            "These readings cannot tell whether Maker 1 or Maker 0 is stronger.",
            "Equal depth at L* 60: 97 % of the standard, interval 93 to 101.",
        ),
        (
            depth(bare(60.0)),
            "These readings cannot tell whether Maker 1 or Maker 0 is stronger.",
            "Equal depth at L* 60: 60 % of the standard, no interval: REASON.",
        ),
        (
            both(sure(112.0, 3.0), sure(87.0, 4.0)),
            "How strong Maker 1 is beside Maker 0 depends on how it is asked: 112 % at equal depth, \
             but 87 % at the same ratio.",
            "Equal depth at L* 60: 112 % of the standard, interval 109 to 115; same ratio at 1 : 1: \
             87 % of the standard, interval 83 to 91; the two methods disagree, so the pigments may \
             differ.",
        ),
        (
            both(sure(140.0, 4.0), sure(138.0, 5.0)),
            "Maker 1 is 1.4 times as strong as Maker 0.",
            "Equal depth at L* 60: 140 % of the standard, interval 136 to 144; same ratio at 1 : 1: \
             138 % of the standard, interval 133 to 143.",
        ),
        (
            limit(800.0, Bound::Above),
            "Maker 1 is at least 8.0 times as strong as Maker 0; their tints don't overlap in depth.",
            "Only a limit is known.",
        ),
        (
            limit(12.0, Bound::Below),
            "Maker 1 is at most 0.1 times as strong as Maker 0; their tints don't overlap in depth.",
            "Only a limit is known.",
        ),
    ];
    for (found, sentence, evidence) in cases {
        let mut analysis = analyse(&bench.study, None);
        put(&mut analysis, 1, &found);
        let told = of(Subject::Strength, &bench.study, &analysis);
        assert_eq!(told.sentence, sentence);
        assert_eq!(told.evidence, evidence.replace("REASON", &WhyNot::NotSteady.to_string()));
    }
}

#[test]
fn every_strength_of_several_tubes_has_its_clause() {
    let bench = Bench::of_loads(&[1.0, 1.0, 1.0]);
    let weak = || depth(sure(70.0, 4.0));
    let like = || depth(sure(99.0, 4.0));
    let cases = [
        (
            [weak(), depth(sure(150.0, 4.0))],
            "Beside Maker 0, Maker 2 is 1.5 times and Maker 1 is 0.7 times as strong.",
        ),
        (
            [weak(), like()],
            "Beside Maker 0, Maker 1 is 0.7 times as strong; these readings cannot tell Maker 2 from \
             it.",
        ),
        (
            [weak(), both(sure(112.0, 3.0), sure(87.0, 4.0))],
            "Beside Maker 0, Maker 1 is 0.7 times as strong; Maker 2 depends on how it is asked (112 % \
             at equal depth, but 87 % at the same ratio).",
        ),
        (
            [limit(800.0, Bound::Above), limit(12.0, Bound::Below)],
            "Beside Maker 0, Maker 2 is at most 0.1 times and Maker 1 is at least 8.0 times as strong.",
        ),
        ([like(), like()], "These readings cannot tell any of the tubes from Maker 0 by strength."),
    ];
    for (found, sentence) in cases {
        let mut analysis = analyse(&bench.study, None);
        for (tube, found) in (1..).zip(&found) {
            put(&mut analysis, tube, found);
        }
        assert_eq!(of(Subject::Strength, &bench.study, &analysis).sentence, sentence);
    }
}

/// ΔE00, ΔL*, ΔC*, ΔH* and the two hues.
fn seen(delta_e: Figure, [l, c, h]: [f64; 3], [standard, sample]: [f64; 2]) -> EqualStrengthColour {
    let lab = |hue: f64| {
        let (sin, cos) = hue.to_radians().sin_cos();
        Lab::new(50.0, 40.0 * cos, 40.0 * sin)
    };
    EqualStrengthColour {
        from_picture: false,
        delta_e,
        delta_lightness: sure(l, 0.1),
        delta_chroma: sure(c, 0.1),
        delta_hue: sure(h, 0.1),
        sample: lab(sample),
        standard: lab(standard),
    }
}

#[test]
fn every_colour_at_equal_strength_has_its_sentence() {
    let same = [280.0, 280.0];
    // Figures, then what is said of one tube, and of it among several.
    let cases = [
        (
            seen(sure(0.4, 0.3), [0.0; 3], same),
            "At equal strength there is no visible difference between Maker 1 and Maker 0: one \
             pigment at two loads.",
            "Maker 1 shows no visible difference",
        ),
        (
            seen(sure(1.2, 1.5), [1.0; 3], same),
            "At equal strength these readings cannot tell Maker 1 from Maker 0.",
            "these readings cannot tell Maker 1 from it",
        ),
        (
            seen(bare(5.0), [1.0; 3], same),
            "At equal strength these readings cannot tell Maker 1 from Maker 0.",
            "these readings cannot tell Maker 1 from it",
        ),
        (
            seen(sure(1.5, 0.3), [0.2, 0.3, 2.0], [280.0, 283.0]),
            "At equal strength Maker 1 is close to Maker 0, leaning 3° toward red.",
            "Maker 1 is close, leaning 3° toward red",
        ),
        (
            seen(sure(4.0, 0.3), [0.2, 0.3, -5.0], [280.0, 273.0]),
            "At equal strength Maker 1 is another colour than Maker 0: it leans 7° toward green.",
            "Maker 1 is another colour, leaning 7° toward green",
        ),
        (
            seen(sure(40.0, 0.3), [0.2, 0.3, 60.0], [280.0, 20.0]),
            "At equal strength Maker 1 is another colour than Maker 0, of another hue.",
            "Maker 1 is another colour, of another hue",
        ),
        (
            seen(sure(1.5, 0.3), [0.2, 2.0, 0.3], same),
            "At equal strength Maker 1 is close to Maker 0, more vivid.",
            "Maker 1 is close, more vivid",
        ),
        (
            seen(sure(4.0, 0.3), [0.2, -5.0, 0.3], same),
            "At equal strength Maker 1 is another colour than Maker 0, duller.",
            "Maker 1 is another colour, duller",
        ),
        (
            seen(sure(4.0, 0.3), [5.0, 1.0, 0.3], same),
            "At equal strength Maker 1 is another colour than Maker 0, lighter.",
            "Maker 1 is another colour, lighter",
        ),
        (
            seen(sure(4.0, 0.3), [-5.0, 1.0, 0.3], same),
            "At equal strength Maker 1 is another colour than Maker 0, darker.",
            "Maker 1 is another colour, darker",
        ),
    ];
    let (one, two) = (Bench::of_loads(&[1.0, 1.0]), Bench::of_loads(&[1.0, 1.0, 1.0]));
    let put = |analysis: &mut Analysis, tube: usize, colour| {
        let strength = analysis.tubes[tube].strength.as_mut().expect("read");
        strength.colour_at_equal_strength = Ok(colour);
    };
    for (colour, alone, among) in cases {
        let mut analysis = analyse(&one.study, None);
        put(&mut analysis, 1, colour);
        let told = of(Subject::ColourAtEqualStrength, &one.study, &analysis);
        assert_eq!(told.sentence, alone);
        let value = format!("ΔE00 {:.1}", colour.delta_e.value);
        assert!(told.evidence.starts_with(&value), "{}", told.evidence);

        // Beside it one that differs more, and so is said first.
        let mut analysis = analyse(&two.study, None);
        put(&mut analysis, 1, colour);
        put(&mut analysis, 2, seen(sure(50.0, 0.3), [-60.0, 1.0, 0.3], same));
        assert_eq!(
            of(Subject::ColourAtEqualStrength, &two.study, &analysis).sentence,
            format!(
                "Beside Maker 0 at equal strength, Maker 2 is another colour, darker; {among}."
            )
        );
    }
}

#[test]
fn every_loss_in_mixtures_has_its_sentence() {
    let mut bench = Bench::new(&["Clean", "Dirty", "Yellow", "White"], 3);
    for (tube, lab) in [(0, [50.0, 0.0, -50.0]), (1, [50.0, 0.0, -50.0]), (2, [80.0, 10.0, 60.0])] {
        bench.lab(&[(tube, 1.0)], lab);
    }
    for tube in [0, 1] {
        bench.lab(&[(tube, 1.0), (2, 1.0)], [60.0, -15.0, 5.0]);
    }
    let base = analyse(&bench.study, None);
    let told = |losses: [Figure; 2], gaps: [f64; 2], word: VividnessWord, dulling: Outcome| {
        let mut analysis = base.clone();
        for (pair, (loss, gap)) in analysis.pairs.iter_mut().zip(losses.into_iter().zip(gaps)) {
            pair.hue_gap = Ok(sure(gap, 1.0));
            pair.steps[0].chroma_loss = Ok(loss);
            pair.steps[0].dulling = dulling;
            pair.steps[0].vividness = Vividness { word, share: 0.5 };
        }
        of(Subject::Mixing, &bench.study, &analysis)
    };
    let dirty = "Mixed with Maker 2 Yellow, Maker 1 Dirty loses 72 % of the expected chroma";
    let (muted, none) = (VividnessWord::Muted, Err(WhyNot::MixturesUnread));
    let cases = [
        // Ranked; too near to rank; intervals that meet; other gaps; alone with a word.
        ([sure(0.36, 0.05), sure(0.72, 0.05)], [160.0, 160.0], muted, ", Maker 0 Clean only 36 %."),
        ([sure(0.65, 0.01), sure(0.72, 0.01)], [160.0, 160.0], muted, "; the mixture is muted."),
        ([sure(0.36, 0.30), sure(0.72, 0.30)], [160.0, 160.0], muted, "; the mixture is muted."),
        ([sure(0.36, 0.05), sure(0.72, 0.05)], [120.0, 160.0], muted, "; the mixture is muted."),
    ];
    for (losses, gaps, word, rest) in cases {
        assert_eq!(told(losses, gaps, word, none).sentence, format!("{dirty}{rest}"));
    }
    for unsure in [sure(0.3, 0.4), bare(0.3)] {
        assert_eq!(
            told([bare(0.1), unsure], [160.0; 2], muted, none).sentence,
            "These readings cannot tell how much chroma Maker 1 Dirty loses in mixtures with Maker 2 \
             Yellow."
        );
    }
    for (dulling, expected) in [
        (
            Ok(sure(0.2, 0.1)),
            "At 1 : 1: 72 % ± 5 %, muted; the hues lie 160° apart; 20 % duller than a straight blend.",
        ),
        (
            Ok(sure(-0.2, 0.1)),
            "At 1 : 1: 72 % ± 5 %, muted; the hues lie 160° apart; 20 % brighter than a straight \
             blend.",
        ),
        (none, "At 1 : 1: 72 % ± 5 %, muted; the hues lie 160° apart."),
    ] {
        let losses = [sure(0.36, 0.05), sure(0.72, 0.05)];
        assert_eq!(told(losses, [160.0; 2], muted, dulling).evidence, expected);
    }
}

#[test]
fn every_turn_in_tints_has_its_sentence() {
    let mut bench = Bench::new(&["Red", "White"], 1);
    bench.lab(&[(0, 1.0)], [50.0, 50.0, 0.5]);
    bench.lab(&[(1, 1.0)], [96.0, 0.0, 1.0]);
    bench.lab(&[(0, 1.0), (1, 4.0)], [70.0, 30.0, 0.5]);
    let mut analysis = analyse(&bench.study, None);
    let unsure = "These readings cannot tell whether white changes the hue of Maker 0 Red.";
    let turns = "From mass tone to palest tint Maker 0 Red turns";
    let cases = [
        (sure(16.0, 2.0), format!("{turns} 16° toward yellow."), "Tint shift +16.0° (± 2.0°)."),
        (sure(-8.4, 2.0), format!("{turns} 8° toward blue."), "Tint shift −8.4° (± 2.0°)."),
        (sure(2.0, 3.0), unsure.into(), "Tint shift +2.0° (± 3.0°)."),
        // Surely there, and still it would read as 0°.
        (sure(0.4, 0.1), unsure.into(), "Tint shift +0.4° (± 0.1°)."),
        (bare(16.0), unsure.into(), "Tint shift +16.0° (no interval: REASON)."),
    ];
    for (shift, sentence, evidence) in cases {
        analysis.tubes[0].tint_shift = Ok(shift);
        let told = of(Subject::Tint, &bench.study, &analysis);
        assert_eq!(told.sentence, sentence);
        assert_eq!(told.evidence, evidence.replace("REASON", &WhyNot::NotSteady.to_string()));
    }
}

#[test]
fn every_thing_a_third_tube_can_do_has_its_sentence() {
    let mut bench = Bench::new(&["A", "B", "Saddle Red", "White"], 3);
    bench.lab(&[(0, 1.0), (1, 1.0)], [50.0, 30.0, 0.0]);
    bench.lab(&[(0, 2.0), (1, 2.0), (2, 1.0)], [50.0, 20.0, 20.0]);
    let read = analyse(&bench.study, None).mixtures[0].clone();
    let none = WhyNot::BaseUnread;
    let (moved, still) = (Ok(sure(15.0, 0.5)), Ok(sure(0.4, 0.3)));
    let cases = [
        (
            Ok(sure(45.0, 5.0)),
            Ok(sure(0.18, 0.05)),
            moved,
            "turned it 45° toward yellow and took 18 % of its chroma.",
        ),
        (Ok(sure(45.0, 5.0)), Ok(sure(0.18, 0.30)), moved, "turned it 45° toward yellow."),
        (Ok(sure(-45.0, 5.0)), Err(none), moved, "turned it 45° toward red."),
        (Ok(sure(0.5, 0.1)), Ok(sure(-0.3, 0.05)), moved, "gave it 30 % more chroma."),
        (Ok(sure(0.5, 0.1)), Ok(sure(0.01, 0.005)), still, "made no visible difference."),
    ];
    let told = |hue_shift, chroma_loss, delta_e| {
        let mixture = figures::MixtureFigures { hue_shift, chroma_loss, delta_e, ..read.clone() };
        what_others_did(&bench.study, &mixture)
    };
    assert_eq!(read.colour.lab.hue().map(Hue::degrees), Some(45.0));
    for (hue_shift, chroma_loss, delta_e, expected) in cases {
        assert_eq!(told(hue_shift, chroma_loss, delta_e), format!("20 % Saddle Red {expected}"));
    }
    let unsure = "These readings cannot tell what 20 % Saddle Red did.";
    assert_eq!(told(Ok(bare(45.0)), Ok(bare(0.2)), moved), unsure);
    assert_eq!(told(Err(none), Err(none), Ok(bare(0.2))), unsure);
    assert_eq!(told(Err(none), Err(none), Err(none)), "");
    assert_eq!(read.tubes.iter().filter(|part| part.tube == TubeRef(2)).count(), 1);
}
