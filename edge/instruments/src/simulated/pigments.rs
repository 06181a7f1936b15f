//! Hidden absorption and scattering of pigments by Colour Index name.
//!
//! Invented curves that look and mix roughly like the pigments they are named for; from memory,
//! and no measurement of any product. Units: K and S of a full film (150 µm wet) of neat paint.

use colour::wavelength;

/// One feature of an absorption curve.
#[derive(Debug, Clone, Copy)]
pub(super) enum Feature {
    /// A bell: centre in nm, width in nm, height.
    Bell(f64, f64, f64),
    /// Absorbs all that is shorter: edge in nm, softness in nm, height.
    Below(f64, f64, f64),
    /// The same at every wavelength.
    Flat(f64),
}

/// A pigment in full load.
#[derive(Debug, Clone, Copy)]
pub(super) struct Pigment {
    pub absorption: &'static [Feature],
    /// Scattering at 550 nm.
    pub scattering: f64,
    /// It falls with wavelength to this power.
    pub fall: f64,
}

impl Pigment {
    /// K of a full film in a band, its features moved by `shift` nm.
    pub fn k(&self, band: usize, shift: f64) -> f64 {
        let nm = f64::from(wavelength(band)) - shift;
        let height = |feature: &Feature| match *feature {
            Feature::Bell(centre, width, height) => {
                height * (-((nm - centre) / width).powi(2) / 2.0).exp()
            }
            Feature::Below(edge, softness, height) => {
                height / (1.0 + ((nm - edge) / softness).exp())
            }
            Feature::Flat(height) => height,
        };
        self.absorption.iter().map(height).sum()
    }

    /// S of a full film in a band.
    pub fn s(&self, band: usize) -> f64 {
        self.scattering * (f64::from(wavelength(band)) / 550.0).powf(-self.fall)
    }
}

/// The pigment of a Colour Index name; a dull brown for one that has no curve here.
pub(super) fn pigment(code: &str) -> Pigment {
    use Feature::{Bell, Below, Flat};
    let (absorption, scattering, fall): (&'static [Feature], f64, f64) = match code {
        "PW6" | "PW4" => (&[Below(402.0, 7.0, 6.0), Flat(0.006)], 15.0, 0.9),
        "PY74" | "PY3" => (&[Below(480.0, 8.0, 20.0), Flat(0.02)], 1.6, 0.8),
        "PY35" | "PY37" => (&[Below(502.0, 6.0, 44.0), Flat(0.03)], 14.0, 0.6),
        "PY83" | "PY65" => (&[Below(500.0, 9.0, 22.0), Flat(0.03)], 1.5, 0.8),
        "PY42" | "PY43" => {
            (&[Below(528.0, 26.0, 13.0), Bell(650.0, 60.0, 0.8), Flat(0.3)], 3.5, 0.7)
        }
        "PO73" | "PO62" => (&[Below(543.0, 10.0, 22.0), Flat(0.03)], 2.0, 0.8),
        "PR108" => (&[Below(584.0, 8.0, 44.0), Flat(0.06)], 13.0, 0.6),
        "PR254" | "PR112" => (&[Below(576.0, 9.0, 24.0), Flat(0.05)], 2.2, 0.7),
        "PR122" | "PV19" => {
            (&[Bell(540.0, 42.0, 30.0), Bell(400.0, 40.0, 5.0), Flat(0.05)], 0.9, 0.8)
        }
        "PR101" => (&[Below(574.0, 16.0, 50.0), Bell(660.0, 50.0, 2.4), Flat(0.8)], 14.0, 0.6),
        "PV23" => (&[Bell(560.0, 65.0, 60.0), Bell(400.0, 35.0, 6.0), Flat(0.3)], 0.8, 0.8),
        "PB29" => (&[Bell(598.0, 58.0, 24.0), Bell(720.0, 60.0, 4.0), Flat(0.4)], 0.9, 0.8),
        "PB28" => (&[Bell(595.0, 50.0, 10.0), Flat(0.1)], 2.8, 0.6),
        "PB15" | "PB15:1" | "PB15:3" => {
            (&[Bell(655.0, 50.0, 60.0), Bell(600.0, 26.0, 26.0), Flat(0.35)], 0.7, 0.8)
        }
        "PG7" | "PG36" => {
            (&[Bell(655.0, 52.0, 60.0), Below(436.0, 18.0, 26.0), Flat(0.3)], 0.7, 0.8)
        }
        "PG17" | "PG18" => {
            (&[Bell(620.0, 60.0, 9.0), Below(445.0, 25.0, 10.0), Flat(0.4)], 3.0, 0.6)
        }
        "PBr7" => (&[Below(530.0, 30.0, 20.0), Bell(640.0, 70.0, 0.9), Flat(0.5)], 2.8, 0.6),
        "PBk7" | "PBk9" | "PBk11" => (&[Flat(46.0), Below(450.0, 80.0, 8.0)], 0.6, 0.5),
        _ => (&[Below(540.0, 50.0, 9.0), Flat(1.2)], 2.0, 0.7),
    };
    Pigment { absorption, scattering, fall }
}
