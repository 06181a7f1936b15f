//! The steps of a ladder.

use colour::Lab;
use plan::steps::{MOST_STEPS, Steps, StepsError, differences, even, geometric};
use proptest::prelude::*;

#[test]
fn the_schools_have_their_ratios() {
    let shares = |steps: Steps| steps.shares().expect("steps");
    assert_eq!(shares(Steps::Quarters), [0.25, 0.5, 0.75]);
    assert_eq!(shares(Steps::Tenths).len(), 9);
    assert_eq!(shares(Steps::Doublings(3)), [0.5, 2.0 / 3.0, 0.8]);
    // One's own, sorted, the ends and doubles left out.
    let own = Steps::Own(vec![(1.0, 3.0), (4.0, 0.0), (3.0, 1.0), (6.0, 2.0), (0.0, 1.0)]);
    assert_eq!(shares(own), [0.25, 0.75]);
}

#[test]
fn steps_that_make_no_mixture_are_said_with_their_place() {
    let own = |parts: &[(f64, f64)]| Steps::Own(parts.to_vec()).shares();
    assert_eq!(own(&[(1.0, 1.0), (0.0, 0.0)]), Err(StepsError::Parts(2)));
    assert_eq!(own(&[(-1.0, 2.0)]), Err(StepsError::Parts(1)));
    assert_eq!(own(&[(f64::NAN, 1.0)]), Err(StepsError::Parts(1)));
    assert_eq!(own(&[]), Err(StepsError::Count(0)));
    assert_eq!(Steps::Doublings(MOST_STEPS + 1).shares(), Err(StepsError::Count(21)));
    assert_eq!(even(0, |_| Lab::new(50.0, 0.0, 0.0)), Err(StepsError::Count(0)));
    let message = StepsError::Parts(2).to_string();
    assert!(message.starts_with("step 2: give parts of both tubes"), "{message}");
}

#[test]
fn where_nothing_is_known_ratios_rise_geometrically() {
    let near = |found: Vec<f64>, meant: &[f64]| {
        assert_eq!(found.len(), meant.len());
        assert!(found.iter().zip(meant).all(|(one, other)| (one - other).abs() < 1e-12));
    };
    near(geometric(1).expect("one step"), &[0.5]);
    near(geometric(3).expect("three steps"), &[0.25, 0.5, 0.75]);
    // 1 : 5, 1 : √5, 1 : 1 …
    let five = geometric(5).expect("five steps");
    near(five[..2].to_vec(), &[1.0 / 6.0, 1.0 / (1.0 + 5.0_f64.sqrt())]);
    assert_eq!(geometric(0), Err(StepsError::Count(0)));
}

proptest! {
    /// On any smooth way between two colours, however strong the second tube, the steps are even.
    #[test]
    fn even_steps_are_even(
        strength in 0.02..50.0_f64,
        from in (20.0..90.0_f64, -50.0..50.0_f64, -50.0..50.0_f64),
        to in (20.0..90.0_f64, -50.0..50.0_f64, -50.0..50.0_f64),
        count in 1..8_usize,
    ) {
        let (a, b) = (Lab::new(from.0, from.1, from.2), Lab::new(to.0, to.1, to.2));
        let colour_at = |share: f64| {
            let effect = strength * share / (1.0 - share + strength * share);
            a.lerp(b, effect)
        };
        prop_assume!(differences(&[], colour_at)[0] > 10.0);
        let shares = even(count, colour_at).expect("steps");
        prop_assert_eq!(shares.len(), count);
        prop_assert!(shares.windows(2).all(|pair| pair[0] < pair[1]));
        let steps = differences(&shares, colour_at);
        let (least, most) = steps.iter().fold((f64::MAX, 0.0_f64), |(l, m), s| (l.min(*s), m.max(*s)));
        // CIEDE2000 jumps where two hues lie opposite each other, as they do on a way through grey.
        let greyest = (0..=50).map(|at| a.lerp(b, f64::from(at) / 50.0).chroma()).fold(f64::MAX, f64::min);
        let bound = if greyest > 10.0 { 1.03 } else { 1.25 };
        prop_assert!(most <= bound * least, "{steps:?}, chroma down to {greyest}");
    }
}
