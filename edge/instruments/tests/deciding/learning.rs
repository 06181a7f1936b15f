//! What mixtures that were read teach: others are predicted better, on paints that the analysis does not know.

use colour::{Lab, ciede2000};
use decide::{Paints, ReadMixture, Shares};

use super::bench::{Bench, CONDITIONS, Chance, percentile};

const PALETTE: [&str; 9] =
    ["PY3", "PY83", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PBr7"];
/// Ratios and parts of white of each pair.
const RATIOS: [f64; 3] = [1.0 / 3.0, 1.0, 3.0];
const WHITES: [f64; 2] = [0.0, 2.0];

fn mixtures(bench: &Bench, pairs: &[(usize, usize)]) -> Vec<Shares> {
    let strong = |tube: usize| bench.paints.tubes[tube].constants.k.iter().sum::<f64>();
    let of = |(one, other): &(usize, usize)| {
        let equal = strong(*one) / strong(*other);
        let (one, other) = (*one, *other);
        RATIOS.iter().flat_map(move |ratio| {
            WHITES.map(|white| Shares::of(&[(one, 1.0), (other, equal * ratio)], white))
        })
    };
    pairs.iter().flat_map(of).collect()
}

/// ΔE00 of predicted and true: without white, and with it.
fn off(bench: &Bench, paints: &Paints, mixtures: &[Shares]) -> [Vec<f64>; 2] {
    let mut off = [Vec::new(), Vec::new()];
    for shares in mixtures {
        let told = paints.colour(shares).expect("known");
        let by = ciede2000(told, bench.true_lab(shares)).value();
        off[usize::from(shares.white > 0.0)].push(by);
    }
    off
}

/// Half of the pairs teach, one of their mixtures with its parts written down the wrong way round; the other half is
/// predicted.
#[test]
fn mixtures_teach_their_tubes() {
    let mut before = [Vec::new(), Vec::new()];
    let mut after = [Vec::new(), Vec::new()];
    let mut covered = Vec::new();
    for seed in 30..36 {
        let bench = Bench::new(seed, &PALETTE);
        let mut chance = Chance::new(seed);
        let pairs =
            (0..PALETTE.len()).flat_map(|one| (one + 1..PALETTE.len()).map(move |it| (one, it)));
        let (taught, new): (Vec<_>, Vec<_>) = pairs.partition(|_| chance.next() < 0.6);
        let read = |shares: Shares| {
            let read = bench.read(&shares);
            let lab = Lab::from_reflectance(&read, CONDITIONS);
            ReadMixture { shares, lab, read: Some(read), is_weighed: true }
        };
        let mut read: Vec<ReadMixture> = mixtures(&bench, &taught).into_iter().map(read).collect();
        let wrong = &mut read[0].shares.tubes;
        (wrong[0].1, wrong[1].1) = (wrong[1].1, wrong[0].1);
        let mut paints = bench.paints.clone();
        assert_eq!(paints.learn(&read), read.len());
        let new = mixtures(&bench, &new);
        let (was, is) = (off(&bench, &bench.paints, &new), off(&bench, &paints, &new));
        let widths = [paints.widths.without_white, paints.widths.with_white];
        for at in [0, 1] {
            covered.extend(is[at].iter().map(|off| *off <= widths[at]));
            before[at].extend_from_slice(&was[at]);
            after[at].extend_from_slice(&is[at]);
        }
    }
    let row =
        |of: &[Vec<f64>; 2]| of.each_ref().map(|it| [0.5, 0.95].map(|share| percentile(it, share)));
    let covered = covered.iter().filter(|it| **it).count() as f64 / covered.len() as f64;
    let ([before, _], [after, tints]) = (row(&before), row(&after));
    println!(
        "| without white {before:.2?}, taught {after:.2?} | tints {tints:.2?} | covered {covered:.3} |"
    );
    assert!(after[0] < 0.75 * before[0] && after[1] < 0.85 * before[1], "{before:?} {after:?}");
    assert!(tints[0] <= 0.15 && tints[1] <= 0.35, "{tints:?}");
    assert!(covered >= 0.93, "{covered}");
}

/// What was put out by eye, or read as a colour alone, teaches nothing, and neither does a tint.
#[test]
fn only_weighed_spectra_of_mixtures_teach() {
    let bench = Bench::new(40, &PALETTE[..3]);
    let pair = Shares::of(&[(0, 1.0), (2, 1.0)], 0.0);
    let read = |shares: &Shares| Some(bench.read(shares));
    let lab = bench.true_lab(&pair);
    let mixture = || ReadMixture { shares: pair.clone(), lab, read: read(&pair), is_weighed: true };
    let tint = Shares::of(&[(0, 1.0)], 4.0);
    let useless = [
        ReadMixture { is_weighed: false, ..mixture() },
        ReadMixture { read: None, ..mixture() },
        ReadMixture { read: read(&tint), shares: tint, ..mixture() },
    ];
    let mut paints = bench.paints.clone();
    assert_eq!(paints.learn(&useless), 0);
    assert_eq!(paints.tubes, bench.paints.tubes);
    assert_eq!(paints.learn(&[mixture()]), 1);
    assert_eq!(paints.tubes[1], bench.paints.tubes[1]);
    assert_ne!(paints.tubes[0], bench.paints.tubes[0]);
}
