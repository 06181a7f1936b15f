//! Two trials with different whites or different parts, against what the paints really do.

use colour::ciede2000;
use compare::{ALIKE, Apart, Origin, Twins, compare};
use rand::{Rng as _, SeedableRng as _};
use rand_chacha::ChaCha8Rng;
use study::{Mixture, TubeRef};

use super::bench::{Bench, CODES, ONE, OTHER, SECOND_WHITE, WHITE, WHITES, Worked, tint, tints};

/// References that were read with both whites.
const BRIDGES: [TubeRef; 3] = [TubeRef(2), TubeRef(3), TubeRef(5)];

fn percentile(mut values: Vec<f64>, share: f64) -> f64 {
    values.sort_by(f64::total_cmp);
    values[(share * (values.len() - 1) as f64).round() as usize]
}

/// Strengths and tints of tubes brought over.
#[derive(Default)]
struct Tally {
    use_off: Vec<f64>,
    /// ΔE00 of each tint of the second tube from what it really is, at the strength that was found.
    tints: Vec<f64>,
    covered: usize,
    falsely: usize,
}

impl Tally {
    fn add(&mut self, bench: &Bench, twins: &Twins) {
        let of =
            |tube: TubeRef, times: f64| WHITES.map(|parts| bench.truth(&tint(tube, times, parts)));
        let one = of(ONE, 1.0);
        let off = |times: f64| -> Vec<f64> {
            let pairs = one.iter().zip(of(OTHER, times));
            pairs.map(|(one, other)| ciede2000(*one, other).value()).collect()
        };
        let cost = |times: f64| off(times).iter().map(|it| it * it).sum::<f64>();
        let grid = (-200..=200).map(|at| (0.005 * f64::from(at)).exp());
        let best = grid.min_by(|a, b| cost(*a).total_cmp(&cost(*b))).expect("a strength");
        let rms = (cost(best) / WHITES.len() as f64).sqrt();
        self.use_off.push((twins.use_of_second / best).ln());
        let found = twins.distance;
        self.covered += usize::from((found.value - rms).abs() <= found.half_width);
        let alike = found.value + found.half_width <= ALIKE;
        let different = found.value - found.half_width > ALIKE;
        self.falsely += usize::from((alike && rms > ALIKE) || (different && rms <= ALIKE));
        for cell in twins.cells.iter().filter(|it| it.origin != Origin::Read) {
            let really = bench.truth(&tint(OTHER, twins.use_of_second, cell.parts[1]));
            self.tints.push(ciede2000(cell.second, really).value());
        }
    }

    /// RMS of ln of the strengths, and the 95th percentile of the tints.
    fn check(&self, what: &str, most: [f64; 2]) {
        let pairs = self.use_off.len();
        let squares: f64 = self.use_off.iter().map(|it| it * it).sum();
        let (rms, tints) = ((squares / pairs as f64).sqrt(), percentile(self.tints.clone(), 0.95));
        println!(
            "{what}: strength {rms:.3} rms, tints {tints:.2}, covered {} of {pairs}, {} falsely",
            self.covered, self.falsely
        );
        assert!(rms <= most[0] && tints <= most[1], "{what}: {rms:.3}, {tints:.2}");
        assert!(self.covered as f64 >= 0.88 * pairs as f64, "{what}: {}", self.covered);
        assert!(self.falsely as f64 <= 0.05 * pairs as f64, "{what}: {}", self.falsely);
    }
}

/// Two tubes of one pigment, somewhat apart, and a second white.
fn random(seed: u64) -> Bench {
    let mut chance = ChaCha8Rng::seed_from_u64(seed);
    let code = CODES[chance.random_range(0..CODES.len())];
    let mut load = || chance.random_range(0.7_f64..1.3);
    let loads = [load(), load()];
    let white = chance.random_range(0.6..1.2);
    let apart = chance.random_range(-8.0..8.0);
    Bench::new(code, [(loads[0], 0.0), (loads[1], apart)]).with_second_white(white)
}

fn over_bridges(pairs: u64, bridges: &[TubeRef]) -> Tally {
    let mut tally = Tally::default();
    for seed in 0..pairs {
        let bench = random(seed);
        let of = |own: TubeRef, white: TubeRef, seed: u64| {
            let tubes: Vec<TubeRef> = [own].iter().chain(bridges).copied().collect();
            Worked::of(bench.trial(seed, white, &tubes, &tints(&tubes, white, &WHITES)))
        };
        let (first, second) = (of(ONE, WHITE, seed), of(OTHER, SECOND_WHITE, seed + 10_000));
        let twins = compare(&first.subject(ONE), &second.subject(OTHER)).expect("a bridge");
        tally.add(&bench, &twins);
    }
    tally
}

#[test]
fn tubes_read_with_both_whites_join_two_trials() {
    over_bridges(24, &BRIDGES[..1]).check("one bridge", [0.08, 1.6]);
    over_bridges(24, &BRIDGES).check("three bridges", [0.05, 1.1]);
}

#[test]
#[ignore = "a long check: make check"]
fn bridges_over_many_pairs() {
    over_bridges(150, &BRIDGES[..1]).check("one bridge", [0.08, 1.6]);
    over_bridges(150, &BRIDGES[..2]).check("two bridges", [0.05, 1.1]);
    over_bridges(150, &BRIDGES).check("three bridges", [0.05, 1.1]);
}

/// The same white in other parts: predicted, and within what was stated for it.
#[test]
fn other_parts_are_brought_over() {
    let mut tally = Tally::default();
    for seed in 0..24 {
        let bench = random(seed);
        let of = |own: TubeRef, parts: &[f64], seed: u64| {
            Worked::of(bench.trial(seed, WHITE, &[own], &tints(&[own], WHITE, parts)))
        };
        let first = of(ONE, &[1.0, 4.0, 16.0], seed);
        let second = of(OTHER, &[0.5, 2.0, 8.0, 32.0], seed + 10_000);
        let twins = compare(&first.subject(ONE), &second.subject(OTHER)).expect("brought over");
        assert!(twins.footing.brought_over.iter().any(|it| it.contains("other parts")));
        tally.add(&bench, &twins);
    }
    tally.check("other parts", [0.04, 0.9]);
}

#[test]
fn without_a_bridge_two_whites_stand_apart() {
    let bench = random(1);
    let of = |own: TubeRef, white: TubeRef| {
        Worked::of(bench.trial(1, white, &[own], &tints(&[own], white, &WHITES)))
    };
    let (first, second) = (of(ONE, WHITE), of(OTHER, SECOND_WHITE));
    let found = compare(&first.subject(ONE), &second.subject(OTHER));
    assert_eq!(found, Err(Apart::White("White".into(), "Second white".into())));
    // What is compared must not be its own bridge.
    let bare = Worked::of(bench.trial(1, WHITE, &[ONE], &Vec::<Mixture>::new()));
    assert!(compare(&bare.subject(ONE), &of(OTHER, WHITE).subject(OTHER)).is_err());
}
