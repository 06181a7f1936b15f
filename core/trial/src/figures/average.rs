//! Repeats to one colour: average first, then compute.

use std::collections::HashMap;

use colour::{BANDS, Conditions, DeltaE, Hue, Lab, Reflectance, Xyz, oklch_hue, spread};

use super::Warning;
use super::interval::{Uncertain, student_t};
use crate::{
    Backing, FilmKind, Measured, Mixture, Protocol, RatioError, Reading, State, Study, TubeRef,
};

/// The mean of all valid readings of one mixture in one state over one backing.
#[derive(Debug, Clone, PartialEq)]
pub struct SwatchColour {
    /// Mean colour under the study's conditions.
    pub lab: Lab,
    /// Mean reflectance, where every reading is a spectrum.
    pub reflectance: Option<Reflectance>,
    /// How many readings it is the mean of, 1 or more.
    pub repeats: usize,
    /// Mean difference of the readings from their mean (MCDM, ΔE00), from two readings on.
    pub spread: Option<DeltaE>,
    /// Half-width of the 95 % interval of L*, a* and b*: t·s/√n from three readings on, else from
    /// the instrument's stated repeatability.
    pub half_width: [f64; 3],
    /// The same per band of the reflectance, as a factor.
    pub band_half_width: Option<[f64; BANDS]>,
    /// Line of the first reading, where it came from a file.
    pub line: Option<usize>,
}

impl SwatchColour {
    /// OKLCh hue, `None` near neutral; approximate where there is no spectrum and the colour is
    /// for another observer than 2°.
    #[must_use]
    pub fn oklch_hue(&self) -> Option<Hue> {
        oklch_hue(match &self.reflectance {
            Some(reflectance) => Xyz::from_reflectance(reflectance, Conditions::D65_2),
            None => self.lab.to_xyz(Conditions::D65_2),
        })
    }

    pub(super) fn uncertain(&self, ratio: [f64; 3]) -> Uncertain {
        Uncertain { lab: self.lab, reading: self.half_width, ratio }
    }
}

/// One averaged mixture.
#[derive(Debug)]
pub(crate) struct Averaged {
    pub mixture: Mixture,
    pub ratio_error: RatioError,
    pub colour: SwatchColour,
}

type Key = (Vec<(TubeRef, u32)>, FilmKind, Backing, State);

/// Every averaged mixture of a study.
#[derive(Debug)]
pub(crate) struct Averages {
    list: Vec<Averaged>,
    places: HashMap<Key, usize>,
    dry_on_paper: Vec<usize>,
}

impl Averages {
    /// Averages the readings that are not void; what cannot be used is told in `warnings`.
    pub fn of(study: &Study, warnings: &mut Vec<Warning>) -> Self {
        let mut groups: Vec<(&Reading, Vec<(&Measured, Lab)>)> = Vec::new();
        let mut places: HashMap<Key, usize> = HashMap::new();
        for reading in study.readings.iter().filter(|reading| reading.void.is_none()) {
            let lab = match reading.measured.lab(study.conditions) {
                Ok(lab) => lab,
                Err(error) => {
                    warnings.push(Warning { line: reading.line, message: error.to_string() });
                    continue;
                }
            };
            let key = (reading.mixture.ratio_key(), reading.film, reading.backing, reading.state);
            let place = *places.entry(key).or_insert_with(|| {
                groups.push((reading, Vec::new()));
                groups.len() - 1
            });
            groups[place].1.push((&reading.measured, lab));
        }
        let dry_on_paper = (0..groups.len())
            .filter(|&at| {
                let first = groups[at].0;
                first.state == State::Dry
                    && first.backing == Backing::Paper
                    && first.film == FilmKind::Full
            })
            .collect();
        let list = groups
            .into_iter()
            .map(|(first, readings)| Averaged {
                mixture: first.mixture.clone(),
                ratio_error: first.ratio_error,
                colour: average(&readings, study, first.line),
            })
            .collect();
        Self { list, places, dry_on_paper }
    }

    /// The dry full film of a mixture over a backing.
    pub fn dry(&self, mixture: &Mixture, backing: Backing) -> Option<&SwatchColour> {
        self.find(mixture, FilmKind::Full, backing)
    }

    /// The dry thin film of a mixture over paper.
    pub fn thin(&self, mixture: &Mixture) -> Option<&SwatchColour> {
        self.find(mixture, FilmKind::Thin, Backing::Paper)
    }

    /// Every mixture read dry, as a full film over paper, in the order of the study.
    pub fn dry_on_paper(&self) -> impl Iterator<Item = &Averaged> {
        self.dry_on_paper.iter().map(|&at| &self.list[at])
    }

    fn find(&self, mixture: &Mixture, film: FilmKind, backing: Backing) -> Option<&SwatchColour> {
        let place = self.places.get(&(mixture.ratio_key(), film, backing, State::Dry))?;
        Some(&self.list[*place].colour)
    }
}

fn average(readings: &[(&Measured, Lab)], study: &Study, line: Option<usize>) -> SwatchColour {
    let labs: Vec<Lab> = readings.iter().map(|(_, lab)| *lab).collect();
    let spectra: Vec<&Reflectance> = readings
        .iter()
        .filter_map(|(measured, _)| match measured {
            Measured::Spectrum(reflectance) => Some(reflectance),
            Measured::Lab(_) => None,
        })
        .collect();
    let all_spectral = spectra.len() == readings.len();
    let reflectance = all_spectral.then(|| Reflectance::mean(spectra.iter().copied())).flatten();
    let lab = match &reflectance {
        Some(mean) => Lab::from_reflectance(mean, study.conditions),
        None => Lab::mean(&labs).unwrap_or(labs[0]),
    };
    let half_width = lab_half_width(&labs, &study.protocol);
    SwatchColour {
        lab,
        band_half_width: reflectance.map(|mean| band_half_width(&mean, &spectra, half_width[0])),
        reflectance,
        repeats: readings.len(),
        spread: spread(&labs),
        half_width,
        line,
    }
}

fn lab_half_width(labs: &[Lab], protocol: &Protocol) -> [f64; 3] {
    if labs.len() < 3 {
        let stated = protocol.repeatability.unwrap_or(Protocol::ASSUMED_REPEATABILITY);
        // A spread of MCDM m around the mean is m/1.60 per axis (three equal normal axes).
        return [1.96 * stated / 1.60; 3];
    }
    std::array::from_fn(|axis| {
        let values: Vec<f64> = labs.iter().map(|lab| lab.axes()[axis]).collect();
        mean_half_width(&values)
    })
}

/// From three repeats on each band tells its own spread. Below that the band is taken to move as
/// the lightness does: dR = 3·R^(2/3)/116 for each unit of L* (CIELAB's own slope). Ours.
fn band_half_width(mean: &Reflectance, spectra: &[&Reflectance], lightness: f64) -> [f64; BANDS] {
    std::array::from_fn(|band| {
        if spectra.len() < 3 {
            let r = mean.bands()[band].max(0.01);
            return lightness * 3.0 * r.powf(2.0 / 3.0) / 116.0;
        }
        let values: Vec<f64> = spectra.iter().map(|spectrum| spectrum.bands()[band]).collect();
        mean_half_width(&values)
    })
}

/// t(0.975, n − 1)·s/√n of three values or more.
fn mean_half_width(values: &[f64]) -> f64 {
    let count = values.len() as f64;
    let mean = values.iter().sum::<f64>() / count;
    let variance = values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / (count - 1.0);
    student_t(values.len()) * (variance / count).sqrt()
}
