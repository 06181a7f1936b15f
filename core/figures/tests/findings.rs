//! Verdicts and their sentences, case by case.

use crate::common::Bench;
use colour::Hue;
use figures::finding::{Closeness, Subject, findings, toward};
use figures::{Figure, WhyNot, analyse};
use study::TubeRef;

fn sentence(bench: &Bench, subject: Subject) -> String {
    let analysis = analyse(&bench.study, None);
    let found = findings(&bench.study, &analysis);
    let finding = found.iter().find(|finding| finding.subject == subject);
    finding.map_or_else(String::new, |finding| finding.sentence.clone())
}

#[test]
fn every_tube_of_a_family_is_judged_by_strength() {
    let cases: [(&[f64], &str); 6] = [
        (&[1.0, 0.7], "Maker 0 is 1.4 times as strong as Maker 1."),
        (&[1.0, 1.5], "Maker 1 is 1.5 times as strong as Maker 0."),
        (&[1.0, 1.0], "These readings cannot tell whether Maker 1 or Maker 0 is stronger."),
        (
            &[1.0, 0.9, 0.7],
            "Beside Maker 0, Maker 2 is 0.7 times and Maker 1 is 0.9 times as strong.",
        ),
        (
            &[1.0, 1.0, 1.4],
            "Beside Maker 0, Maker 2 is 1.4 times as strong; these readings cannot tell Maker 1 \
             from it.",
        ),
        (&[1.0, 1.0, 1.0], "These readings cannot tell any of the tubes from Maker 0 by strength."),
    ];
    for (loads, expected) in cases {
        assert_eq!(sentence(&Bench::of_loads(loads), Subject::Strength), expected);
    }
}

#[test]
fn one_pigment_at_two_loads_shows_no_visible_difference() {
    assert_eq!(
        sentence(&Bench::of_loads(&[1.0, 0.7]), Subject::ColourAtEqualStrength),
        "At equal strength there is no visible difference between Maker 1 and Maker 0: one pigment \
         at two loads."
    );
    assert_eq!(
        sentence(&Bench::of_loads(&[1.0, 0.8, 0.6]), Subject::ColourAtEqualStrength),
        "At equal strength none differs visibly from Maker 0: one pigment at other loads."
    );
}

/// Made by eye, the same readings tell less, and the sentence says how they were made.
#[test]
fn by_eye_less_is_claimed() {
    let mut bench = Bench::of_loads(&[1.0, 0.7]);
    bench.study.protocol.basis = study::Basis::Eye;
    assert_eq!(
        sentence(&bench, Subject::Strength),
        "These readings cannot tell whether Maker 1 or Maker 0 is stronger, by eye."
    );
}

/// Two methods that answer differently beyond their intervals are both told.
#[test]
fn methods_that_contradict_each_other_are_said_to() {
    let mut bench = Bench::of_loads(&[1.0, 1.0]);
    // The second tube's tints are darkened by a grey that the first does not have.
    for reading in &mut bench.study.readings {
        if reading.mixture.parts_of(TubeRef(1)) > 0.0
            && let study::Measured::Spectrum(spectrum) = reading.measured
        {
            let bands = *spectrum.bands();
            let greyed = colour::Reflectance::from_fn(|band| bands[band] * 0.7);
            reading.measured = study::Measured::Spectrum(greyed);
        }
    }
    let told = sentence(&bench, Subject::Strength);
    assert!(told.starts_with("How strong Maker 1 is beside Maker 0 depends"), "{told}");
    assert!(told.contains("% at equal depth, but"), "{told}");
}

/// A shift within its interval, or without one, is not told as a hue that stays.
#[test]
fn a_hue_that_may_have_moved_is_not_said_to_stay() {
    let mut bench = Bench::new(&["Red", "White"], 1);
    bench.lab(&[(1, 1.0)], [96.0, 0.0, 1.0]);
    bench.lab(&[(0, 1.0)], [50.0, 50.0, 0.5]);
    for (white, turn) in [(1.0, 0.4), (4.0, 0.5)] {
        bench.lab(&[(0, 1.0), (1, white)], [60.0 + white, 40.0, turn]);
    }
    let told = sentence(&bench, Subject::Tint);
    assert_eq!(told, "These readings cannot tell whether white changes the hue of Maker 0 Red.");
    bench.lab(&[(0, 1.0), (1, 16.0)], [90.0, 10.0, 3.0]);
    let told = sentence(&bench, Subject::Tint);
    assert!(told.ends_with("turns 16° toward yellow."), "{told}");
}

#[test]
fn makers_alone_are_named_only_where_each_has_one_tube() {
    let mut bench = Bench::of_loads(&[1.0, 0.7]);
    bench.study.tubes[1].maker = "Maker 0".into();
    assert_eq!(
        sentence(&bench, Subject::Strength),
        "Maker 0 Blue 0 is 1.4 times as strong as Maker 0 Blue 1."
    );
}

#[test]
fn mixing_is_ranked_only_between_equal_gaps() {
    let mut bench = Bench::new(&["Clean", "Dirty", "Yellow", "White"], 3);
    for tube in &mut bench.study.tubes {
        tube.code.clear();
    }
    for tube in [0, 1] {
        bench.lab(&[(tube, 1.0)], [50.0, 0.0, -50.0]);
    }
    bench.lab(&[(2, 1.0)], [80.0, 10.0, 60.0]);
    bench.lab(&[(0, 1.0), (2, 1.0)], [60.0, -35.0, 5.0]);
    bench.lab(&[(1, 1.0), (2, 1.0)], [60.0, -15.0, 5.0]);
    assert_eq!(
        sentence(&bench, Subject::Mixing),
        "Mixed with Maker 2 Yellow, Maker 1 Dirty loses 72 % of the expected chroma, Maker 0 \
         Clean only 36 %."
    );
    // With another hue the two no longer compare.
    bench.study.readings.remove(0);
    bench.lab(&[(0, 1.0)], [50.0, -40.0, -30.0]);
    assert_eq!(
        sentence(&bench, Subject::Mixing),
        "Mixed with Maker 2 Yellow, Maker 1 Dirty loses 72 % of the expected chroma; the \
         mixture is neutral."
    );
}

#[test]
fn without_readings_there_is_no_finding() {
    let bench = Bench::new(&["A", "White"], 1);
    let analysis = analyse(&bench.study, Some(TubeRef(0)));
    assert!(findings(&bench.study, &analysis).is_empty());
}

#[test]
fn small_differences_have_their_words() {
    let sure = |value, half| Figure { value, half_width: Ok(half), indicative: false };
    let bare = |value| Figure { value, half_width: Err(WhyNot::NotSteady), indicative: false };
    let cases = [
        (sure(0.4, 0.3), Closeness::NoVisibleDifference),
        (sure(0.3, 0.6), Closeness::NoVisibleDifference),
        (sure(0.8, 0.9), Closeness::CannotTell),
        (sure(0.9, 0.3), Closeness::Close),
        (sure(1.9, 0.1), Closeness::Close),
        (sure(2.0, 0.1), Closeness::Different),
        (bare(0.5), Closeness::CannotTell),
        (bare(3.0), Closeness::CannotTell),
    ];
    for (figure, expected) in cases {
        assert_eq!(Closeness::of(&figure), expected, "{figure:?}");
    }
}

/// A positive shift runs red → yellow → green → blue, from whichever family it starts in.
#[test]
fn every_hue_knows_where_it_goes() {
    let cases = [
        (20.0, "blue", "yellow"),
        (60.0, "red", "yellow"),
        (90.0, "red", "green"),
        (120.0, "yellow", "green"),
        (160.0, "yellow", "blue"),
        (210.0, "green", "blue"),
        (285.0, "green", "red"),
        (330.0, "blue", "red"),
        (355.0, "blue", "yellow"),
    ];
    for (hue, down, up) in cases {
        let hue = Hue::from_degrees(hue);
        assert_eq!((toward(hue, -5.0), toward(hue, 5.0)), (down, up), "{hue:?}");
    }
}

#[test]
fn every_reason_is_a_sentence_of_its_own() {
    let mut reasons: Vec<String> = WhyNot::ALL.iter().map(ToString::to_string).collect();
    reasons.sort();
    reasons.dedup();
    assert_eq!(reasons.len(), WhyNot::ALL.len());
    assert!(reasons.iter().all(|reason| reason.len() > 12));
}
