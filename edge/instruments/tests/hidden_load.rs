//! The figures against what only the simulated workshop knows.

use colour::Conditions;
use figures::analyse;
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter, TableErrors};
use instruments::{Meter, Specimen};
use mixing::Sheen;
use study::{
    Backing, Basis, FilmKind, Measured, Mixture, Part, Protocol, RatioError, Reading,
    ReadingSource, State, Study, TubeLabel, TubeRef,
};

const TRUE_LOAD: f64 = 0.70;
const TINTS: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];
const REPEATS: u32 = 3;

fn tubes(code: &str) -> [TubeLabel; 3] {
    let label = |name: &str, code: &str| TubeLabel {
        name: name.into(),
        maker: "Tidewell".into(),
        code: code.into(),
    };
    [label("Full", code), label("Weak", code), label("White", "PW6")]
}

/// Stated weighing error and noise, streaks and uneven films, but the surface as the analysis has it.
fn nominal_surface() -> MixingTable {
    MixingTable { errors: TableErrors { surface: 0.0, mixing: 0.0, ..TableErrors::default() } }
}

/// A whole trial of a full and a weak tube, read by the simulated meter.
fn study(code: &str, seed: u64) -> Study {
    let workshop = nominal_surface();
    let tubes = tubes(code);
    let full = HiddenPaint::of(&tubes[0]).expect("a curve").with_load(1.0);
    let mut meter = SimulatedMeter::new(seed, workshop)
        .knowing(tubes[0].clone(), full.clone())
        .knowing(tubes[1].clone(), full.with_load(TRUE_LOAD));
    let mut mixtures = vec![vec![(2, 1.0)]];
    for tube in [0, 1] {
        mixtures.push(vec![(tube, 1.0)]);
        mixtures.extend(TINTS.map(|white| vec![(tube, 1.0), (2, white)]));
    }
    let mut readings = Vec::new();
    for (swatch, parts) in mixtures.iter().enumerate() {
        for repeat in 1..=REPEATS {
            let specimen = Specimen {
                swatch: swatch as u64,
                pile: 0,
                occasion: u64::from(repeat),
                paints: parts.iter().map(|&(tube, parts)| (tubes[tube].clone(), parts)).collect(),
                backing: Backing::Paper,
                film: FilmKind::Full,
                state: State::Dry,
                by_eye: false,
            };
            readings.push(Reading {
                ratio_error: RatioError::AsStated,
                mixture: Mixture::new(
                    parts.iter().map(|&(tube, parts)| Part { tube: TubeRef(tube), parts }),
                ),
                film: FilmKind::Full,
                backing: Backing::Paper,
                state: State::Dry,
                repeat,
                measured: Measured::Spectrum(meter.read(&specimen).expect("always answers")),
                source: ReadingSource::Meter,
                from_picture: None,
                simulated: true,
                void: None,
                line: None,
            });
        }
    }
    Study {
        conditions: Conditions::D65_10,
        protocol: Protocol {
            basis: Basis::Weight,
            scale_g: Some(workshop.errors.scale_g),
            pile_g: Some(workshop.errors.pile_g),
            repeatability: Some(meter.repeatability()),
            geometry: meter.geometry(),
            sheen: Sheen::Gloss,
        },
        tubes: tubes.into(),
        white: Some(TubeRef(2)),
        readings,
    }
}

/// How one method did over many seeds.
#[derive(Default)]
struct Tally {
    seeds: usize,
    covered: usize,
    widest: f64,
    sum: f64,
    squares: f64,
    halves: f64,
}

impl Tally {
    fn add(&mut self, percent: &figures::Figure) {
        let half = percent.half_width.expect("weighed, so there is an interval");
        self.seeds += 1;
        self.covered += usize::from((percent.value - 100.0 * TRUE_LOAD).abs() <= half);
        self.widest = self.widest.max(half);
        self.sum += percent.value;
        self.squares += (percent.value - 100.0 * TRUE_LOAD).powi(2);
        self.halves += half;
    }

    fn coverage(&self) -> f64 {
        self.covered as f64 / self.seeds as f64
    }

    fn print(&self, method: &str, code: &str) {
        let seeds = self.seeds as f64;
        println!(
            "| {code} | {method} | {:.1} | {:.2} | {:.1} | {:.1} | {:.0} % |",
            self.sum / seeds,
            (self.squares / seeds).sqrt(),
            self.halves / seeds,
            self.widest,
            100.0 * self.coverage(),
        );
    }

    fn check(&self, method: &str, code: &str) {
        self.print(method, code);
        assert!(self.coverage() >= 0.9, "{code} {method}: covered only {}", self.coverage());
        assert!(self.widest <= 6.0, "{code} {method}: half-width {}", self.widest);
    }
}

/// Same ratio and equal depth of the weak tube over many seeds.
fn over_seeds(code: &str, seeds: u64) -> [(&'static str, Tally); 2] {
    let (mut by_ratio, mut by_depth) = (Tally::default(), Tally::default());
    for seed in 0..seeds {
        let analysis = analyse(&study(code, seed), None);
        let strength = analysis.tubes[1].strength.as_ref().expect("same code");
        let headline = strength.headline().expect("a tint to quote");
        by_ratio.add(&headline.percent.expect("deep enough"));
        by_depth.add(&strength.equal_depth.as_ref().expect("shared depths").percent);
    }
    [("same ratio", by_ratio), ("equal depth", by_depth)]
}

fn covers_the_hidden_load(code: &str, seeds: u64) {
    for (method, tally) in over_seeds(code, seeds) {
        tally.check(method, code);
    }
}

#[test]
fn a_tube_with_seven_tenths_of_the_pigment_reads_seventy_percent() {
    covers_the_hidden_load("PB29", 40);
}

#[test]
#[ignore = "the full 200 seeds and more pigments; run by `make check`"]
fn the_hidden_load_over_200_seeds() {
    for code in ["PB29", "PB15:3", "PV19"] {
        covers_the_hidden_load(code, 200);
    }
    // Known limits, reported in docs/science.md and not asserted: a pigment that scatters as much
    // as it absorbs does not follow the parts of white at the same ratio, and the paper shows
    // through a transparent yellow's tints.
    for code in ["PR101", "PY74"] {
        for (method, tally) in over_seeds(code, 200) {
            tally.print(method, code);
        }
    }
}

/// The analysis takes the meter's stated repeatability at its word where there are few repeats.
#[test]
fn the_stated_repeatability_is_true() {
    let study = study("PB29", 7);
    let labs: Vec<_> = (0..200)
        .map(|occasion| {
            let specimen = Specimen {
                swatch: 1,
                pile: 0,
                occasion,
                paints: vec![(study.tubes[0].clone(), 1.0), (study.tubes[2].clone(), 4.0)],
                backing: Backing::Paper,
                film: FilmKind::Full,
                state: State::Dry,
                by_eye: false,
            };
            let spectrum = SimulatedMeter::new(1, MixingTable::default()).read(&specimen);
            colour::Lab::from_reflectance(&spectrum.expect("answers"), Conditions::D65_10)
        })
        .collect();
    let spread = colour::spread(&labs).expect("200 readings").value();
    let stated = SimulatedMeter::new(1, MixingTable::default()).repeatability();
    assert!((0.7 * stated..1.3 * stated).contains(&spread), "{spread} for {stated}");
}
