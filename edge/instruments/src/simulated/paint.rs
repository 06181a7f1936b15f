//! The truth inside a tube.

use study::{ColourIndexName, TubeLabel};
use thiserror::Error;

use super::hash::stable_hash;
use super::pigments::Pigment;

/// What a tube really holds; the analysis never sees it.
#[derive(Debug, Clone)]
pub struct HiddenPaint {
    pigments: Vec<Pigment>,
    /// Pigment load, 1 for a full one.
    load: f64,
    /// How far its features lie from the usual, in nm.
    shift: f64,
}

/// A pigment of a tube has no curve here, so nothing can be made up of it.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error(
    "no simulated paint is known for {pigment} ({tube}): read it with a real meter, or try a tube of a \
     common pigment"
)]
pub struct NoCurve {
    /// The Colour Index name.
    pub pigment: String,
    /// The tube.
    pub tube: String,
}

impl HiddenPaint {
    /// The paint in a labelled tube: the same label is always the same paint. A tube that gives no name
    /// still hides some paint.
    ///
    /// # Errors
    /// Where a pigment that the label names has no curve.
    pub fn of(label: &TubeLabel) -> Result<Self, NoCurve> {
        const SOMETHING: [&str; 5] = ["PBr7", "PY43", "PR101", "PG17", "PB28"];
        let codes = ColourIndexName::parse_list(&label.code).unwrap_or_default();
        let mut names: Vec<&str> = codes.iter().map(ColourIndexName::as_str).collect();
        if names.is_empty() {
            names.push(SOMETHING[stable_hash(&label.name) as usize % SOMETHING.len()]);
        }
        let pigment = |name: &str| {
            Pigment::named(name)
                .ok_or_else(|| NoCurve { pigment: name.to_owned(), tube: label.name.clone() })
        };
        let pigments = names.into_iter().map(pigment).collect::<Result<_, _>>()?;
        let (load, shift) = usual_load(label).unwrap_or_else(|| made_up_load(label));
        Ok(Self { pigments, load, shift })
    }

    /// The same paint made with another share of its pigment.
    #[must_use]
    pub fn with_load(self, load: f64) -> Self {
        Self { load, ..self }
    }

    /// The same paint with its features so far from the usual, nm.
    #[must_use]
    pub fn with_shift(self, shift: f64) -> Self {
        Self { shift, ..self }
    }

    /// The same pigments in full load, without the hue of this one tube.
    #[must_use]
    pub fn usual(self) -> Self {
        Self { load: 1.0, shift: 0.0, ..self }
    }

    /// K of a full film of the neat paint in a band.
    pub(super) fn k(&self, band: usize) -> f64 {
        self.load * self.mean(|pigment| pigment.k(band, self.shift))
    }

    /// S of a full film of the neat paint in a band.
    pub(super) fn s(&self, band: usize) -> f64 {
        self.load * self.mean(|pigment| pigment.s(band))
    }

    /// Share of a dry film that lifting leaves, 0 to 1.
    pub(super) fn staining(&self) -> f64 {
        self.mean(|pigment| pigment.staining)
    }

    fn mean(&self, of: impl Fn(&Pigment) -> f64) -> f64 {
        self.pigments.iter().map(of).sum::<f64>() / self.pigments.len() as f64
    }
}

/// Loads and shifts of the carousel workshop's tubes, so that its trials have something to find.
fn usual_load(label: &TubeLabel) -> Option<(f64, f64)> {
    let known = match (label.maker.as_str(), label.name.as_str()) {
        ("Tidewell", "Canopy Ultramarine") => (1.0, 0.0),
        ("Harrow & Pike", "Ultramarine") => (0.92, 7.0),
        ("Nettlebed", "Ultramarine Blue") => (0.69, 0.0),
        ("Tidewell", "Workshop Titanium") => (1.0, 0.0),
        ("Tidewell", "Lantern Yellow") => (1.0, 0.0),
        ("Nettlebed", "Roasted Earth") => (1.1, 26.0),
        ("Nettlebed", "Raw Earth") => (0.9, -12.0),
        _ => return None,
    };
    Some(known)
}

/// Load 0.8–1.2 and shift ±3 nm for any other tube.
fn made_up_load(label: &TubeLabel) -> (f64, f64) {
    let hash = stable_hash(&format!("{}/{}", label.maker, label.name));
    let part = |shift: u32| f64::from((hash >> shift) as u16) / f64::from(u16::MAX);
    (0.8 + 0.4 * part(0), 6.0 * part(16) - 3.0)
}
