//! Drying, staining, lightening power, mixtures of three and four, and vividness, each worked out by hand.

#[path = "../../study/tests/common/mod.rs"]
mod common;

use colour::{Conditions, Lab};
use common::{Bench, close};
use figures::finding::what_others_did;
use figures::{VividnessWord, WhyNot, analyse};
use mixing::typical::typical_constants;
use mixing::{Constants, Geometry, KsRatio, predict};
use study::{Measured, RatioError, State, TubeRef};

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
    // A repeatability of 0.05 is 1.96 · 0.05/1.60 per axis and reading, and there are two of them.
    let half = drying.delta_lightness.half_width.expect("an interval");
    close(half, 1.96 * 0.05 / 1.6 * 2.0_f64.sqrt(), 1e-6, "its half-width");
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

#[test]
fn vividness_is_told_beside_what_the_tubes_can_mix() {
    let mut bench = Bench::new(&["Full", "Weak", "White"], 2);
    let loads = [1.0, 0.8];
    let internal = Geometry::Internal;
    bench.study.protocol.geometry = internal;
    bench.spectrum(&[(2, 1.0)], internal, &loads);
    for tube in [0, 1] {
        for white in [0.0, 1.0, 4.0, 16.0] {
            bench.spectrum(&[(tube, 1.0), (2, white)], internal, &loads);
        }
    }
    bench.spectrum(&[(0, 1.0), (1, 1.0), (2, 8.0)], internal, &loads);
    let Measured::Spectrum(mixed) = bench.study.readings[9].measured else { unreachable!() };
    let mixed = Lab::from_reflectance(&mixed, Conditions::D65_10);
    let first = analyse(&bench.study, None).pairs[0].steps[0].vividness.expect("known").share;
    assert!((0.6..1.02).contains(&first), "{first}");
    // The same lightness and hue at other shares of the highest chroma there, each as another ratio.
    use VividnessWord::{Muted, Neutral, Softened, Vivid};
    let wanted = [
        (0.86, Vivid),
        (0.84, Softened),
        (0.61, Softened),
        (0.59, Muted),
        (0.36, Muted),
        (0.34, Neutral),
    ];
    for ((share, _), b_parts) in wanted.iter().zip(2..) {
        let (scale, b_parts) = (share / first, f64::from(b_parts));
        let parts = [(0, 1.0), (1, b_parts), (2, 4.0 * (1.0 + b_parts))];
        bench.lab(&parts, [mixed.l, scale * mixed.a, scale * mixed.b]);
    }
    let steps = &analyse(&bench.study, None).pairs[0].steps;
    for (step, (share, word)) in steps[1..].iter().zip(wanted) {
        let found = step.vividness.expect("the tubes are known");
        close(found.share, share, 1e-9, "its share");
        assert_eq!(found.word, word, "{share}");
    }
    // Nothing that these tubes mix lies near an orange; and a grey is neutral beside anything.
    bench.lab(&[(0, 1.0), (1, 16.0), (2, 68.0)], polar(60.0, 40.0));
    bench.lab(&[(0, 1.0), (1, 32.0), (2, 132.0)], [50.0, 0.5, 0.5]);
    let steps = &analyse(&bench.study, None).pairs[0].steps;
    assert_eq!(steps[7].vividness, Err(WhyNot::OutOfReach));
    assert_eq!(steps[8].vividness.map(|it| it.word), Ok(Neutral));
}

/// Of many tubes only the most vivid of each hue are paired; the same tubes four times over tell the same.
#[test]
fn vividness_of_many_tubes_is_that_of_the_most_vivid_of_each_hue() {
    const CODES: [&str; 8] = ["PY3", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PG7"];
    let vividness = |copies: usize| {
        let mut names: Vec<&str> = CODES.repeat(copies);
        let white = names.len();
        names.push("PW6");
        let mut bench = Bench::new(&names, white);
        let read = |bench: &mut Bench, parts: &[(usize, f64)]| {
            let paints: Vec<_> = parts.iter().map(|(tube, _)| paint(names[*tube])).collect();
            let total: f64 = parts.iter().map(|(_, parts)| parts).sum();
            let shares =
                parts.iter().zip(&paints).map(|((_, parts), paint)| (parts / total, paint));
            let shares: Vec<_> = shares.collect();
            let film = predict(&shares, None).to_measured(None);
            bench.lab(parts, Lab::from_reflectance(&film, Conditions::D65_10).axes());
        };
        bench.study.protocol.geometry = Geometry::Internal;
        read(&mut bench, &[(white, 1.0)]);
        for tube in 0..white {
            read(&mut bench, &[(tube, 1.0)]);
            for parts in [1.0, 4.0, 16.0] {
                read(&mut bench, &[(tube, 1.0), (white, parts)]);
            }
        }
        for (one, other) in [(0, 7), (2, 5), (0, 3), (4, 0)] {
            read(&mut bench, &[(one, 1.0), (other, 1.0), (white, 4.0)]);
        }
        let pairs = analyse(&bench.study, None).pairs;
        let share = |pair: &figures::PairFigures| pair.steps[0].vividness.expect("known").share;
        pairs.iter().map(share).collect::<Vec<f64>>()
    };
    let (few, many) = (vividness(1), vividness(4));
    assert_eq!((few.len(), many.len()), (4, 4));
    for (few, many) in few.iter().zip(many) {
        assert!((0.1..1.05).contains(few), "{few}");
        close(many, *few, 1e-9, "the same tubes four times over");
    }
}

fn paint(code: &str) -> Constants {
    typical_constants([code]).expect("a typical paint")
}
