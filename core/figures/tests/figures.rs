//! Figures of colours whose answers are known by construction or by hand.

use crate::common::{Bench, close};
use colour::Lab;
use figures::{Bound, Grade, OpacityClass, Outcome, StrengthBasis, WhyNot, analyse};
use mixing::{Geometry, Sheen};
use study::{Averages, Backing, FilmKind, FittedTubes, Mixture, RatioError, State, TubeRef};

const TINTS: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];

/// Full strength, a tube at 80 %, and a white that absorbs violet; hiding films whose K and S add.
fn eighty_percent(geometry: Geometry, declared: Geometry) -> Bench {
    let mut bench = Bench::new(&["Full", "Weak", "White"], 2);
    bench.study.protocol.geometry = declared;
    bench.study.protocol.sheen = Sheen::Gloss;
    bench.spectrum(&[(2, 1.0)], geometry, &[0.0, 0.0]);
    for tube in [0, 1] {
        bench.spectrum(&[(tube, 1.0)], geometry, &[1.0, 0.8]);
        for white in TINTS {
            bench.spectrum(&[(tube, 1.0), (2, white)], geometry, &[1.0, 0.8]);
        }
    }
    bench
}

#[test]
fn a_tube_at_eighty_percent_is_found_in_every_geometry() {
    for geometry in [
        Geometry::SphereIncluded,
        Geometry::SphereExcluded,
        Geometry::FortyFive,
        Geometry::Internal,
    ] {
        let analysis = analyse(&eighty_percent(geometry, geometry).study, None);
        let strength = analysis.tubes[1].strength.as_ref().expect("same pigments");
        assert_eq!(strength.standard, TubeRef(0));
        for entry in &strength.same_ratio {
            close(value(&entry.percent), 80.0, 0.01, &format!("{geometry}, {}", entry.white_parts));
            assert_eq!((entry.basis, entry.wavelength), (StrengthBasis::Spectral, Some(600)));
        }
        // A weaker tube is the same curve moved along ln(parts); only the interpolation differs.
        let depth = strength.equal_depth.as_ref().expect("shared depths");
        close(depth.percent.value, 80.0, 0.4, "equal depth");
        let colour = strength.colour_at_equal_strength.as_ref().expect("shared depths");
        assert!(colour.delta_e.value < 0.1, "{}", colour.delta_e.value);
        let standard = analysis.tubes[0].strength.as_ref().expect("the standard itself");
        assert!(
            standard.same_ratio.iter().all(|entry| (value(&entry.percent) - 100.0).abs() < 1e-9)
        );
    }
}

/// A trap: without the surface correction a paint truly at 80 % reads 82 to 84.
#[test]
fn forgetting_the_surface_reads_too_much() {
    let bench = eighty_percent(Geometry::SphereIncluded, Geometry::Internal);
    let analysis = analyse(&bench.study, None);
    let strength = analysis.tubes[1].strength.as_ref().expect("same pigments");
    let headline = strength.headline().expect("a tint to quote");
    assert!((82.0..84.5).contains(&value(&headline.percent)), "{:?}", headline.percent);
}

#[test]
fn without_spectra_the_lowest_tristimulus_value_tells_nearly_the_same() {
    let mut bench = eighty_percent(Geometry::SphereIncluded, Geometry::SphereIncluded);
    bench.keep_only_lab();
    let analysis = analyse(&bench.study, None);
    let strength = analysis.tubes[1].strength.as_ref().expect("same pigments");
    let headline = strength.headline().expect("a tint to quote");
    assert_eq!((headline.basis, headline.wavelength), (StrengthBasis::Tristimulus, None));
    close(value(&headline.percent), 80.0, 2.0, "tristimulus");
}

#[test]
fn ladders_that_share_no_depth_give_a_bound() {
    let mut bench = Bench::new(&["Deep", "Pale", "White"], 2);
    bench.lab(&[(2, 1.0)], [100.0, 0.0, 0.0]);
    for (white, depth) in [(1.0, 80.0), (2.0, 70.0)] {
        bench.lab(&[(0, 1.0), (2, white)], [100.0 - depth, 0.0, 0.0]);
        bench.lab(&[(1, 1.0), (2, white)], [100.0 - depth / 4.0, 0.0, 0.0]);
    }
    let analysis = analyse(&bench.study, Some(TubeRef(0)));
    let of = |tube: usize| analysis.tubes[tube].strength.as_ref().expect("named standard");
    let depth = of(1).equal_depth.as_ref().expect("a bound");
    // Pale's deepest tint (1 part of white) is paler than Deep's palest (2 parts): at most 50 %.
    assert_eq!((depth.bound, depth.percent.half_width), (Some(Bound::Below), Err(WhyNot::Bound)));
    close(depth.percent.value, 50.0, 1e-9, "bound");
    let analysis = analyse(&bench.study, Some(TubeRef(1)));
    let depth = analysis.tubes[0].strength.as_ref().expect("named").equal_depth.as_ref();
    let depth = depth.expect("a bound");
    assert_eq!(depth.bound, Some(Bound::Above));
    close(depth.percent.value, 200.0, 1e-9, "bound");
}

#[test]
fn tints_are_told_against_the_truest() {
    let mut bench = Bench::new(&["Red", "White"], 1);
    bench.lab(&[(1, 1.0)], [96.0, 0.0, 1.0]);
    // Hues 30°, 20°, 350°: the shortest way from 20° to 350° is −30°.
    for (white, chroma, hue) in [(0.0, 40.0, 30.0_f64), (1.0, 60.0, 20.0), (4.0, 15.0, 350.0)] {
        let (sin, cos) = hue.to_radians().sin_cos();
        bench.lab(&[(0, 1.0), (1, white)], [50.0, chroma * cos, chroma * sin]);
    }
    bench.lab(&[(0, 1.0), (1, 16.0)], [90.0, 1.0, 0.0]);
    let thin = [60.0, 30.0, 0.0];
    bench.reading(&[(0, 1.0)], thin, Backing::Paper, FilmKind::Thin);
    let red = &analyse(&bench.study, None).tubes[0];
    assert_eq!(red.truest, Some(1));
    let shifts: Vec<_> =
        red.tints.iter().map(|tint| tint.hue_shift.map(|it| it.value.round())).collect();
    assert_eq!(shifts, [Ok(10.0), Ok(0.0), Ok(-30.0), Err(WhyNot::NearNeutral)]);
    for (tint, loss) in red.tints.iter().zip([1.0 / 3.0, 0.0, 0.75, 59.0 / 60.0]) {
        close(value(&tint.chroma_loss), loss, 1e-9, "chroma loss");
    }
    close(value(&red.tint_shift), -40.0, 1e-9, "mass tone to the palest tint with C* of 5 or more");
    close(value(&red.undertone_shift), -30.0, 1e-9, "undertone");
    assert!(red.strength.is_err());
}

/// Straight mixing alone loses 29 % where the parents are 90° apart, 50 % at 120°.
#[test]
fn a_straight_blend_loses_by_its_gap_and_is_not_dulled() {
    for (gap, loss, grade) in [(90.0_f64, 0.2929, Grade::Softened), (120.0, 0.5, Grade::Muted)] {
        let (sin, cos) = gap.to_radians().sin_cos();
        let (a, b) = ([50.0, 40.0, 0.0], [50.0, 40.0 * cos, 40.0 * sin]);
        let middle = [50.0, f64::midpoint(a[1], b[1]), f64::midpoint(a[2], b[2])];
        let mut bench = Bench::new(&["A", "B", "White"], 2);
        bench.lab(&[(0, 1.0)], a);
        bench.lab(&[(1, 1.0)], b);
        bench.lab(&[(0, 1.0), (1, 1.0)], middle);
        let analysis = analyse(&bench.study, None);
        let pair = &analysis.pairs[0];
        close(value(&pair.hue_gap), gap, 1e-9, "gap");
        let step = &pair.steps[0];
        close(value(&step.chroma_loss), loss, 1e-4, "loss");
        close(value(&step.dulling), 0.0, 1e-9, "dulling");
        close(value(&step.hue_shift), gap / 2.0, 1e-9, "shift");
        assert_eq!((step.grade, step.gain), (Ok(grade), false));
    }
}

#[test]
fn a_pair_holds_and_greys_where_the_ladder_passes() {
    let mut bench = Bench::new(&["Red", "Green", "White"], 2);
    bench.lab(&[(0, 1.0)], [50.0, 40.0, 0.0]);
    bench.lab(&[(1, 1.0)], [50.0, -40.0, 0.0]);
    // Grey lies midway in ln(b/a) between 1 : 1 and 1 : 4, which is 1 : 2.
    bench.lab(&[(0, 1.0), (1, 1.0)], [50.0, 6.0, 0.0]);
    bench.lab(&[(0, 1.0), (1, 4.0)], [50.0, -6.0, 0.0]);
    let analysis = analyse(&bench.study, None);
    let pair = &analysis.pairs[0];
    let holding = pair.holding.as_ref().expect("read");
    assert_eq!(holding.bound, None);
    close(holding.ratio.value, 2.0, 1e-9, "holding");
    let neutral = pair.neutral.as_ref().expect("near grey");
    close(neutral.ratio.value, 2.0, 1e-9, "neutral");
    close(neutral.lab.chroma(), 0.0, 1e-9, "cast");
    assert_eq!(pair.steps[0].dulling.map(|it| it.value), Err(WhyNot::OffTheLine));

    bench.study.readings.pop();
    let analysis = analyse(&bench.study, None);
    let holding = analysis.pairs[0].holding.as_ref().expect("read");
    assert_eq!((holding.bound, holding.ratio.value), (Some(Bound::Above), 1.0));
}

#[test]
fn pairs_group_by_white_within_three_percent_and_miss_unread_parents() {
    let mut bench = Bench::new(&["A", "B", "White"], 2);
    bench.lab(&[(0, 1.0), (1, 1.0), (2, 2.0)], [70.0, 20.0, 20.0]);
    bench.lab(&[(0, 3.0), (1, 1.0), (2, 4.1)], [70.0, 25.0, 10.0]);
    bench.lab(&[(0, 1.0), (1, 1.0), (2, 8.0)], [80.0, 8.0, 8.0]);
    let analysis = analyse(&bench.study, None);
    let counts: Vec<_> = analysis.pairs.iter().map(|pair| pair.steps.len()).collect();
    assert_eq!(counts, [2, 1]);
    let step = &analysis.pairs[0].steps[0];
    assert_eq!(step.chroma_loss.err(), Some(WhyNot::ParentUnread));
    assert_eq!(analysis.pairs[0].holding.err(), Some(WhyNot::ParentUnread));
}

#[test]
fn opacity_by_class_and_dark_films_without_one() {
    // L* whose Y is 90 %, and one whose Y is 10 %.
    let bright = 95.997;
    for (black_y, class) in [
        (89.0, Ok(OpacityClass::Opaque)),
        (85.0, Ok(OpacityClass::SemiOpaque)),
        (65.0, Ok(OpacityClass::SemiTransparent)),
        (30.0, Ok(OpacityClass::Transparent)),
    ] {
        let mut bench = Bench::new(&["A", "White"], 1);
        bench.reading(&[(0, 1.0)], [bright, 0.0, 0.0], Backing::White, FilmKind::Full);
        let over_black = 116.0 * f64::cbrt(black_y / 100.0) - 16.0;
        bench.reading(&[(0, 1.0)], [over_black, 0.0, 0.0], Backing::Black, FilmKind::Full);
        bench.lab(&[(0, 1.0)], [bright, 0.0, 0.0]);
        let opacity = analyse(&bench.study, None).tubes[0].opacity.expect("both read");
        close(opacity.contrast_ratio.value, black_y / 0.9, 0.01, "contrast ratio");
        assert_eq!((opacity.class, opacity.veil.err()), (class, Some(WhyNot::BareBlackUnread)));
    }
    let mut bench = Bench::new(&["A", "White"], 1);
    for backing in [Backing::White, Backing::Black] {
        bench.reading(&[(0, 1.0)], [20.0, 0.0, 0.0], backing, FilmKind::Full);
    }
    bench.lab(&[(0, 1.0)], [20.0, 0.0, 0.0]);
    bench.reading(&[], [10.0, 0.0, 0.0], Backing::Black, FilmKind::Full);
    let opacity = analyse(&bench.study, None).tubes[0].opacity.expect("both read");
    assert_eq!(opacity.class, Err(WhyNot::Dark));
    let expected = colour::ciede2000(Lab::new(20.0, 0.0, 0.0), Lab::new(10.0, 0.0, 0.0)).value();
    close(value(&opacity.veil), expected, 1e-9, "veil");
}

/// Student's t and the spread of three repeats, worked by hand: L* 49, 50, 51 has s = 1, so the
/// half-width is 4.303/√3. With fewer repeats the stated repeatability r gives 1.96·r/1.60. A hue
/// shift of a colour with chroma C has about √2·u/C radians (both colours are unsure).
#[test]
fn intervals_come_from_repeats_or_from_the_stated_repeatability() {
    let mut bench = Bench::new(&["A", "White"], 1);
    bench.study.protocol.repeatability = Some(0.16);
    for l in [49.0, 50.0, 51.0] {
        bench.lab(&[(0, 1.0)], [l, 50.0, 0.0]);
    }
    bench.lab(&[(0, 1.0), (1, 1.0)], [70.0, 50.0, 0.0]);
    bench.study.protocol.pile_g = Some(1e9);
    let tints = &analyse(&bench.study, None).tubes[0].tints;
    close(tints[0].colour.half_width[0], 4.303 / 3.0_f64.sqrt(), 1e-3, "three repeats");
    // A repeatability is a ΔE00: in a* of such a red it is as much more as S_C says, in b* as S_H says (CIEDE2000).
    let (along, across) = (0.196 * (1.0 + 0.045 * 50.0), 0.196 * (1.0 + 0.015 * 50.0));
    let half_width = tints[1].colour.half_width;
    close(half_width[1], along, 1e-9, "one reading, along the chroma");
    close(half_width[2], across, 1e-9, "across it");
    // The mass tone's own a* and b* did not move. Where no ladder tells how far squares painted alike lie apart it is
    // 0.35 per axis, and three quarters of that without white.
    let squares = 1.96 * 0.35;
    let shift = tints[0].hue_shift.expect("has a hue").half_width.expect("an interval");
    let told = across.hypot(squares).hypot(0.75 * squares) / 50.0;
    close(shift, told.to_degrees(), 1e-3, "hue");
}

/// Two tints, each of two amounts with σ(ln) 0.25: ± 1.96·0.25·√4 of the strength, nothing else
/// being unsure to speak of.
#[test]
fn by_eye_every_figure_carries_the_error_of_the_eye() {
    let mut bench = eighty_percent(Geometry::Internal, Geometry::Internal);
    bench.study.protocol.basis = study::Basis::Eye;
    bench.study.protocol.repeatability = Some(1e-6);
    let analysis = analyse(&bench.study, None);
    let strength = analysis.tubes[1].strength.as_ref().expect("same pigments");
    let entry = strength.headline().expect("a tint");
    let headline = entry.percent.expect("a figure");
    let half = headline.half_width.expect("an interval");
    close(half / headline.value, 1.96 * 0.25 * 2.0, 0.01, "same ratio");
    let depth = strength.equal_depth.as_ref().expect("shared depths");
    let relative = depth.percent.half_width.expect("an interval") / depth.percent.value;
    assert!((0.35..0.98).contains(&relative), "equal depth: {relative}");
    let tint = &analysis.tubes[1].tints[3];
    let shift = tint.hue_shift.expect("a hue").half_width.expect("an interval");
    assert!(shift > 1.0, "the hue of a tint moves with its parts: ± {shift}°");
    assert!(entry.by_eye && depth.by_eye && tint.by_eye);
    assert!(!analysis.tubes[1].tints[0].by_eye, "a mass tone has no ratio");
}

/// A scale too coarse for its piles leaves figures, and no interval that means anything.
#[test]
fn a_hopeless_scale_gives_no_interval() {
    let mut bench = eighty_percent(Geometry::Internal, Geometry::Internal);
    (bench.study.protocol.scale_g, bench.study.protocol.pile_g) = (Some(0.5), Some(0.5));
    let analysis = analyse(&bench.study, None);
    let strength = analysis.tubes[1].strength.as_ref().expect("same pigments");
    let headline = strength.headline().expect("a tint").percent.expect("a figure");
    let depth = strength.equal_depth.as_ref().expect("shared depths").percent;
    for figure in [headline, depth] {
        assert_eq!(figure.half_width, Err(WhyNot::NotSteady));
        close(figure.value, 80.0, 0.5, "the figure itself");
    }
}

#[test]
fn strengths_of_unlike_colours_are_not_compared() {
    let mut bench = Bench::new(&["Viridian", "Lemon", "White"], 2);
    bench.study.tubes[1].code = "PY3".into();
    bench.lab(&[(2, 1.0)], [96.0, 0.0, 1.0]);
    for (white, chroma) in [(1.0, 60.0), (4.0, 30.0)] {
        bench.lab(&[(0, 1.0), (2, white)], [60.0, -chroma, 0.0]);
        bench.lab(&[(1, 1.0), (2, white)], [90.0, 0.0, chroma]);
    }
    let analysis = analyse(&bench.study, Some(TubeRef(0)));
    assert_eq!(analysis.tubes[1].strength, Err(WhyNot::OtherFamily));
    assert!(analysis.tubes[0].strength.is_ok());
}

#[test]
fn a_void_reading_counts_for_nothing() {
    let mut bench = Bench::new(&["A", "White"], 1);
    bench.lab(&[(0, 1.0)], [50.0, 50.0, 0.0]);
    bench.lab(&[(0, 1.0)], [90.0, 0.0, 0.0]);
    bench.study.readings[1].void = Some("wrong tube".into());
    let tube = &analyse(&bench.study, None).tubes[0];
    assert_eq!(tube.mass_tone().map(|it| (it.repeats, it.lab.l)), Some((1, 50.0)));
}

/// The number of a figure that must be there.
fn value(outcome: &Outcome) -> f64 {
    outcome.as_ref().expect("a figure").value
}

/// A tint whose ratio K and S told is shown, and moves neither the fit nor a strength.
#[test]
fn an_estimated_ratio_never_confirms_itself() {
    let geometry = Geometry::Internal;
    let sound = eighty_percent(geometry, geometry).study;
    let mut bench = eighty_percent(geometry, geometry);
    // Made 1 : 3 and said to be 1 : 2: it would halve the strength there.
    bench.spectrum(&[(1, 1.0), (2, 3.0)], geometry, &[1.0, 0.4]);
    let said = Mixture::of(&[(TubeRef(1), 1.0), (TubeRef(2), 3.01)]);
    let last = bench.study.readings.last_mut().expect("read");
    (last.mixture, last.ratio_error) = (said, RatioError::Estimated(0.1));
    let (before, after) = (analyse(&sound, None), analyse(&bench.study, None));
    assert_eq!(before.tubes[1].strength, after.tubes[1].strength);
    assert_eq!(after.tubes[1].tints.iter().filter(|tint| tint.estimated).count(), 1);
    let fitted = |study| FittedTubes::of(study, &Averages::of(study), State::Dry).tubes;
    assert_eq!(fitted(&sound), fitted(&bench.study));
}
