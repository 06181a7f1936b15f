//! What becomes of readings before they are figures, and what the user is told about it.

use crate::common::{Bench, close};
use colour::{Conditions, Illuminant, Lab, Observer, StatedLab, spread};
use figures::analyse;
use mixing::Geometry;
use study::{Backing, FilmKind, Measured, State, Warning};

fn warnings(bench: &Bench) -> Vec<String> {
    analyse(&bench.study, None).warnings.iter().map(Warning::to_string).collect()
}

#[test]
fn spectra_are_averaged_before_they_become_colours() {
    let mut bench = Bench::new(&["A", "White"], 1);
    let (dark, light) = (0.05, 0.45);
    for r in [dark, light] {
        bench.flat(&[(0, 1.0)], r);
    }
    let analysis = analyse(&bench.study, None);
    let mass_tone = analysis.tubes[0].mass_tone().expect("read");
    // The mean of 5 % and 45 % is 25 %, whose L* is 57.08; the mean of the two L* is 49.89.
    close(mass_tone.lab.l, 57.08, 0.01, "L* of the mean reflectance");
    assert_eq!(mass_tone.repeats, 2);
    let labs: Vec<Lab> = bench
        .study
        .readings
        .iter()
        .map(|reading| reading.measured.lab(Conditions::D65_10).expect("spectra"))
        .collect();
    assert_eq!(mass_tone.spread, spread(&labs));
}

#[test]
fn a_spectrum_and_a_typed_colour_make_a_colour_without_a_spectrum() {
    let mut bench = Bench::new(&["A", "White"], 1);
    bench.flat(&[(0, 1.0)], 0.25);
    bench.lab(&[(0, 1.0)], [60.0, 10.0, 0.0]);
    let analysis = analyse(&bench.study, None);
    let mass_tone = analysis.tubes[0].mass_tone().expect("read");
    assert!(mass_tone.reflectance.is_none());
    close(mass_tone.lab.l, f64::midpoint(57.08, 60.0), 0.01, "mean L*");
    close(mass_tone.lab.a, 5.0, 1e-6, "mean a*");
}

#[test]
fn states_backings_and_films_are_kept_apart() {
    let mut bench = Bench::new(&["A", "White"], 1);
    bench.lab(&[(0, 1.0)], [50.0, 40.0, 0.0]);
    bench.lab(&[(0, 1.0)], [55.0, 40.0, 0.0]);
    bench.study.readings[1].state = State::Wet;
    bench.reading(&[(0, 1.0)], [20.0, 5.0, 0.0], Backing::Black, FilmKind::Full);
    bench.reading(&[(0, 1.0)], [70.0, 20.0, 9.0], Backing::Paper, FilmKind::Thin);
    let analysis = analyse(&bench.study, None);
    let mass_tone = analysis.tubes[0].mass_tone().expect("read");
    assert_eq!((mass_tone.repeats, mass_tone.lab.l), (1, 50.0));
}

#[test]
fn parts_count_by_their_ratio_however_they_are_written() {
    let mut bench = Bench::new(&["A", "White"], 1);
    for (own, white) in [(1.0, 4.0), (0.5, 2.0), (3.0, 12.0)] {
        bench.lab(&[(0, own), (1, white)], [60.0, 30.0, 0.0]);
    }
    let tints = &analyse(&bench.study, None).tubes[0].tints;
    assert_eq!((tints.len(), tints[0].colour.repeats), (1, 3));
    close(tints[0].white_parts, 4.0, 1e-12, "parts of white");
}

#[test]
fn another_light_is_adapted_and_another_observer_left_out_with_a_word() {
    let mut bench = Bench::new(&["A", "White"], 1);
    bench.lab(&[(0, 1.0)], [50.0, 40.0, 0.0]);
    let typed = |illuminant, observer| {
        let conditions = Conditions { illuminant, observer };
        Measured::Lab(StatedLab { lab: Lab::new(50.0, 0.0, 0.0), conditions })
    };
    // A grey stays a grey under every light.
    bench.study.readings[0].measured = typed(Illuminant::D50, Observer::Ten);
    bench.study.readings[0].line = Some(7);
    let analysis = analyse(&bench.study, None);
    close(analysis.tubes[0].mass_tone().expect("adapted").lab.chroma(), 0.0, 1e-3, "grey");
    bench.study.readings[0].measured = typed(Illuminant::D65, Observer::Two);
    let analysis = analyse(&bench.study, None);
    assert!(analysis.tubes[0].mass_tone().is_none());
    assert_eq!(analysis.warnings[0].line, Some(7));
    assert!(analysis.warnings[0].message.contains("for the 2° observer cannot be turned into"));
}

#[test]
fn what_an_interval_had_to_assume_is_said() {
    let mut bench = Bench::new(&["A", "White"], 1);
    bench.lab(&[(0, 1.0)], [50.0, 40.0, 0.0]);
    assert!(warnings(&bench).is_empty());
    bench.study.protocol.scale_g = None;
    bench.study.protocol.repeatability = None;
    assert_eq!(
        warnings(&bench),
        [
            "intervals take a scale of 0.01 g and piles of 4 g, since neither is stated",
            "where there are fewer than three repeats, intervals take a repeatability of ΔE00 0.1 \
             (MCDM), since none is stated",
        ]
    );
    // By volume and by eye no scale is asked for.
    bench.study.protocol.basis = study::Basis::Volume;
    assert_eq!(warnings(&bench).len(), 1);
}

#[test]
fn a_ladder_that_starts_too_pale_or_whose_white_is_unread_is_said() {
    let mut bench = Bench::new(&["A", "White"], 1);
    bench.lab(&[(0, 1.0)], [30.0, 20.0, 0.0]);
    for (white, chroma) in [(1.0, 50.0), (4.0, 30.0)] {
        bench.lab(&[(0, 1.0), (1, white)], [60.0, chroma, 0.0]);
    }
    let said = warnings(&bench);
    assert!(said[0].starts_with("A: its ladder starts too pale;") && said[0].contains("1:0.5"));
    assert!(said[1].starts_with("the white has not been read alone"));
}

/// A paint that holds white itself tints ever more weakly than its first tint promises.
#[test]
fn a_strength_that_moves_along_the_ladder_is_said() {
    let mut bench = Bench::new(&["Full", "Extended", "White"], 2);
    bench.study.protocol.geometry = Geometry::Internal;
    bench.study.protocol.pile_g = Some(1000.0);
    bench.study.protocol.repeatability = Some(0.001);
    let loads = [1.0, 1.0];
    bench.spectrum(&[(2, 1.0)], Geometry::Internal, &loads);
    for white in [1.0, 2.0, 4.0, 8.0, 16.0] {
        bench.spectrum(&[(0, 1.0), (2, white)], Geometry::Internal, &loads);
        // One part of the extended tube is half white: its true ratio is 0.5 : (white + 0.5).
        bench.spectrum(&[(1, 0.5), (2, white + 0.5)], Geometry::Internal, &loads);
        let last = bench.study.readings.last_mut().expect("just added");
        last.mixture = study::Mixture::of(&[(study::TubeRef(1), 1.0), (study::TubeRef(2), white)]);
    }
    let said = warnings(&bench);
    assert!(
        said.iter().any(|it| it.starts_with("Extended: its strength moves from 3")
            && it.ends_with("it scatters, or contains white")),
        "{said:?}"
    );
}
