//! A bench on which readings are made up.

use colour::{Conditions, Lab, Reflectance, StatedLab, wavelength};
use mixing::{Geometry, KsRatio, Sheen, Surface};
use study::{
    Backing, FilmKind, Measured, Mixture, Part, Protocol, RatioError, Reading, ReadingSource,
    State, Study, TubeLabel, TubeRef,
};

/// A study under construction.
pub struct Bench {
    pub study: Study,
}

#[allow(dead_code, reason = "each test file uses what it needs")]
impl Bench {
    /// Tubes of one pigment by different makers; `white` is the place of the white among them.
    pub fn new(names: &[&str], white: usize) -> Self {
        let label = |(at, name): (usize, &&str)| TubeLabel {
            name: (*name).to_owned(),
            maker: format!("Maker {at}"),
            code: if at == white { "PW6".into() } else { "PB29".into() },
        };
        Self {
            study: Study {
                conditions: Conditions::D65_10,
                protocol: Protocol {
                    scale_g: Some(0.01),
                    pile_g: Some(4.0),
                    repeatability: Some(0.05),
                    ..Protocol::default()
                },
                tubes: names.iter().enumerate().map(label).collect(),
                white: Some(TubeRef(white)),
                readings: Vec::new(),
            },
        }
    }

    /// Tubes of one pigment with these loads and their tints, then the white.
    pub fn of_loads(loads: &[f64]) -> Self {
        let names: Vec<String> = (0..loads.len()).map(|at| format!("Blue {at}")).collect();
        let mut names: Vec<&str> = names.iter().map(String::as_str).collect();
        names.push("White");
        let white = loads.len();
        let mut bench = Self::new(&names, white);
        bench.study.protocol.geometry = Geometry::Internal;
        bench.spectrum(&[(white, 1.0)], Geometry::Internal, loads);
        for tube in 0..loads.len() {
            bench.spectrum(&[(tube, 1.0)], Geometry::Internal, loads);
            for parts in [1.0, 2.0, 4.0, 8.0] {
                bench.spectrum(&[(tube, 1.0), (white, parts)], Geometry::Internal, loads);
            }
        }
        bench
    }

    pub fn lab(&mut self, parts: &[(usize, f64)], lab: [f64; 3]) {
        self.reading(parts, lab, Backing::Paper, FilmKind::Full);
    }

    pub fn reading(
        &mut self,
        parts: &[(usize, f64)],
        lab: [f64; 3],
        backing: Backing,
        film: FilmKind,
    ) {
        let stated = StatedLab { lab: Lab::from_axes(lab), conditions: self.study.conditions };
        self.push(parts, Measured::Lab(stated), backing, film);
    }

    /// The same reflectance in every band.
    pub fn flat(&mut self, parts: &[(usize, f64)], r: f64) {
        self.flat_over(parts, r, Backing::Paper);
    }

    /// The same over another backing.
    pub fn flat_over(&mut self, parts: &[(usize, f64)], r: f64, backing: Backing) {
        self.push(parts, Measured::Spectrum(Reflectance::flat(r)), backing, FilmKind::Full);
    }

    /// A hiding film by Duncan (1940): K and S add by parts. Tube `n` absorbs with `loads[n]`, the
    /// last tube is a white; the surface of `geometry` and a glossy film is put on.
    pub fn spectrum(&mut self, parts: &[(usize, f64)], geometry: Geometry, loads: &[f64]) {
        let white = self.study.tubes.len() - 1;
        let surface = Surface::nominal(geometry, Sheen::Gloss);
        let spectrum = Reflectance::from_fn(|band| {
            let nm = f64::from(wavelength(band));
            let absorbs = 3.0 * (-((nm - 600.0) / 60.0).powi(2) / 2.0).exp() + 0.02;
            let violet = 0.5 / (1.0 + ((nm - 405.0) / 6.0).exp());
            let (k, s) = parts.iter().fold((0.0, 0.0), |(k, s), (tube, parts)| {
                if *tube == white {
                    (k + parts * (violet + 0.002), s + parts)
                } else {
                    (k + parts * absorbs * loads[*tube], s + parts * 0.0001 * loads[*tube])
                }
            });
            let internal = KsRatio(k / s).hiding_reflectance();
            surface.map_or(internal, |surface| surface.apply(internal))
        });
        self.push(parts, Measured::Spectrum(spectrum), Backing::Paper, FilmKind::Full);
    }

    /// Forgets the spectra.
    pub fn keep_only_lab(&mut self) {
        let conditions = self.study.conditions;
        for reading in &mut self.study.readings {
            let lab = reading.measured.lab(conditions).expect("same conditions");
            reading.measured = Measured::Lab(StatedLab { lab, conditions });
        }
    }

    fn push(
        &mut self,
        parts: &[(usize, f64)],
        measured: Measured,
        backing: Backing,
        film: FilmKind,
    ) {
        let parts = parts.iter().map(|&(tube, parts)| Part { tube: TubeRef(tube), parts });
        self.study.readings.push(Reading {
            ratio_error: RatioError::AsStated,
            mixture: Mixture::new(parts),
            film,
            backing,
            state: State::Dry,
            repeat: 1,
            measured,
            source: ReadingSource::Typed,
            from_picture: None,
            simulated: false,
            void: None,
            line: None,
        });
    }
}

#[allow(dead_code, reason = "each test file uses what it needs")]
pub fn close(found: f64, expected: f64, tolerance: f64, what: &str) {
    assert!((found - expected).abs() <= tolerance, "{what}: {found} for {expected}");
}
