//! What a study tells of its tubes, and what is predicted from it.

use colour::{Conditions, Lab, ciede2000};
use plan::prior::{EyeEvidence, Known, Prior, PriorLevel, SeenInTrial, adapted, learn};
use plan::{Chart, Design, Plan, Remark, StepChoice, StepSource, Thinning};
use study::{Backing, Mixture, TubeRef};

const RED: [f64; 3] = [45.0, 60.0, 35.0];
const RED_TINT: [f64; 3] = [75.0, 30.0, 8.0];
const BLUE: [f64; 3] = [30.0, 15.0, -45.0];
const BLUE_TINT: [f64; 3] = [60.0, 0.0, -35.0];
const WHITE: [f64; 3] = [97.0, -0.5, 1.5];

/// A red, a blue and a white, read as colours over paper, the blue in `tints` tints.
fn bench(tints: &[f64]) -> crate::common::Bench {
    let mut bench = crate::common::Bench::new(&["Red", "Blue", "White"], 2);
    bench.lab(&[(0, 1.0)], RED);
    bench.lab(&[(0, 1.0), (2, 8.0)], RED_TINT);
    bench.lab(&[(1, 1.0)], BLUE);
    for parts in tints {
        bench.lab(&[(1, 1.0), (2, *parts)], BLUE_TINT);
    }
    bench.lab(&[(2, 1.0)], WHITE);
    bench
}

fn mixture(parts: &[(usize, f64)]) -> Mixture {
    Mixture::of(&parts.iter().map(|(tube, parts)| (TubeRef(*tube), *parts)).collect::<Vec<_>>())
}

#[test]
fn colours_alone_are_strengths_and_give_themselves_back() {
    let prior = learn(&bench(&[8.0]).study);
    assert_eq!(prior.level([TubeRef(0), TubeRef(1), TubeRef(2)]), Some(PriorLevel::Strengths));
    let read = [
        (mixture(&[(0, 1.0)]), RED),
        (mixture(&[(0, 1.0), (2, 8.0)]), RED_TINT),
        (mixture(&[(1, 1.0)]), BLUE),
        (mixture(&[(1, 1.0), (2, 8.0)]), BLUE_TINT),
    ];
    for (mixture, lab) in read {
        let told = prior.colour(&mixture).expect("predicted");
        let error = ciede2000(told, Lab::from_axes(lab)).value();
        assert!(error < 1.5, "{mixture:?}: {told:?}, {error}");
    }
    // A mixture is darker than a straight blend, and its hue lies between its parents'.
    let violet = prior.colour(&mixture(&[(0, 1.0), (1, 1.0)])).expect("predicted");
    assert!(violet.l < f64::midpoint(RED[0], BLUE[0]), "{violet:?}");
    assert!(violet.a > 0.0 && (BLUE[2]..RED[2]).contains(&violet.b), "{violet:?}");
}

#[test]
fn what_was_not_read_is_not_known() {
    // Without a tint there is nothing to tell a tube's strength by.
    let prior = learn(&bench(&[]).study);
    assert_eq!(prior.level([TubeRef(0)]), Some(PriorLevel::Strengths));
    assert_eq!(prior.level([TubeRef(0), TubeRef(1)]), None);
    assert_eq!(prior.colour(&mixture(&[(0, 1.0), (1, 1.0)])), None);
    assert!(prior.known(TubeRef(1)).is_some_and(|known| known.mass_tone.is_some()));
    // Without a white nothing has a unit.
    let mut study = bench(&[8.0]).study;
    study.white = None;
    assert_eq!(learn(&study).level([TubeRef(0)]), None);
}

#[test]
fn spectra_over_black_and_white_are_k_and_s() {
    let mut bench = crate::common::Bench::new(&["Grey", "White"], 1);
    for (backing, r) in [(Backing::Paper, 0.85), (Backing::White, 0.8), (Backing::Black, 0.05)] {
        bench.flat_over(&[], r, backing);
        bench.flat_over(&[(0, 1.0)], 0.2 + 0.005 * r, backing);
        bench.flat_over(&[(1, 1.0)], 0.9 + 0.005 * r, backing);
    }
    for (parts, r) in [(1.0, 0.42), (4.0, 0.62), (16.0, 0.76)] {
        bench.flat(&[(0, 1.0), (1, parts)], r);
    }
    let prior = learn(&bench.study);
    assert_eq!(prior.level([TubeRef(0), TubeRef(1)]), Some(PriorLevel::KAndS));
    let spectrum = prior.spectrum(&mixture(&[(0, 1.0), (1, 4.0)])).expect("predicted");
    assert!(spectrum.bands().iter().all(|r| (r - 0.62).abs() < 0.03), "{spectrum:?}");
}

/// A tube that was never read may borrow what is known of another of the same pigments: enough for
/// even steps, and not for calling the two alike.
#[test]
fn a_guess_serves_for_steps_and_not_for_likeness() {
    let known = learn(&bench(&[8.0]).study);
    let with = |guessed: bool| {
        let mut prior = Prior::nothing(4, Conditions::D65_10);
        prior.tubes[..3].clone_from_slice(&known.tubes);
        prior.tubes[3] = known.tubes[1].clone();
        prior.tubes[3].guessed = guessed;
        prior
    };
    let plan = |prior: &Prior, from: usize, to: usize| {
        let design = Design {
            charts: vec![Chart::Ladder {
                from: TubeRef(from),
                to: TubeRef(to),
                steps: StepChoice::Even(3),
                third: None,
            }],
            white: Some(TubeRef(2)),
            thinning: Thinning::None,
            ..Design::default()
        };
        Plan::new(&design, prior, &[None; 4]).expect("a plan")
    };
    let alike = |plan: &Plan| plan.remarks.iter().any(|it| matches!(it, Remark::Alike { .. }));
    assert!(alike(&plan(&with(false), 1, 3)));
    assert!(!alike(&plan(&with(true), 1, 3)));
    let ladder = &plan(&with(true), 0, 3).ladders[0];
    assert_eq!(ladder.source, StepSource::Strengths);
    assert!(ladder.unevenness().expect("predicted") < 1.1, "{ladder:?}");
}

/// What the eye said of the first of two tubes, the second of which is the white.
fn seen<'a>(prior: &'a Prior, said: &[EyeEvidence]) -> SeenInTrial<'a> {
    let (tube, white, share) = (TubeRef(0), Some(TubeRef(1)), Box::new(|_| None));
    SeenInTrial { prior, tube, white, evidence: said.to_vec(), share }
}

/// A tube that lies off its typical paint is told of by the eye: how strong it looked, which way it leaned. What is
/// predicted of it comes nearer to it, and surer.
#[test]
fn a_typical_paint_learns_from_the_eye() {
    use colour::signed_shift;
    let mut prior = Prior::nothing(2, Conditions::D65_10);
    let tube = TubeRef(0);
    let tint = Mixture::of(&[(tube, 1.0), (TubeRef(1), 4.0)]);
    for pigment in ["PB29", "PY74", "PR254", "PG7", "PV23"] {
        prior.tubes[0] = Known::typical("", [pigment]).expect("a typical paint");
        prior.tubes[1] = Known::typical("", ["PW6"]).expect("a typical white");
        let typical = prior.colour(&tint).expect("predicted");
        let unmoved = adapted(&[seen(&prior, &[])]).expect("typical");
        assert!(
            unmoved.ln_load.0.abs() < 1e-9 && unmoved.hue.0.abs() < 0.5,
            "{pigment}: {unmoved:?}"
        );
        for (ln, shift) in [(0.6, 9.0), (-0.6, -9.0), (0.5, -9.0)] {
            // What the tube really is: the same paint moved by a lot of sure evidence.
            let sure =
                [EyeEvidence::Load { ln, sigma: 0.02 }, EyeEvidence::Hue { shift, sigma: 0.5 }];
            let truth = adapted(&[seen(&prior, &sure)]).expect("typical").known;
            let really = Prior { tubes: vec![truth, prior.tubes[1].clone()], ..prior.clone() };
            let really = really.colour(&tint).expect("predicted");
            // What the eye can say of it.
            let said = [
                EyeEvidence::Load { ln, sigma: 0.3 },
                EyeEvidence::Hue { shift: shift.signum() * 8.0, sigma: 8.0 },
            ];
            let learnt = adapted(&[seen(&prior, &said)]).expect("typical");
            let twice = adapted(&[seen(&prior, &said), seen(&prior, &said)]).expect("typical");
            assert!(
                twice.ln_load.1 < learnt.ln_load.1 && twice.hue.1 < learnt.hue.1,
                "two trials tell more"
            );
            assert!(
                learnt.ln_load.1 < unmoved.ln_load.1 && learnt.hue.1 < unmoved.hue.1,
                "narrower"
            );
            assert!(
                learnt.known.level == PriorLevel::Typical && learnt.known.guessed,
                "still typical"
            );
            let now = Prior { tubes: vec![learnt.known, prior.tubes[1].clone()], ..prior.clone() };
            let now = now.colour(&tint).expect("predicted");
            let (before, after) =
                (ciede2000(typical, really).value(), ciede2000(now, really).value());
            assert!(after < before, "{pigment}, {ln}, {shift}: {before} before, {after} after");
            let turn = signed_shift(typical.hue().expect("a hue"), now.hue().expect("a hue"));
            assert!(turn * shift > 0.0, "{pigment}: turned by {turn} for {shift}");
        }
    }
    // A mixture that looks greyer than typical paints make it moves the curves toward where it is greyer.
    let pair = Mixture::of(&[(tube, 1.0), (TubeRef(1), 4.0)]);
    let chroma = |lab: Lab| Some(lab.chroma() / 60.0);
    let dull = [EyeEvidence::Vividness { mixture: pair.clone(), share: 0.1, sigma: 0.1 }];
    let trial = SeenInTrial { share: Box::new(chroma), ..seen(&prior, &dull) };
    let duller = adapted(&[trial]).expect("typical").known;
    let before = prior.colour(&pair).expect("predicted").chroma();
    let after = Prior { tubes: vec![duller, prior.tubes[1].clone()], ..prior.clone() };
    assert!(after.colour(&pair).expect("predicted").chroma() < before);
}
