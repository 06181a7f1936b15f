//! Drying, staining, lightening power, and mixtures of three and four, each worked out by hand.

use crate::common::{Bench, close};
use figures::finding::what_others_did;
use figures::{WhyNot, analyse};
use mixing::{Geometry, KsRatio};
use study::{RatioError, State, TubeRef};

/// CIEDE2000 of these is 1.2644 (Sharma, Wu and Dalal 2005, pair 24).
const WET: [f64; 3] = [60.2574, -34.0099, 36.2677];
const DRY: [f64; 3] = [60.4626, -34.1751, 39.4387];
/// From the first: 27.1492, 22.8977 and 1.0000 (the same, pairs 17, 18 and 15).
const PAPER: [f64; 3] = [50.0, 2.5, 0.0];
const FAR: [f64; 3] = [73.0, 25.0, -18.0];
const NEARER: [f64; 3] = [61.0, -5.0, 29.0];
const HARDLY: [f64; 3] = [50.0, 3.2592, 0.3350];

/// A mass tone over paper in some states; `None` was not read.
fn states(bench: &mut Bench, wet: Option<[f64; 3]>, dry: [f64; 3], lifted: Option<[f64; 3]>) {
    let read = [(State::Wet, wet), (State::Dry, Some(dry)), (State::Lifted, lifted)];
    for (state, lab) in read {
        if let Some(lab) = lab {
            bench.lab(&[(0, 1.0)], lab);
            bench.study.readings.last_mut().expect("just read").state = state;
        }
    }
}

#[test]
fn drying_is_dry_less_wet() {
    let mut bench = Bench::new(&["Paint", "White"], 1);
    states(&mut bench, Some(WET), DRY, None);
    let analysis = analyse(&bench.study, None);
    let drying = analysis.tubes[0].drying.as_ref().expect("wet and dry");
    close(drying.delta_lightness.value, 60.4626 - 60.2574, 1e-9, "ΔL*");
    close(drying.delta_chroma.value, 52.1858 - 49.7189, 1e-3, "ΔC*");
    close(drying.delta_hue.expect("two hues").value, 130.9100 - 133.1602, 1e-3, "Δh");
    close(drying.delta_e.value, 1.2644, 5e-5, "ΔE00");
    // A repeatability of 0.05 is 1.96 · 0.05/1.60 in lightness for each reading, and there are two of them.
    let half = drying.delta_lightness.half_width.expect("an interval");
    // It is one square, wet and dry: only its readings are unsure, a ΔE00 of which S_L makes L* (CIEDE2000).
    let s_l = |l: f64| 1.0 + 0.015 * (l - 50.0).powi(2) / (20.0 + (l - 50.0).powi(2)).sqrt();
    let [wet, dry] = [WET, DRY].map(|lab| s_l(lab[0]));
    close(half, 1.96 * 0.05 / 1.6 * wet.hypot(dry), 1e-6, "its half-width");
    assert_eq!(analysis.tubes[0].staining, Err(WhyNot::LiftedUnread));
}

#[test]
fn staining_is_what_is_left_of_the_way_from_the_paper() {
    let stained = |dry, lifted, paper: bool| {
        let mut bench = Bench::new(&["Paint", "White"], 1);
        states(&mut bench, None, dry, lifted);
        if paper {
            bench.lab(&[], PAPER);
        }
        analyse(&bench.study, None).tubes[0].staining
    };
    let figure = stained(FAR, Some(NEARER), true).expect("a figure");
    close(figure.value, 100.0 * 22.8977 / 27.1492, 1e-3, "what is left");
    assert!(figure.half_width.is_ok_and(|half| (0.1..1.0).contains(&half)), "{figure:?}");
    close(stained(FAR, Some(PAPER), true).expect("a figure").value, 0.0, 1e-9, "lifted to paper");
    close(stained(FAR, Some(FAR), true).expect("a figure").value, 100.0, 1e-9, "not lifted");
    assert_eq!(stained(HARDLY, Some(PAPER), true), Err(WhyNot::NearPaper));
    assert_eq!(stained(FAR, Some(NEARER), false), Err(WhyNot::PaperUnread));
    assert_eq!(stained(FAR, None, true), Err(WhyNot::LiftedUnread));
}

#[test]
fn a_white_that_lightens_less_leaves_more_depth() {
    let mut bench = Bench::new(&["Blue", "Other white", "White"], 2);
    bench.study.protocol.geometry = Geometry::Internal;
    bench.study.tubes[1].code = "PW4".into();
    let read = |bench: &mut Bench, parts: &[(usize, f64)], ks: f64| {
        bench.flat(parts, KsRatio(ks).hiding_reflectance());
    };
    read(&mut bench, &[(2, 1.0)], 0.01);
    read(&mut bench, &[(1, 1.0)], 0.02);
    // (0.51 − 0.01)/(0.645 − 0.02) is 80 %; the pale tint, at 60 %, is not the one to quote.
    for (white, standard, other) in [(4.0, 0.51, 0.645), (64.0, 0.04, 0.07)] {
        read(&mut bench, &[(0, 1.0), (2, white)], standard);
        read(&mut bench, &[(0, 1.0), (1, white)], other);
    }
    let analysis = analyse(&bench.study, None);
    let of_blue = &analysis.tubes[0].lightening;
    assert!(of_blue.is_empty(), "a blue is no white: {of_blue:?}");
    let [power] = analysis.tubes[1].lightening.as_slice() else { unreachable!("one colour") };
    assert_eq!((power.standard, power.colour), (TubeRef(2), TubeRef(0)));
    close(power.white_parts, 4.0, 1e-9, "the tint that is quoted");
    close(power.percent.expect("a figure").value, 80.0, 1e-6, "its power");
    assert!(!power.indicative);
    // Without a code it is known by its colour; and the white must have been read alone.
    bench.study.tubes[1].code = String::new();
    assert_eq!(analyse(&bench.study, None).tubes[1].lightening.len(), 1);
    bench.study.readings.remove(0);
    let unread = analyse(&bench.study, None).tubes[1].lightening[0].percent;
    assert_eq!(unread, Err(WhyNot::WhiteUnread));
}

/// A colour by hue and chroma, at L* 50.
fn polar(hue: f64, chroma: f64) -> [f64; 3] {
    let (sin, cos) = f64::to_radians(hue).sin_cos();
    [50.0, chroma * cos, chroma * sin]
}

#[test]
fn three_and_four_tubes_stand_beside_their_pair() {
    let mut bench = Bench::new(&["A", "B", "C", "D", "White"], 4);
    bench.lab(&[(0, 1.0), (1, 1.0)], polar(10.0, 30.0));
    bench.lab(&[(0, 1.0), (1, 1.0), (4, 8.0)], polar(20.0, 10.0));
    // The same ratio of A and B, with C; with C and D; and with white.
    bench.lab(&[(0, 2.0), (1, 2.0), (2, 1.0)], polar(30.0, 24.0));
    bench.lab(&[(0, 2.0), (1, 2.0), (2, 1.0), (3, 1.0)], polar(350.0, 36.0));
    bench.lab(&[(0, 1.0), (1, 1.0), (2, 1.0), (4, 12.0)], polar(20.0, 5.0));
    // At another ratio the pair was not read.
    bench.lab(&[(0, 3.0), (1, 1.0), (2, 1.0)], polar(5.0, 30.0));
    for reading in &mut bench.study.readings {
        reading.ratio_error = RatioError::Known(0.0);
    }
    let analysis = analyse(&bench.study, None);
    let [with_c, with_both, tint, other] = analysis.mixtures.as_slice() else {
        unreachable!("{:?}", analysis.mixtures)
    };
    for (mixture, shift, loss) in [(with_c, 20.0, 0.2), (with_both, -20.0, -0.2), (tint, 0.0, 0.5)]
    {
        assert_eq!(mixture.base, [TubeRef(0), TubeRef(1)]);
        close(mixture.hue_shift.expect("read").value, shift, 1e-9, "hue shift");
        close(mixture.chroma_loss.expect("read").value, loss, 1e-9, "chroma loss");
    }
    close(tint.white_parts, 4.0, 1e-9, "parts of white");
    assert_eq!(other.hue_shift, Err(WhyNot::BaseUnread));
    assert_eq!(what_others_did(&bench.study, other), "");
    // Nothing tells how far such a mixture would move if its ratio were off: no tube was read alone.
    assert_eq!(with_c.hue_shift.expect("read").half_width, Err(WhyNot::NotSteady));
    assert_eq!(
        what_others_did(&bench.study, with_c),
        "These readings cannot tell what 20 % C did."
    );
}
