//! What is pointed out while the paint is still wet.

use bench::diagnosis::{Outlier, gap, outlier};
use colour::{Lab, ciede2000};
use plan::prior::{Prior, learn};
use plan::steps::Steps;
use plan::{Chart, Design, Ladder, Plan, StepChoice, Thinning};
use proptest::prelude::*;
use study::TubeRef;

fn lab(l: f64) -> Lab {
    Lab::new(l, 10.0, -20.0)
}

#[test]
fn a_repeat_that_does_not_belong_is_pointed_out() {
    // L* of the repeats, the instrument's repeatability, and the one that stands apart.
    let cases: [(&[f64], f64, Option<usize>); 8] = [
        (&[50.0, 50.05, 52.0], 0.05, Some(2)),
        (&[50.0, 53.0, 50.1], 0.05, Some(1)),
        (&[48.0, 50.0, 50.1, 49.9], 0.05, Some(0)),
        // Two cannot outvote each other, and wide repeats are all alike.
        (&[50.0, 55.0], 0.05, None),
        (&[49.0, 50.0, 51.0], 0.05, None),
        (&[50.0, 50.1, 50.3], 0.05, None),
        // What the instrument itself may be off by is no mistake.
        (&[50.0, 50.05, 51.0], 0.4, None),
        (&[], 0.05, None),
    ];
    for (repeats, repeatability, wanted) in cases {
        let labs: Vec<Lab> = repeats.iter().map(|l| lab(*l)).collect();
        let found = outlier(&labs, repeatability);
        assert_eq!(found.map(|it| it.place), wanted, "{repeats:?}");
        if let Some(Outlier { place, off }) = found {
            let others: Vec<Lab> = labs.iter().copied().filter(|it| *it != labs[place]).collect();
            let mean = Lab::mean(&others).expect("others");
            assert!((ciede2000(labs[place], mean).value() - off).abs() < 1e-9);
        }
    }
}

proptest! {
    /// Repeats that spread as the instrument is said to are all let pass.
    #[test]
    fn ordinary_repeats_pass(
        offsets in prop::collection::vec((-1.0..1.0_f64, -1.0..1.0_f64, -1.0..1.0_f64), 3..8),
        repeatability in 0.02..0.3_f64,
    ) {
        let repeat = |(l, a, b): &(f64, f64, f64)| {
            Lab::new(50.0 + repeatability * l, 10.0 + repeatability * a, -20.0 + repeatability * b)
        };
        let repeats: Vec<Lab> = offsets.iter().map(repeat).collect();
        prop_assert_eq!(outlier(&repeats, repeatability), None);
    }
}

/// A red and a white, read as colours over paper.
fn read_before() -> Prior {
    let mut bench = crate::common::Bench::new(&["Red", "White"], 1);
    bench.lab(&[(0, 1.0)], [40.0, 55.0, 30.0]);
    for (parts, lab) in
        [(1.0, [60.0, 45.0, 15.0]), (4.0, [75.0, 28.0, 6.0]), (16.0, [87.0, 12.0, 3.0])]
    {
        bench.lab(&[(0, 1.0), (1, parts)], lab);
    }
    bench.lab(&[(1, 1.0)], [97.0, -0.5, 1.5]);
    learn(&bench.study)
}

/// Quarters from the red to the white.
fn quarters(prior: &Prior) -> Ladder {
    let design = Design {
        charts: vec![Chart::Ladder {
            from: TubeRef(0),
            to: TubeRef(1),
            steps: StepChoice::Fixed(Steps::Quarters),
            third: None,
        }],
        thinning: Thinning::None,
        alike: 0.0,
        ..Design::default()
    };
    Plan::new(&design, prior, &[None; 2]).expect("a plan").ladders.remove(0)
}

#[test]
fn a_step_that_jumps_gets_one_more_between() {
    let prior = read_before();
    let ladder = quarters(&prior);
    let shares = [0.0, 0.25, 0.5, 0.75, 1.0];
    let read: Vec<(f64, Lab)> = shares
        .iter()
        .zip(ladder.predicted(&prior, &shares).expect("known tubes"))
        .map(|(share, lab)| (*share, lab))
        .collect();
    // A strong tinter: the last quarter, to the white, jumps.
    let found = gap(&prior, &ladder, &read).expect("a jump");
    assert_eq!(found.between, (0.75, 1.0));
    assert!(found.step > 1.75 * found.usual, "{found:?}");
    let extra = found.extra.expect("predicted");
    let colour = ladder.predicted(&prior, &[extra]).expect("known tubes")[0];
    let halves = [read[3].1, read[4].1].map(|end| ciede2000(colour, end).value());
    let uneven = halves[0].max(halves[1]) / halves[0].min(halves[1]);
    assert!(uneven < 1.25 && (0.75..1.0).contains(&extra), "{extra}: {halves:?}");

    // Even steps do not jump, and what was not read yet says nothing.
    let even: Vec<(f64, Lab)> =
        shares.iter().map(|share| (*share, lab(30.0 + 60.0 * share))).collect();
    assert_eq!(gap(&prior, &ladder, &even), None);
    assert_eq!(gap(&prior, &ladder, &read[2..]), None);
    // Where nothing is known of a tube, the jump is said and nothing is proposed.
    let unknown = Prior::nothing(2, prior.conditions);
    let found = gap(&unknown, &ladder, &read).expect("a jump");
    assert_eq!(found.extra, None);
}
