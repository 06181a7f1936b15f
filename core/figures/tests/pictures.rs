//! What figures from pictures say: given, indicative or refused, with half-widths from the table of docs/science.md,
//! "A picture of a sheet" (found by simulation; ours).

use std::sync::Arc;

use crate::common::Bench;
use colour::ciede2000;
use figures::{Analysis, Outcome, WhyNot, analyse};
use study::Calibration::{self, Calibrated, Guessed, Uncalibrated};
use study::ReadingSource::{self, Photo, Scan};
use study::{Averages, Backing, FilmKind, FromPicture, Mixture, Reading, Study, TubeRef};

/// How a picture was taken, and what it rests on.
type Taken = (ReadingSource, Calibration);

/// Two blues of loads 1 and 0.8 with their tints and the white, read from pictures; `unlike` pigments are two.
fn bench((source, calibration): Taken, unlike: bool, pictures: usize) -> Bench {
    let mut bench = Bench::of_loads(&[1.0, 0.8]);
    if unlike {
        bench.study.tubes[1].code = "PB60".into();
    }
    bench.keep_only_lab();
    for reading in &mut bench.study.readings {
        let second = pictures > 1 && reading.mixture.parts_of(TubeRef(1)) > 0.0;
        from_picture(reading, source, if second { "b" } else { "a" }, calibration);
    }
    bench
}

fn from_picture(reading: &mut Reading, source: ReadingSource, picture: &str, how: Calibration) {
    reading.source = source;
    let uncertainty = if how == Uncalibrated { 9.0 } else { 2.0 };
    reading.from_picture =
        Some(FromPicture { picture: Arc::from(picture), uncertainty, calibration: how });
}

/// The half-width as a share of the figure, and whether it only points the way.
type Told = Result<(f64, bool), WhyNot>;

fn told(outcome: Outcome) -> Told {
    outcome.and_then(|figure| Ok((figure.half_width? / figure.value, figure.indicative)))
}

/// The same ratio at its headline, and equal depth, of the second tube.
fn strengths(analysis: &Analysis) -> [Told; 2] {
    let strength = analysis.tubes[1].strength.as_ref().expect("a standard");
    let at_ratio = strength.headline().map_or_else(
        || strength.same_ratio.first().map_or(Err(WhyNot::StandardUnread), |it| it.percent),
        |it| it.percent,
    );
    [told(at_ratio), told(strength.equal_depth.map(|it| it.percent))]
}

/// A strength's half-width is the table's share, with what weighing and the surface add to it.
#[test]
fn strengths_are_given_indicative_or_refused_as_the_table_says() {
    let refused = Err(WhyNot::Uncalibrated);
    let given = |share| Ok((share, false));
    let indicative = |share| Ok((share, true));
    let cases: [(Taken, bool, usize, [Told; 2]); 9] = [
        ((Scan, Calibrated), false, 1, [given(0.05), given(0.05)]),
        ((Photo, Calibrated), false, 1, [given(0.12), given(0.12)]),
        ((Photo, Guessed), false, 1, [indicative(0.12), indicative(0.12)]),
        ((Scan, Calibrated), true, 1, [given(0.10), indicative(0.30)]),
        ((Photo, Calibrated), true, 1, [indicative(0.16), indicative(0.30)]),
        ((Scan, Uncalibrated), false, 1, [refused, given(0.05)]),
        ((Photo, Uncalibrated), false, 1, [refused, given(0.14)]),
        ((Photo, Uncalibrated), true, 1, [refused, refused]),
        // Two pictures that nothing ties together.
        ((Scan, Uncalibrated), false, 2, [refused, refused]),
    ];
    for (read, unlike, pictures, expected) in cases {
        let found = strengths(&analyse(&bench(read, unlike, pictures).study, Some(TubeRef(0))));
        for (found, expected) in found.iter().zip(&expected) {
            match (found, expected) {
                (Ok((half, indicative)), Ok((share, expected))) => {
                    let near = (*share..share + 0.03).contains(half);
                    assert!(
                        near && indicative == expected,
                        "{read:?} {unlike}: {half} for {share}"
                    );
                }
                _ => assert_eq!(found, expected, "{read:?} {unlike} {pictures}"),
            }
        }
    }
    // Read in two calibrated pictures, their errors do not cancel.
    let [one, two] = [1, 2]
        .map(|count| strengths(&analyse(&bench((Scan, Calibrated), false, count).study, None))[1]);
    assert!(two.expect("given").0 > 2.0 * one.expect("given").0, "{one:?} {two:?}");
}

/// Hue shifts of tints: within one picture 0.4 of what the readings alone would leave, and ± 15° without calibration.
#[test]
fn tints_of_one_picture_keep_part_of_their_error() {
    let shift = |read, pictures| {
        let mut bench = bench(read, false, 1);
        if pictures == 2 {
            let white = bench.study.white.expect("a white");
            let palest = bench.study.readings.iter_mut();
            let palest = palest.filter(|it| (it.mixture.parts_of(white) - 4.0).abs() < 0.1);
            palest.for_each(|it| from_picture(it, read.0, "b", read.1));
        }
        let tint = &analyse(&bench.study, None).tubes[0].tints[3];
        let [hue, loss] = [&tint.hue_shift, &tint.chroma_loss].map(|it| it.expect("a figure"));
        (
            hue.half_width.expect("an interval"),
            loss.half_width.expect("an interval"),
            hue.indicative,
        )
    };
    let (one, loss, sure) = shift((Scan, Calibrated), 1);
    let (guessed, _, unsure) = shift((Scan, Guessed), 1);
    assert!(!sure && unsure && (guessed / one - 1.5).abs() < 0.1, "{guessed} for {one}");
    let (hue, flat, _) = shift((Photo, Uncalibrated), 1);
    assert_eq!((hue, flat), (15.0, 0.25));
    let (apart, loss_apart, _) = shift((Scan, Calibrated), 2);
    assert!(apart > 1.5 * one && loss_apart > 1.5 * loss, "{apart} for {one}");
}

/// Contrast ratios are good to 6, and to 8 as a hint; what a hidden complement does is told with its interval.
#[test]
fn opacity_and_pairs_say_what_they_rest_on() {
    for (how, half, indicative) in [(Calibrated, 6.0, false), (Uncalibrated, 8.0, true)] {
        let mut bench = bench((Scan, how), false, 1);
        bench.reading(&[(0, 1.0)], [60.0, 20.0, -40.0], Backing::Black, FilmKind::Full);
        bench.reading(&[(0, 1.0)], [70.0, 20.0, -45.0], Backing::White, FilmKind::Full);
        for parts in [0.5, 2.0] {
            bench.lab(&[(0, 1.0), (1, parts)], [25.0 + parts, 21.0, -42.0]);
        }
        bench.study.readings.iter_mut().for_each(|it| from_picture(it, Scan, "a", how));
        let analysis = analyse(&bench.study, None);
        let opacity = analysis.tubes[0].opacity.expect("an opacity").contrast_ratio;
        assert_eq!((opacity.half_width, opacity.indicative), (Ok(half), indicative));
        let pair = &analysis.pairs[0];
        let off = pair.steps[0].delta_e_a.expect("a distance");
        assert_eq!(off.indicative, indicative);
        let holding = pair.holding.map(|it| it.ratio);
        assert_eq!(holding.is_err(), indicative, "{holding:?}");
    }
}

/// A meter and a picture of one swatch are never averaged: the meter counts, and tells how far the picture is off.
#[test]
fn the_better_reading_counts_and_checks_the_picture() {
    let mut bench = bench((Scan, Calibrated), false, 1);
    let before = Averages::of(&bench.study);
    let neat = Mixture::neat(TubeRef(0));
    let picture = before.dry(&neat, Backing::Paper).expect("read").lab;
    assert!(before.picture_checks.is_empty());
    bench.lab(&[(0, 1.0)], [picture.l + 1.0, picture.a, picture.b + 2.0]);
    let after = Averages::of(&bench.study);
    let colour = after.dry(&neat, Backing::Paper).expect("read");
    assert!(colour.in_pictures.is_none() && colour.repeats == 1);
    let [check] = after.picture_checks.as_slice() else { panic!("one check") };
    assert!((check.off.value() - ciede2000(colour.lab, picture).value()).abs() < 1e-9);
    let said = analyse(&bench.study, None).warnings;
    assert!(said.iter().any(|it| it.message.starts_with("1 swatch was read")), "{said:?}");
    // Two pictures are averaged, and are no surer for it.
    let mut twice: Study = bench.study.clone();
    twice.readings.retain(|it| it.from_picture.is_some());
    for reading in twice.readings.clone() {
        let mut other = reading;
        from_picture(&mut other, Photo, "b", Calibrated);
        twice.readings.push(other);
    }
    let averaged = Averages::of(&twice);
    let from = averaged.dry(&neat, Backing::Paper).and_then(|it| it.in_pictures.clone());
    let from = from.expect("from pictures");
    assert_eq!((from.pictures.len(), from.uncertainty, from.is_photo), (2, 2.0, true));
}
