//! Verdicts and their sentences, case by case.

mod common;

use colour::Hue;
use common::Bench;
use mixing::Geometry;
use trial::figures::{Figure, WhyNot};
use trial::finding::{Closeness, Subject, findings, toward};
use trial::{TubeRef, analyse};

const TINTS: [f64; 4] = [1.0, 2.0, 4.0, 8.0];

/// Tubes of one pigment with these loads, then the white.
fn of_loads(loads: &[f64]) -> Bench {
    let names: Vec<String> = (0..loads.len()).map(|at| format!("Blue {at}")).collect();
    let mut names: Vec<&str> = names.iter().map(String::as_str).collect();
    names.push("White");
    let white = loads.len();
    let mut bench = Bench::new(&names, white);
    bench.study.protocol.geometry = Geometry::Internal;
    bench.spectrum(&[(white, 1.0)], Geometry::Internal, loads);
    for tube in 0..loads.len() {
        bench.spectrum(&[(tube, 1.0)], Geometry::Internal, loads);
        for parts in TINTS {
            bench.spectrum(&[(tube, 1.0), (white, parts)], Geometry::Internal, loads);
        }
    }
    bench
}

fn sentence(bench: &Bench, subject: Subject) -> String {
    let analysis = analyse(&bench.study, None);
    let found = findings(&bench.study, &analysis);
    let finding = found.iter().find(|finding| finding.subject == subject);
    finding.map_or_else(String::new, |finding| finding.sentence.clone())
}

#[test]
fn strength_is_told_as_parts() {
    let cases: [(&[f64], &str); 5] = [
        (&[1.0, 0.7], "1 part of Maker 0 does what 1.43 parts of Maker 1 do."),
        (&[1.0, 1.5], "1 part of Maker 1 does what 1.50 parts of Maker 0 do."),
        (
            &[1.0, 1.0],
            "Maker 1 tints as strongly as Maker 0: these readings cannot tell them apart.",
        ),
        (
            &[1.0, 0.9, 0.7],
            "Maker 2 tints weakest: 1 part of Maker 0 does what 1.43 parts of Maker 2 do.",
        ),
        (&[1.0, 1.0, 1.0], "These readings cannot tell any of the tubes from Maker 0 by strength."),
    ];
    for (loads, expected) in cases {
        assert_eq!(sentence(&of_loads(loads), Subject::Strength), expected);
    }
}

#[test]
fn one_pigment_at_two_loads_shows_no_visible_difference() {
    assert_eq!(
        sentence(&of_loads(&[1.0, 0.7]), Subject::ColourAtEqualStrength),
        "At equal strength there is no visible difference between Maker 1 and Maker 0: one pigment \
         at two loads."
    );
    assert_eq!(
        sentence(&of_loads(&[1.0, 0.8, 0.6]), Subject::ColourAtEqualStrength),
        "At equal strength none differs visibly from Maker 0: one pigment at other loads."
    );
}

#[test]
fn makers_alone_are_named_only_where_each_has_one_tube() {
    let mut bench = of_loads(&[1.0, 0.7]);
    bench.study.tubes[1].maker = "Maker 0".into();
    assert_eq!(
        sentence(&bench, Subject::Strength),
        "1 part of Maker 0 Blue 0 does what 1.43 parts of Maker 0 Blue 1 do."
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
        "Mixed with Maker 2 Yellow, Maker 1 Dirty loses 72 % of the chroma the two hold, Maker 0 \
         Clean only 36 %."
    );
    // With another hue the two no longer compare.
    bench.study.readings.remove(0);
    bench.lab(&[(0, 1.0)], [50.0, -40.0, -30.0]);
    assert_eq!(
        sentence(&bench, Subject::Mixing),
        "Mixed with Maker 2 Yellow, Maker 1 Dirty loses 72 % of the chroma the two hold: neutralised."
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
    let sure = |value, half| Figure { value, half_width: Ok(half) };
    let bare = |value| Figure { value, half_width: Err(WhyNot::ByEye) };
    let cases = [
        (sure(0.4, 0.3), Closeness::NoVisibleDifference),
        (sure(0.3, 0.6), Closeness::NoVisibleDifference),
        (sure(0.8, 0.9), Closeness::CannotTell),
        (sure(0.9, 0.3), Closeness::Close),
        (sure(1.9, 0.1), Closeness::Close),
        (sure(2.0, 0.1), Closeness::Different),
        (bare(0.5), Closeness::Close),
        (bare(3.0), Closeness::Different),
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
