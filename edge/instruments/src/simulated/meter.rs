//! The simulated colour meter.

use colour::{Reflectance, wavelength};
use mixing::Geometry;
use rand::SeedableRng;
use rand_chacha::ChaCha8Rng;
use study::TubeLabel;

use super::hash::stable_hash;
use super::table::standard_normal;
use super::{HiddenPaint, MixingTable};
use crate::{DeviceError, Meter, Specimen};

/// A sphere instrument, gloss included, reading a simulated workshop's swatches.
///
/// One seed decides everything: the same pile is the same paint, however often it is read, and
/// the same occasion of the same swatch gives the same numbers.
#[derive(Debug)]
pub struct SimulatedMeter {
    seed: u64,
    table: MixingTable,
    /// Share of its usual noise.
    noise: f64,
    known: Vec<(TubeLabel, HiddenPaint)>,
}

/// Noise of the whole reading, as a share of it: the lamp.
const LAMP: f64 = 0.0010;
/// Noise of a band: a floor, and a share of the reading.
const FLOOR: f64 = 0.0002;
const SHARE: f64 = 0.0009;

impl SimulatedMeter {
    /// A meter whose every reading follows from `seed`.
    #[must_use]
    pub fn new(seed: u64, table: MixingTable) -> Self {
        Self { seed, table, noise: 1.0, known: Vec::new() }
    }

    /// The same meter without noise, for checks of the model alone.
    #[must_use]
    pub fn without_noise(self) -> Self {
        Self { noise: 0.0, ..self }
    }

    /// The same meter with so many times its usual noise, of which its repeatability tells.
    #[must_use]
    pub fn with_noise(self, times: f64) -> Self {
        Self { noise: times, ..self }
    }

    /// Tells it what a labelled tube really holds, in place of what it would make up.
    #[must_use]
    pub fn knowing(mut self, label: TubeLabel, paint: HiddenPaint) -> Self {
        self.known.push((label, paint));
        self
    }

    /// What a specimen really reflects, gloss included, without the meter's own noise.
    ///
    /// # Errors
    /// Where nothing can be made up for one of its tubes.
    pub fn truth(&self, specimen: &Specimen) -> Result<Reflectance, DeviceError> {
        let paints: Vec<(HiddenPaint, f64)> = specimen
            .paints
            .iter()
            .map(|(label, parts)| Ok((self.paint(label)?, *parts)))
            .collect::<Result<_, DeviceError>>()?;
        let mut chance = self.chance("pile", specimen, specimen.pile);
        Ok(self.table.swatch(&paints, specimen, &mut chance))
    }

    fn paint(&self, label: &TubeLabel) -> Result<HiddenPaint, DeviceError> {
        let known = self.known.iter().find(|(known, _)| known == label);
        match known {
            Some((_, paint)) => Ok(paint.clone()),
            None => HiddenPaint::of(label).map_err(|error| DeviceError::Refused(error.to_string())),
        }
    }

    fn chance(&self, what: &str, specimen: &Specimen, occasion: u64) -> ChaCha8Rng {
        let text = format!("{}/{what}/{}/{occasion}", self.seed, specimen.swatch);
        ChaCha8Rng::seed_from_u64(stable_hash(&text))
    }
}

impl Meter for SimulatedMeter {
    fn name(&self) -> &str {
        "simulated meter"
    }

    fn simulated(&self) -> bool {
        true
    }

    fn geometry(&self) -> Geometry {
        Geometry::SphereIncluded
    }

    fn repeatability(&self) -> f64 {
        // Without noise it is as good as it says.
        if self.noise > 0.0 { 0.03 * self.noise } else { 0.03 }
    }

    fn read(&mut self, specimen: &Specimen) -> Result<Reflectance, DeviceError> {
        let truth = self.truth(specimen)?;
        let mut chance = self.chance("reading", specimen, specimen.occasion);
        let lamp = 1.0 + self.noise * LAMP * standard_normal(&mut chance);
        Ok(Reflectance::from_fn(|band| {
            let r = truth.bands()[band] * lamp;
            // Silicon sees little violet: there the noise is double.
            let violet = if wavelength(band) < 420 { 2.0 } else { 1.0 };
            let noise = self.noise * violet * (FLOOR + SHARE * r) * standard_normal(&mut chance);
            // Five decimals, as the instrument prints them.
            ((r + noise) * 1e5).round() / 1e5
        }))
    }
}
