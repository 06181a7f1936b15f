//! A hidden workshop with a palette whose tubes were read alone, and what its mixtures really look like.

use colour::{Conditions, Lab, Reflectance};
use compare::{Subject, Told, Verdict, compare};
use decide::{Paints, Shares, Target};
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter, TableErrors, tubes_alone};
use instruments::{Meter as _, Specimen};
use study::{Averages, Backing, FilmKind, FittedTubes, State, Study, TubeLabel, TubeRef};

pub const CONDITIONS: Conditions = Conditions::D65_10;

pub fn label(name: &str, code: &str) -> TubeLabel {
    TubeLabel { name: name.into(), maker: "Tidewell".into(), code: code.into() }
}

/// Numbers between 0 and 1, the same each time.
pub struct Chance(u64);

impl Chance {
    pub fn new(seed: u64) -> Self {
        Self(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) | 1)
    }

    pub fn next(&mut self) -> f64 {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 >> 11) as f64 / (1_u64 << 53) as f64
    }
}

/// Tubes that were read, with their hidden paints.
pub struct Bench {
    seed: u64,
    pub labels: Vec<TubeLabel>,
    hidden: Vec<(TubeLabel, HiddenPaint)>,
    pub study: Study,
    pub averages: Averages,
    pub fitted: FittedTubes,
    pub paints: Paints,
    next: std::cell::Cell<u64>,
}

impl Bench {
    /// Tubes of these codes, each of a load and a hue of its own, and a white, read alone by a workshop with its usual
    /// errors.
    pub fn new(seed: u64, codes: &[&str]) -> Self {
        let mut chance = Chance::new(seed);
        let paint = |code: &&str| {
            let label = label(&format!("Tube {code} {seed}"), code);
            let usual = HiddenPaint::of(&label).expect("a paint").usual();
            let load = 0.7 + 0.6 * chance.next();
            let shift = 12.0 * chance.next() - 6.0;
            (label, usual.with_load(load).with_shift(shift))
        };
        let mut hidden: Vec<(TubeLabel, HiddenPaint)> = codes.iter().map(paint).collect();
        let white = label("White", "PW6");
        hidden.push((white.clone(), HiddenPaint::of(&white).expect("a white").usual()));
        let labels: Vec<TubeLabel> = hidden.iter().map(|it| it.0.clone()).collect();
        let mut meter = meter(seed, MixingTable::default(), &hidden);
        let study = tubes_alone(&mut meter, &labels).expect("answers");
        let averages = Averages::of(&study);
        let fitted = FittedTubes::of(&study, &averages, State::Dry);
        let (paints, _) = Paints::of_study(&study, &averages, &fitted);
        let next = std::cell::Cell::new(10_000);
        Self { seed, labels, hidden, study, averages, fitted, paints, next }
    }

    pub fn white(&self) -> usize {
        self.labels.len() - 1
    }

    /// Places of all colours.
    pub fn tubes(&self) -> Vec<usize> {
        (0..self.white()).collect()
    }

    /// A tube as it was read.
    pub fn target(&self, tube: usize) -> Target {
        let constants = self.fitted.tubes[tube].constants.as_ref();
        Target::of_tube((&self.study, &self.averages), TubeRef(tube), constants, &self.paints)
            .expect("read")
    }

    fn specimen(&self, shares: &Shares, backing: Backing, film: FilmKind) -> Specimen {
        let colours = shares.tubes.iter().map(|(at, share)| (self.labels[*at].clone(), *share));
        let white = (shares.white > 0.0).then(|| (self.labels[self.white()].clone(), shares.white));
        self.next.set(self.next.get() + 1);
        Specimen {
            swatch: self.next.get(),
            pile: 0,
            occasion: 0,
            paints: colours.chain(white).collect(),
            by_eye: false,
            backing,
            film,
            state: State::Dry,
        }
    }

    /// What a mixture really looks like over paper, mixed without an error.
    pub fn truth(&self, shares: &Shares) -> Reflectance {
        self.true_film(shares, FilmKind::Full)
    }

    /// The same scraped down.
    pub fn true_thin(&self, shares: &Shares) -> Lab {
        Lab::from_reflectance(&self.true_film(shares, FilmKind::Thin), CONDITIONS)
    }

    fn true_film(&self, shares: &Shares, film: FilmKind) -> Reflectance {
        let table = MixingTable { errors: TableErrors::NONE };
        let meter = meter(self.seed, table, &self.hidden).without_noise();
        meter.truth(&self.specimen(shares, Backing::Paper, film)).expect("a curve")
    }

    pub fn true_lab(&self, shares: &Shares) -> Lab {
        Lab::from_reflectance(&self.truth(shares), CONDITIONS)
    }

    /// What was read of two tubes says of them.
    pub fn verdict(&self, pair: [usize; 2]) -> Verdict {
        let told = Told {
            study: &self.study,
            averages: &self.averages,
            fitted: &self.fitted,
            instrument: None,
            sheen_stated: true,
        };
        let [one, other] = pair.map(|at| Subject { told, tube: TubeRef(at) });
        compare(&one, &other).map_or(Verdict::CannotTell, |twins| twins.verdict())
    }

    /// The same as the workshop mixes and reads it.
    pub fn read(&self, shares: &Shares) -> Reflectance {
        let mut meter = meter(self.seed, MixingTable::default(), &self.hidden);
        meter.read(&self.specimen(shares, Backing::Paper, FilmKind::Full)).expect("a reading")
    }
}

fn meter(seed: u64, table: MixingTable, hidden: &[(TubeLabel, HiddenPaint)]) -> SimulatedMeter {
    let meter = SimulatedMeter::new(seed, table);
    hidden.iter().fold(meter, |meter, (label, paint)| meter.knowing(label.clone(), paint.clone()))
}

/// Median and a percentile.
pub fn percentile(values: &[f64], share: f64) -> f64 {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    let place = share * (sorted.len().max(1) - 1) as f64;
    sorted.get(place.round() as usize).copied().unwrap_or(f64::NAN)
}
