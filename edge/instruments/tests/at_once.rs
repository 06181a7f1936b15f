//! What the bench says of a mixture at once, against what the simulated workshop really mixed.

use bench::diagnosis::{Cause, Context, ReadColour, diagnose, estimate};
use colour::{Conditions, Lab, Reflectance};
use instruments::simulated::{MixingTable, SimulatedMeter, tubes_alone};
use instruments::{Meter, Specimen};
use plan::CellNumber;
use plan::prior::{Prior, learn};
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use study::{Backing, FilmKind, Mixture, Part, State, TubeLabel, TubeRef};

const CODES: [&str; 10] =
    ["PY74", "PY35", "PO73", "PR254", "PR108", "PV19", "PB29", "PB15:3", "PR101", "PW6"];
const WHITE: TubeRef = TubeRef(9);

/// A table where everything is read three times, with the usual errors.
struct Table {
    meter: SimulatedMeter,
    labels: Vec<TubeLabel>,
    prior: Prior,
    swatch: u64,
}

impl Table {
    fn new(seed: u64) -> Self {
        let label = |code: &&str| TubeLabel {
            name: (*code).into(),
            maker: "Tidewell".into(),
            code: (*code).into(),
        };
        let labels: Vec<TubeLabel> = CODES.iter().map(label).collect();
        let mut meter = SimulatedMeter::new(seed, MixingTable::default());
        let prior = learn(&tubes_alone(&mut meter, &labels).expect("answers"));
        Self { meter, labels, prior, swatch: 1000 }
    }

    fn read(&mut self, mixture: &Mixture) -> ReadColour {
        self.swatch += 1;
        let paints = mixture.parts().iter();
        let paints: Vec<_> =
            paints.map(|part| (self.labels[part.tube.0].clone(), part.parts)).collect();
        let readings: Vec<Reflectance> = (0..3)
            .map(|occasion| {
                let specimen = Specimen {
                    swatch: self.swatch,
                    pile: 0,
                    occasion,
                    paints: paints.clone(),
                    backing: Backing::Paper,
                    film: FilmKind::Full,
                    state: State::Dry,
                    by_eye: false,
                };
                self.meter.read(&specimen).expect("answers")
            })
            .collect();
        let mean = Reflectance::mean(&readings).expect("three");
        let lab = Lab::from_reflectance(&mean, Conditions::D65_10);
        ReadColour { lab, reflectance: Some(mean), spread: 0.05, least_factor: 1.0 }
    }
}

fn percentile(values: &mut [f64], share: f64) -> f64 {
    values.sort_by(f64::total_cmp);
    values[((values.len() - 1) as f64 * share).round() as usize]
}

/// Two tubes by eye, from 1 : 20 to 20 : 1, alone or with three parts of white.
fn by_eye(chance: &mut ChaCha8Rng, white: bool) -> (TubeRef, TubeRef, f64, Mixture) {
    let (a, b) = loop {
        let (a, b) = (chance.random_range(0..9), chance.random_range(0..9));
        if a < b {
            break (TubeRef(a), TubeRef(b));
        }
    };
    let ln = chance.random_range(-20.0_f64.ln()..20.0_f64.ln());
    let mut parts = vec![(a, 1.0), (b, ln.exp())];
    if white {
        parts.push((WHITE, 3.0 * (1.0 + ln.exp())));
    }
    (a, b, ln, Mixture::of(&parts))
}

#[test]
fn the_real_ratio_of_a_mixture_by_eye_is_found() {
    let mut table = Table::new(11);
    let mut chance = ChaCha8Rng::seed_from_u64(5);
    for (white, half_most, nine_most) in [(false, 0.12, 0.35), (true, 0.06, 0.20)] {
        let (mut errors, mut covered) = (Vec::new(), 0);
        for _ in 0..400 {
            let (a, b, ln, mixture) = by_eye(&mut chance, white);
            let seen = table.read(&mixture);
            let tubes: Vec<TubeRef> = mixture.parts().iter().map(|part| part.tube).collect();
            let found = estimate(&table.prior, &tubes, Some(WHITE), seen).expect("known tubes");
            let share = |tube| found.parts.iter().find(|it| it.tube == tube).expect("a part");
            let error = ((share(b).share / share(a).share).ln() - ln).abs();
            errors.push(error);
            covered += u32::from(error <= share(b).ln_half_width);
        }
        let (half, nine) = (percentile(&mut errors, 0.5), percentile(&mut errors, 0.9));
        println!(
            "| {} | {} | {:.1} % | {:.1} % | {:.0} % |",
            if white { "with white" } else { "without white" },
            errors.len(),
            100.0 * half,
            100.0 * nine,
            100.0 * covered as f64 / errors.len() as f64
        );
        assert!(half < half_most && nine < nine_most, "{half}, {nine}");
    }
}

/// A mixture with a share of the one before in it.
fn with_trace(mixture: &Mixture, before: &Mixture, share: f64) -> Mixture {
    let part = |of: &Mixture, share: f64| -> Vec<Part> {
        let total = of.total();
        of.parts().iter().map(|it| Part { parts: share * it.parts / total, ..*it }).collect()
    };
    Mixture::new(part(mixture, 1.0 - share).into_iter().chain(part(before, share)))
}

#[test]
fn an_unclean_knife_is_found_and_a_clean_one_is_not_blamed() {
    let mut table = Table::new(12);
    let mut chance = ChaCha8Rng::seed_from_u64(6);
    let (mut visible, mut found, mut named, mut alarms) = (0, 0, 0, 0);
    const EACH: usize = 1000;
    for _ in 0..EACH {
        let white = chance.random_bool(0.5);
        let (.., before) = by_eye(&mut chance, false);
        let (.., mixture) = by_eye(&mut chance, white);
        let at = Context {
            planned: &mixture,
            ratio_error: 0.01,
            before: Some(&before),
            others: &[],
            white: Some(WHITE),
        };
        let clean = table.read(&mixture);
        let seen = diagnose(&table.prior, &at, clean).expect("known tubes");
        alarms += usize::from(seen.cause != Cause::AsPlanned);
        let spoilt = table.read(&with_trace(&mixture, &before, 0.02));
        // A trace that nobody can see need not be found.
        if colour::ciede2000(clean.lab, spoilt.lab).value() > 2.0 {
            visible += 1;
            let seen = diagnose(&table.prior, &at, spoilt).expect("known tubes");
            found += usize::from(seen.cause != Cause::AsPlanned);
            named += usize::from(matches!(seen.cause, Cause::Trace(_)));
        }
    }
    let percent = |part: usize, of: usize| 100.0 * part as f64 / of as f64;
    println!(
        "clean: {:.1} % false alarms; 2 % residue: {visible} of {EACH} show, of these {:.0} % are \
         noticed, {:.0} % put down to the knife",
        percent(alarms, EACH),
        percent(found, visible),
        percent(named, visible)
    );
    assert!(percent(alarms, EACH) < 5.0 && percent(found, visible) > 60.0);
}

#[test]
fn another_ratio_and_swapped_cells_are_told_apart() {
    let mut table = Table::new(13);
    let mut chance = ChaCha8Rng::seed_from_u64(7);
    let (mut ratios, mut swaps, mut of_ratios, mut of_swaps) = (0, 0, 0, 0);
    for _ in 0..200 {
        let (a, b, ln, planned) = by_eye(&mut chance, true);
        let (.., before) = by_eye(&mut chance, false);
        let (.., neighbour) = by_eye(&mut chance, true);
        let others = [(CellNumber(8), &neighbour), (CellNumber(9), &before)];
        let at = Context {
            planned: &planned,
            ratio_error: 0.02,
            before: Some(&before),
            others: &others,
            white: Some(WHITE),
        };
        let expected = table.prior.colour(&planned).expect("known tubes");
        let mut says = |made: &Mixture| {
            let seen = table.read(made);
            // What nobody can see is no mistake.
            let shows = colour::ciede2000(expected, seen.lab).value() > 4.0;
            shows.then(|| diagnose(&table.prior, &at, seen).expect("known tubes").cause)
        };
        // Twice as much of the second tube as planned.
        let twice = Mixture::of(&[(a, 1.0), (b, 2.0 * ln.exp()), (WHITE, 3.0 * (1.0 + ln.exp()))]);
        if let Some(cause) = says(&twice) {
            of_ratios += 1;
            ratios += usize::from(matches!(cause, Cause::OtherRatio(_)));
        }
        if let Some(cause) = says(&neighbour) {
            of_swaps += 1;
            swaps += usize::from(cause == Cause::Swapped(CellNumber(8)));
        }
    }
    println!("another ratio: {ratios} of {of_ratios}; swapped cells: {swaps} of {of_swaps}");
    assert!(of_ratios > 50 && ratios * 10 >= of_ratios * 8, "{ratios} of {of_ratios}");
    assert!(of_swaps > 100 && swaps * 10 >= of_swaps * 9, "{swaps} of {of_swaps}");
}
