//! Hidden paints on a simulated bench, and what a trial of them reads.

use colour::{Conditions, Lab};
use compare::{Subject, Told};
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter, TableErrors};
use instruments::{Meter as _, Specimen};
use study::{
    Averages, Backing, Basis, FilmKind, FittedTubes, Measured, Mixture, Protocol, RatioError,
    Reading, ReadingSource, State, Study, TubeLabel, TubeRef,
};

pub const CONDITIONS: Conditions = Conditions::D65_10;
pub const CODES: [&str; 12] = [
    "PB29", "PB15:3", "PY74", "PY83", "PR254", "PR122", "PV23", "PO73", "PG7", "PR101", "PY43",
    "PV19",
];
pub const REFERENCES: [&str; 4] = ["PY74", "PR254", "PB29", "PR122"];
pub const WHITES: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];
pub const ONE: TubeRef = TubeRef(0);
pub const OTHER: TubeRef = TubeRef(1);
pub const WHITE: TubeRef = TubeRef(6);
/// A white of another make.
pub const SECOND_WHITE: TubeRef = TubeRef(7);

fn label(name: &str, code: &str) -> TubeLabel {
    TubeLabel { name: name.into(), maker: "Tidewell".into(), code: code.into() }
}

/// Two tubes, four references and two whites.
pub struct Bench {
    labels: Vec<TubeLabel>,
    paints: Vec<(TubeLabel, HiddenPaint)>,
    /// Amounts are put out by eye.
    by_eye: bool,
}

impl Bench {
    /// Loads and shifts of two tubes of one pigment, nm.
    pub fn new(code: &str, paints: [(f64, f64); 2]) -> Self {
        Self::of([code, code], paints)
    }

    /// The same of two pigments.
    pub fn of(codes: [&str; 2], [one, other]: [(f64, f64); 2]) -> Self {
        let mut labels = vec![label("One", codes[0]), label("Other", codes[1])];
        labels.extend(REFERENCES.map(|code| label(&format!("Reference {code}"), code)));
        labels.extend([label("White", "PW6"), label("Second white", "PW6")]);
        let paint = |at: usize, (load, shift): (f64, f64)| {
            let usual = HiddenPaint::of(&labels[at]).expect("a paint").usual();
            (labels[at].clone(), usual.with_load(load).with_shift(shift))
        };
        let paints = vec![paint(0, one), paint(1, other)];
        Self { paints, labels, by_eye: false }
    }

    /// With amounts that are put out by eye.
    pub fn by_eye(self) -> Self {
        Self { by_eye: true, ..self }
    }

    /// With so much pigment in the second white.
    pub fn with_second_white(mut self, load: f64) -> Self {
        let label = self.labels[SECOND_WHITE.0].clone();
        let paint = HiddenPaint::of(&label).expect("a white").usual().with_load(load);
        self.paints.push((label, paint));
        self
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
            by_eye: self.by_eye && mixture.parts().len() > 1,
            backing,
            film: FilmKind::Full,
            state: State::Dry,
        }
    }

    /// A trial with this white by a workshop with its usual errors, read once: each of the tubes alone over three
    /// backings, and these mixtures.
    pub fn trial(
        &self,
        seed: u64,
        white: TubeRef,
        tubes: &[TubeRef],
        mixtures: &[Mixture],
    ) -> Study {
        let mut meter = self.meter(seed, MixingTable::default());
        let mut swatches: Vec<(Mixture, Backing)> = Vec::new();
        for backing in [Backing::Paper, Backing::White, Backing::Black] {
            swatches.push((Mixture::bare(), backing));
            let alone = tubes.iter().copied().chain([white]);
            swatches.extend(alone.map(|tube| (Mixture::neat(tube), backing)));
        }
        swatches.extend(mixtures.iter().map(|it| (it.clone(), Backing::Paper)));
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
            protocol: Protocol {
                geometry: meter.geometry(),
                basis: if self.by_eye { Basis::Eye } else { Basis::Weight },
                ..Protocol::default()
            },
            tubes: self.labels.clone(),
            white: Some(white),
            readings,
        }
    }

    /// What a mixture really looks like.
    pub fn truth(&self, mixture: &Mixture) -> Lab {
        let table = MixingTable { errors: TableErrors::NONE };
        let meter = self.meter(1, table).without_noise();
        let exact = Specimen { by_eye: false, ..self.specimen(1, mixture, Backing::Paper) };
        let truth = meter.truth(&exact).expect("a curve");
        Lab::from_reflectance(&truth, CONDITIONS)
    }
}

pub fn tint(tube: TubeRef, times: f64, parts: f64) -> Mixture {
    Mixture::of(&[(tube, times), (WHITE, parts)])
}

/// Each tube with each of these parts of a white.
pub fn tints(tubes: &[TubeRef], white: TubeRef, parts: &[f64]) -> Vec<Mixture> {
    let of = |tube: &TubeRef| {
        let tube = *tube;
        parts.iter().map(move |parts| Mixture::of(&[(tube, 1.0), (white, *parts)]))
    };
    tubes.iter().flat_map(of).collect()
}

/// A study, averaged and fitted.
pub struct Worked {
    pub study: Study,
    averages: Averages,
    fitted: FittedTubes,
}

impl Worked {
    pub fn of(study: Study) -> Self {
        let averages = Averages::of(&study);
        let fitted = FittedTubes::of(&study, &averages, State::Dry);
        Self { study, averages, fitted }
    }

    pub fn subject(&self, tube: TubeRef) -> Subject<'_> {
        let told = Told {
            study: &self.study,
            averages: &self.averages,
            fitted: &self.fitted,
            instrument: Some("simulated"),
            sheen_stated: true,
        };
        Subject { told, tube }
    }
}
