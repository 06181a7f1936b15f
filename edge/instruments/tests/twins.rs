//! Whether one of two tubes is enough, against what hidden paints really do at equal strength.
//!
//! What is wanted stands in the checks of the issue on comparing (reached there in a trial implementation); the simulated
//! workshop has finite films, crowding white, weighing and mixing errors and a noisy meter, and none of the analysis's code.

use colour::{Conditions, Lab, ciede2000};
use compare::{ALIKE, Subject, Told, Verdict, compare};
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter, TableErrors};
use instruments::{Meter as _, Specimen};
use rand::{Rng as _, SeedableRng as _};
use rand_chacha::ChaCha8Rng;
use study::{
    Averages, Backing, FilmKind, FittedTubes, Measured, Mixture, Protocol, RatioError, Reading,
    ReadingSource, State, Study, TubeLabel, TubeRef,
};

const CONDITIONS: Conditions = Conditions::D65_10;
const CODES: [&str; 12] = [
    "PB29", "PB15:3", "PY74", "PY83", "PR254", "PR122", "PV23", "PO73", "PG7", "PR101", "PY43",
    "PV19",
];
const REFERENCES: [&str; 4] = ["PY74", "PR254", "PB29", "PR122"];
const WHITES: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];
const ONE: TubeRef = TubeRef(0);
const OTHER: TubeRef = TubeRef(1);
const WHITE: TubeRef = TubeRef(6);

fn label(name: &str, code: &str) -> TubeLabel {
    TubeLabel { name: name.into(), maker: "Tidewell".into(), code: code.into() }
}

/// Two tubes of one pigment, four references and a white.
struct Pair {
    labels: Vec<TubeLabel>,
    paints: Vec<(TubeLabel, HiddenPaint)>,
}

impl Pair {
    /// Loads and shifts of the two, nm.
    fn new(code: &str, paints: [(f64, f64); 2]) -> Self {
        Self::of([code, code], paints)
    }

    /// The same of two pigments.
    fn of(codes: [&str; 2], [one, other]: [(f64, f64); 2]) -> Self {
        let mut labels = vec![label("One", codes[0]), label("Other", codes[1])];
        labels.extend(REFERENCES.map(|code| label(&format!("Reference {code}"), code)));
        labels.push(label("White", "PW6"));
        let paint = |at: usize, (load, shift): (f64, f64)| {
            let usual = HiddenPaint::of(&labels[at]).expect("a paint").usual();
            (labels[at].clone(), usual.with_load(load).with_shift(shift))
        };
        let paints = vec![paint(0, one), paint(1, other)];
        Self { paints, labels }
    }

    fn meter(&self, seed: u64, table: MixingTable) -> SimulatedMeter {
        let meter = SimulatedMeter::new(seed, table);
        self.paints
            .iter()
            .fold(meter, |meter, (label, paint)| meter.knowing(label.clone(), paint.clone()))
    }

    fn specimen(&self, swatch: u64, mixture: &Mixture, backing: Backing) -> Specimen {
        let paints = mixture.parts().iter().map(|it| (self.labels[it.tube.0].clone(), it.parts));
        Specimen {
            swatch,
            pile: 0,
            occasion: 0,
            paints: paints.collect(),
            by_eye: false,
            backing,
            film: FilmKind::Full,
            state: State::Dry,
        }
    }

    /// A trial of both by a workshop with its usual errors, read once.
    fn study(&self, seed: u64) -> Study {
        let mut meter = self.meter(seed, MixingTable::default());
        let mut swatches: Vec<(Mixture, Backing)> = Vec::new();
        for backing in [Backing::Paper, Backing::White, Backing::Black] {
            swatches.push((Mixture::bare(), backing));
            swatches
                .extend((0..self.labels.len()).map(|tube| (Mixture::neat(TubeRef(tube)), backing)));
        }
        for tube in 0..WHITE.0 {
            swatches.extend(WHITES.map(|parts| (tint(TubeRef(tube), 1.0, parts), Backing::Paper)));
        }
        for tube in [ONE, OTHER] {
            swatches.extend(mixtures(tube, 1.0).into_iter().map(|it| (it, Backing::Paper)));
        }
        let readings = swatches.into_iter().zip(1..).map(|((mixture, backing), swatch)| {
            let read = meter.read(&self.specimen(swatch, &mixture, backing)).expect("a reading");
            Reading {
                ratio_error: RatioError::AsStated,
                measured: Measured::Spectrum(read),
                source: ReadingSource::Meter,
                from_picture: None,
                simulated: true,
                mixture,
                state: State::Dry,
                backing,
                film: FilmKind::Full,
                repeat: 1,
                void: None,
                line: None,
            }
        });
        let readings = readings.collect();
        Study {
            conditions: CONDITIONS,
            protocol: Protocol { geometry: meter.geometry(), ..Protocol::default() },
            tubes: self.labels.clone(),
            white: Some(WHITE),
            readings,
        }
    }

    /// What the paints really do: parts of the other that do what one part of the first does, the distance then, and
    /// that of the mass tones.
    fn truth(&self) -> (f64, f64, f64) {
        let table = MixingTable { errors: TableErrors::NONE };
        let meter = self.meter(1, table).without_noise();
        let lab = |mixture: &Mixture| {
            let truth = meter.truth(&self.specimen(1, mixture, Backing::Paper)).expect("a curve");
            Lab::from_reflectance(&truth, CONDITIONS)
        };
        let of = |tube: TubeRef, times: f64| -> Vec<Lab> {
            let tints = WHITES.iter().map(|parts| tint(tube, times, *parts));
            tints.chain(mixtures(tube, times)).map(|it| lab(&it)).collect()
        };
        let one = of(ONE, 1.0);
        let off = |times: f64| -> Vec<f64> {
            let pairs = one.iter().zip(of(OTHER, times));
            pairs.map(|(one, other)| ciede2000(*one, other).value()).collect()
        };
        let cost = |times: f64| off(times).iter().map(|it| it * it).sum::<f64>();
        let grid = (-40..=40).map(|at| (0.03 * f64::from(at)).exp());
        let mut best = grid.min_by(|a, b| cost(*a).total_cmp(&cost(*b))).expect("a strength");
        for step in [0.01, 0.003, 0.001] {
            let near = (-4..=4).map(|at| best * (step * f64::from(at)).exp());
            best = near.min_by(|a, b| cost(*a).total_cmp(&cost(*b))).expect("a strength");
        }
        let mut off = off(best);
        off.sort_by(f64::total_cmp);
        let place = 0.9 * (off.len() - 1) as f64;
        let (low, rest) = (place as usize, place.fract());
        let distance = off[low] * (1.0 - rest) + off[low + 1] * rest;
        let mass_tone = ciede2000(lab(&Mixture::neat(ONE)), lab(&Mixture::neat(OTHER))).value();
        (best, distance, mass_tone)
    }
}

fn tint(tube: TubeRef, times: f64, parts: f64) -> Mixture {
    Mixture::of(&[(tube, times), (WHITE, parts)])
}

/// Each reference 1 : 1, and with four parts of white.
fn mixtures(tube: TubeRef, times: f64) -> Vec<Mixture> {
    let both = |at: usize| {
        let reference = TubeRef(2 + at);
        let with_white = [(tube, times), (reference, 1.0), (WHITE, 8.0)];
        [Mixture::of(&with_white[..2]), Mixture::of(&with_white)]
    };
    (0..REFERENCES.len()).flat_map(both).collect()
}

#[derive(Default)]
struct Tally {
    pairs: usize,
    falsely_alike: usize,
    falsely_different: usize,
    cannot_tell: usize,
    clear: usize,
    clear_found: usize,
    covered: usize,
    use_off: Vec<f64>,
}

impl Tally {
    fn add(&mut self, pair: &Pair, seed: u64) -> Verdict {
        let study = pair.study(seed);
        let averages = Averages::of(&study);
        let fitted = FittedTubes::of(&study, &averages, State::Dry);
        let told = Told {
            study: &study,
            averages: &averages,
            fitted: &fitted,
            instrument: None,
            sheen_stated: true,
        };
        let [one, other] = [ONE, OTHER].map(|tube| Subject { told, tube });
        let twins = compare(&one, &other).expect("they share everything");
        let (times, distance, _) = pair.truth();
        let found = twins.distance;
        let alike = found.value + found.half_width <= ALIKE;
        let different = found.value - found.half_width > ALIKE;
        self.pairs += 1;
        self.falsely_alike += usize::from(alike && distance > ALIKE);
        self.falsely_different += usize::from(different && distance <= ALIKE);
        self.cannot_tell += usize::from(!alike && !different);
        if !(0.6 * ALIKE..=1.5 * ALIKE).contains(&distance) {
            self.clear += 1;
            self.clear_found += usize::from(alike || different);
        }
        self.covered += usize::from((found.value - distance).abs() <= found.half_width);
        self.use_off.push((twins.use_of_second / times).ln());
        twins.verdict()
    }

    /// Over random pairs: loads as those of the simulated workshop, hues up to some nanometres apart, a fifth of them the same.
    fn of_pairs(count: u64) -> Self {
        let mut tally = Self::default();
        for seed in 0..count {
            let mut chance = ChaCha8Rng::seed_from_u64(seed);
            let code = CODES[chance.random_range(0..CODES.len())];
            let mut load = || chance.random_range(0.8_f64..1.2);
            let loads = [load(), load()];
            let shift = chance.random_range(-3.0..3.0);
            let apart =
                if chance.random_bool(0.2) { 0.0 } else { chance.random_range(-16.0..16.0) };
            let pair = Pair::new(code, [(loads[0], shift), (loads[1], shift + apart)]);
            tally.add(&pair, seed);
        }
        tally
    }

    fn check(&self) {
        let share = |count: usize, of: usize| count as f64 / of.max(1) as f64;
        let rms = (self.use_off.iter().map(|it| it * it).sum::<f64>() / self.pairs as f64).sqrt();
        println!(
            "{} pairs: {:.3} falsely alike, {:.3} falsely different, {:.3} cannot tell, {:.3} of the clear found, \
             {:.3} covered, use {:.3} rms",
            self.pairs,
            share(self.falsely_alike, self.pairs),
            share(self.falsely_different, self.pairs),
            share(self.cannot_tell, self.pairs),
            share(self.clear_found, self.clear),
            share(self.covered, self.pairs),
            rms
        );
        assert!(share(self.falsely_alike, self.pairs) <= 0.025);
        assert!(share(self.falsely_different, self.pairs) <= 0.025);
        assert!(share(self.cannot_tell, self.pairs) <= 0.12);
        assert!(share(self.clear_found, self.clear) >= 0.95);
        assert!(share(self.covered, self.pairs) >= 0.88);
        assert!(rms <= 0.04);
    }
}

#[test]
fn twins_are_told_from_tubes_that_differ() {
    Tally::of_pairs(60).check();
}

#[test]
#[ignore = "a long check: make check"]
fn twins_over_many_pairs() {
    Tally::of_pairs(300).check();
}

/// The same paint at seven tenths of its pigment: one is enough, and how much more of it to use.
#[test]
fn one_paint_at_two_loads_is_one() {
    for (seed, code) in (0..).zip(CODES) {
        let mut tally = Tally::default();
        let verdict = tally.add(&Pair::new(code, [(1.0, 0.0), (0.7, 0.0)]), seed);
        assert_ne!(verdict, Verdict::Different, "{code}");
        assert!(tally.use_off[0].abs() < 0.08, "{code}: {}", tally.use_off[0]);
        // Identical tubes are never told apart.
        let verdict = tally.add(&Pair::new(code, [(1.0, 0.0), (1.0, 0.0)]), seed);
        assert_eq!(verdict, Verdict::OneIsEnough, "{code}");
    }
}

/// Which tube comes first, and in which order they were read, changes no verdict.
#[test]
fn order_does_not_matter() {
    for (seed, code) in (0..).zip(CODES).take(6) {
        let pair = Pair::new(code, [(1.0, 0.0), (0.85, seed as f64)]);
        let study = pair.study(seed);
        let mut turned = study.clone();
        turned.readings.reverse();
        let twins = |study: &Study, [one, other]: [TubeRef; 2]| {
            let averages = Averages::of(study);
            let fitted = FittedTubes::of(study, &averages, State::Dry);
            let told = Told {
                study,
                averages: &averages,
                fitted: &fitted,
                instrument: None,
                sheen_stated: true,
            };
            let [one, other] = [one, other].map(|tube| Subject { told, tube });
            compare(&one, &other).expect("they share everything")
        };
        let first = twins(&study, [ONE, OTHER]);
        let back = twins(&study, [OTHER, ONE]);
        let round = first.use_of_second * back.use_of_second;
        assert!((round - 1.0).abs() < 0.06, "{code}: {round}");
        let off = (first.distance.value - back.distance.value).abs();
        assert!(off < first.distance.half_width, "{code}: {off}");
        let again = twins(&turned, [ONE, OTHER]);
        assert!((again.use_of_second - first.use_of_second).abs() < 1e-9, "{code}");
        assert!((again.distance.value - first.distance.value).abs() < 1e-6, "{code}");
    }
}
