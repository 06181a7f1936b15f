//! Repeats to one colour: average first, then compute.

use std::hash::{Hash as _, Hasher as _};
use std::sync::Arc;

use colour::{BANDS, Conditions, DeltaE, Hue, Lab, Reflectance, Xyz, oklch_hue, spread};
use rustc_hash::{FxHashMap, FxHasher};

use crate::uncertain::{Uncertain, per_axis, student_t};
use crate::{
    Backing, Calibration, FilmKind, FromPicture, InPictures, Measured, Mixture, Protocol,
    RatioError, Reading, ReadingSource, State, Study, TubeRef, Warning,
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
    /// the instrument's stated repeatability; from a picture, what the picture says.
    pub half_width: [f64; 3],
    /// The same per band of the reflectance, as a factor.
    pub band_half_width: Option<[f64; BANDS]>,
    /// How far another square of the same mixture may lie from this one, half-width of the 95 % interval of L*, a* and
    /// b*: 0 until somebody who compares squares says it.
    pub between: [f64; 3],
    /// What it rests on, where it was read from pictures.
    pub in_pictures: Option<InPictures>,
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

    /// The same colour as one square of many that could have been painted alike, which differ by `sigma` per axis, one
    /// standard deviation. Of pictures the interval says all already.
    #[must_use]
    pub fn as_square(&self, sigma: [f64; 3]) -> Self {
        if self.in_pictures.is_some() {
            return self.clone();
        }
        let between = sigma.map(|sigma| colour::NORMAL_95 * sigma);
        let band_half_width = self.band_half_width.zip(self.reflectance).map(|(own, mean)| {
            let more = bands_of_lightness(&mean, between[0]);
            std::array::from_fn(|band| own[band].hypot(more[band]))
        });
        Self { between, band_half_width, ..self.clone() }
    }

    /// Half-width of L*, a* and b* where squares are compared: of its readings, and between squares.
    #[must_use]
    pub fn square_half_width(&self) -> [f64; 3] {
        [0, 1, 2].map(|axis| self.half_width[axis].hypot(self.between[axis]))
    }

    /// The colour with what may be wrong with it: its own reading part, and this ratio part.
    #[must_use]
    pub fn uncertain(&self, ratio: [f64; 3]) -> Uncertain {
        Uncertain { lab: self.lab, reading: self.square_half_width(), ratio }
    }
}

/// One averaged mixture.
#[derive(Debug)]
pub struct Averaged {
    /// What was mixed.
    pub mixture: Mixture,
    /// How far its ratio may be off.
    pub ratio_error: RatioError,
    /// Its mean colour.
    pub colour: SwatchColour,
    /// Of what was averaged, so that it need not be averaged again.
    mark: u64,
}

type Key = (Vec<(TubeRef, u32)>, FilmKind, Backing, State);

/// Every averaged mixture of a study.
#[derive(Debug)]
pub struct Averages {
    list: Vec<Arc<Averaged>>,
    places: FxHashMap<Key, usize>,
    /// By state, wet, dry and lifted: full films over paper, in the order of the study.
    on_paper: [Vec<usize>; 3],
    /// What could not be used.
    pub warnings: Vec<Warning>,
    /// Readings that count, and how many of them a simulated device made up.
    pub counted: (usize, usize),
    /// Readings from pictures that count: calibrated, guessed and uncalibrated.
    pub from_pictures: [usize; 3],
    /// Swatches that were read both by a meter and from a picture: the meter's reading counts.
    pub picture_checks: Vec<PictureCheck>,
}

/// A swatch that was read from a picture and, better, by something else.
#[derive(Debug, Clone, PartialEq)]
pub struct PictureCheck {
    /// What was mixed.
    pub mixture: Mixture,
    /// What lies under it.
    pub backing: Backing,
    /// ΔE00 between the two.
    pub off: DeltaE,
    /// What the picture said it could be off by, ΔE00.
    pub uncertainty: f64,
}

/// Shares within this count as the same, as ln.
const SAME_RATIO: f64 = 0.03;
/// One band moves by so much more than the lightness that all of them make: most of a meter's noise is each band's own.
const ONE_BAND: f64 = 2.0;
/// So many suspicious spectra are told one by one.
const SUSPICIOUS_SHOWN: usize = 3;

/// The readings of one mixture.
struct Group<'a> {
    first: &'a Reading,
    readings: Vec<&'a Reading>,
    mark: FxHasher,
}

impl<'a> Group<'a> {
    fn new(first: &'a Reading) -> Self {
        let mut mark = FxHasher::default();
        (first.line, first.ratio_error.to_string()).hash(&mut mark);
        for part in first.mixture.parts() {
            (part.tube, part.parts.to_bits()).hash(&mut mark);
        }
        Self { first, readings: Vec::new(), mark }
    }

    fn push(&mut self, reading: &'a Reading) {
        match &reading.measured {
            Measured::Spectrum(spectrum) => {
                for band in spectrum.bands() {
                    self.mark.write_u64(band.to_bits());
                }
            }
            Measured::Lab(stated) => {
                stated.conditions.hash(&mut self.mark);
                for axis in stated.lab.axes() {
                    self.mark.write_u64(axis.to_bits());
                }
            }
        }
        if let Some(from) = &reading.from_picture {
            (&from.picture, from.calibration, from.uncertainty.to_bits()).hash(&mut self.mark);
        }
        self.readings.push(reading);
    }

    /// The best of its readings, and the mean of those from pictures that a better one stands before.
    fn ranked(&self) -> (Vec<&'a Reading>, Vec<&'a Reading>) {
        let best = self.readings.iter().map(|it| it.rank()).min().flatten();
        self.readings.iter().copied().partition(|reading| reading.rank() == best)
    }

    fn check(&self, study: &Study, colour: &SwatchColour) -> Option<PictureCheck> {
        let (_, pictures) = self.ranked();
        let calibrated: Vec<&Reading> = pictures
            .into_iter()
            .filter(|it| it.rank().is_some_and(|it| it != Calibration::Uncalibrated))
            .collect();
        let picture = average(&calibrated, study, None)?;
        Some(PictureCheck {
            mixture: self.first.mixture.clone(),
            backing: self.first.backing,
            off: colour::ciede2000(colour.lab, picture.lab),
            uncertainty: picture.in_pictures?.uncertainty,
        })
    }
}

impl Averages {
    /// Averages the readings of a study that are not void.
    #[must_use]
    pub fn of(study: &Study) -> Self {
        Self::again(study, study.readings.iter(), None)
    }

    /// Averages `readings` under the circumstances of `study`, whose own readings are left alone.
    /// What is in `before` already, under the same circumstances, is not averaged again.
    #[must_use]
    pub fn again<'a>(
        study: &Study,
        readings: impl Iterator<Item = &'a Reading>,
        before: Option<&Self>,
    ) -> Self {
        let mut groups: Vec<Group<'a>> = Vec::new();
        let mut places: FxHashMap<Key, usize> = FxHashMap::default();
        let (mut warnings, mut counted, mut from_pictures) = (Vec::new(), (0, 0), [0; 3]);
        let mut suspicious = 0;
        for reading in readings.filter(|reading| reading.void.is_none()) {
            counted.0 += 1;
            counted.1 += usize::from(reading.simulated);
            if let Some(from) = &reading.from_picture {
                from_pictures[from.calibration as usize] += 1;
            }
            if let Measured::Lab(stated) = &reading.measured
                && let Err(error) = stated.under(study.conditions)
            {
                warnings.push(Warning { line: reading.line, message: error.to_string() });
                continue;
            }
            if let Some(message) = reading.measured.suspicion() {
                suspicious += 1;
                if suspicious <= SUSPICIOUS_SHOWN {
                    warnings.push(Warning { line: reading.line, message });
                }
            }
            let key = (reading.mixture.ratio_key(), reading.film, reading.backing, reading.state);
            let place = *places.entry(key).or_insert_with(|| {
                groups.push(Group::new(reading));
                groups.len() - 1
            });
            groups[place].push(reading);
        }
        if suspicious > SUSPICIOUS_SHOWN {
            let message = format!("… and {} more such spectra", suspicious - SUSPICIOUS_SHOWN);
            warnings.push(Warning { line: None, message });
        }
        let mut on_paper = [const { Vec::new() }; 3];
        for (at, group) in groups.iter().enumerate() {
            let first = group.first;
            if first.backing == Backing::Paper && first.film == FilmKind::Full {
                on_paper[first.state as usize].push(at);
            }
        }
        let mut list: Vec<Option<Arc<Averaged>>> = vec![None; groups.len()];
        let mut picture_checks = Vec::new();
        for (key, at) in &places {
            let group = &groups[*at];
            let mark = group.mark.finish();
            let known = before.and_then(|before| before.list.get(*before.places.get(key)?));
            list[*at] = match known.filter(|known| known.mark == mark) {
                Some(known) => Some(Arc::clone(known)),
                // A group has a reading, so it has a mean.
                None => average(&group.ranked().0, study, group.first.line).map(|colour| {
                    Arc::new(Averaged {
                        mixture: group.first.mixture.clone(),
                        ratio_error: group.first.ratio_error,
                        colour,
                        mark,
                    })
                }),
            };
        }
        let list: Vec<Arc<Averaged>> = list.into_iter().flatten().collect();
        for (group, averaged) in groups.iter().zip(&list) {
            if averaged.colour.in_pictures.is_none() {
                picture_checks.extend(group.check(study, &averaged.colour));
            }
        }
        Self { list, places, on_paper, warnings, counted, from_pictures, picture_checks }
    }

    /// The dry full film of a mixture over paper, with how its ratio was come by.
    #[must_use]
    pub fn dry_averaged(&self, mixture: &Mixture) -> Option<&Averaged> {
        let key = (mixture.ratio_key(), FilmKind::Full, Backing::Paper, State::Dry);
        self.places.get(&key).map(|at| &*self.list[*at])
    }

    /// The dry full film of a mixture over a backing.
    #[must_use]
    pub fn dry(&self, mixture: &Mixture, backing: Backing) -> Option<&SwatchColour> {
        self.full(mixture, backing, State::Dry)
    }

    /// The full film of a mixture over a backing, in a state.
    #[must_use]
    pub fn full(&self, mixture: &Mixture, backing: Backing, state: State) -> Option<&SwatchColour> {
        self.find(&(mixture.ratio_key(), FilmKind::Full, backing, state))
    }

    /// The dry thin film of a mixture over paper.
    #[must_use]
    pub fn thin(&self, mixture: &Mixture) -> Option<&SwatchColour> {
        self.find(&(mixture.ratio_key(), FilmKind::Thin, Backing::Paper, State::Dry))
    }

    /// The dry colour of a mixture over a backing, as a full or a thin film: what was put out is never quite what was
    /// planned, so over paper a ratio within 3 % counts as the same.
    #[must_use]
    pub fn of_square(
        &self,
        mixture: &Mixture,
        backing: Backing,
        film: FilmKind,
    ) -> Option<&SwatchColour> {
        if film == FilmKind::Thin {
            return self.thin(mixture);
        }
        self.dry(mixture, backing).or_else(|| {
            let near = |read: &&Averaged| read.mixture.is_near(mixture, SAME_RATIO);
            let mut on_paper = self.dry_on_paper().filter(|_| backing == Backing::Paper);
            on_paper.find(near).map(|read| &read.colour)
        })
    }

    /// Every mixture read dry, as a full film over paper, in the order of the study.
    pub fn dry_on_paper(&self) -> impl Iterator<Item = &Averaged> {
        self.on_paper(State::Dry)
    }

    /// The same in another state.
    pub fn on_paper(&self, state: State) -> impl Iterator<Item = &Averaged> {
        self.on_paper[state as usize].iter().map(|&at| &*self.list[at])
    }

    fn find(&self, key: &Key) -> Option<&SwatchColour> {
        Some(&self.list[*self.places.get(key)?].colour)
    }
}

/// The mean of readings, each of which has a colour under the study's conditions; `None` of none.
fn average(readings: &[&Reading], study: &Study, line: Option<usize>) -> Option<SwatchColour> {
    let labs: Vec<Lab> =
        readings.iter().filter_map(|it| it.measured.lab(study.conditions).ok()).collect();
    let spectra: Vec<&Reflectance> = readings
        .iter()
        .filter_map(|reading| match &reading.measured {
            Measured::Spectrum(reflectance) => Some(reflectance),
            Measured::Lab(_) => None,
        })
        .collect();
    let all_spectral = spectra.len() == readings.len();
    let reflectance = all_spectral.then(|| Reflectance::mean(spectra.iter().copied())).flatten();
    let lab = match &reflectance {
        Some(mean) => Lab::from_reflectance(mean, study.conditions),
        None => Lab::mean(&labs)?,
    };
    let from_pictures: Vec<(&FromPicture, bool)> = readings
        .iter()
        .filter_map(|it| Some((it.from_picture.as_ref()?, it.source == ReadingSource::Photo)))
        .collect();
    let in_pictures = InPictures::of(&from_pictures);
    let half_width = match &in_pictures {
        Some(pictures) => pictures.half_width(lab),
        None => lab_half_width(lab, &labs, &study.protocol),
    };
    Some(SwatchColour {
        lab,
        band_half_width: reflectance.map(|mean| band_half_width(&mean, &spectra, half_width[0])),
        reflectance,
        repeats: readings.len(),
        spread: spread(&labs),
        half_width,
        between: [0.0; 3],
        in_pictures,
        line,
    })
}

fn lab_half_width(mean: Lab, labs: &[Lab], protocol: &Protocol) -> [f64; 3] {
    if labs.len() < 3 {
        let stated = protocol.repeatability.unwrap_or(Protocol::ASSUMED_REPEATABILITY);
        // A spread of MCDM m around the mean is m/1.60 each in lightness, chroma and hue, in ΔE00 (three equal normal
        // parts); of two readings the mean is surer.
        return per_axis(
            mean,
            colour::NORMAL_95 * stated / 1.60 / (labs.len().max(1) as f64).sqrt(),
        );
    }
    std::array::from_fn(|axis| {
        let values: Vec<f64> = labs.iter().map(|lab| lab.axes()[axis]).collect();
        mean_half_width(&values)
    })
}

/// From three repeats on each band tells its own spread. Below that the band is taken to move as
/// the lightness does: dR = 3·R^(2/3)/116 for each unit of L* (CIELAB's own slope). Ours.
fn band_half_width(mean: &Reflectance, spectra: &[&Reflectance], lightness: f64) -> [f64; BANDS] {
    if spectra.len() < 3 {
        return bands_of_lightness(mean, ONE_BAND * lightness);
    }
    std::array::from_fn(|band| {
        let values: Vec<f64> = spectra.iter().map(|spectrum| spectrum.bands()[band]).collect();
        mean_half_width(&values)
    })
}

fn bands_of_lightness(mean: &Reflectance, lightness: f64) -> [f64; BANDS] {
    mean.bands().map(|r| lightness * 3.0 * r.max(0.01).powf(2.0 / 3.0) / 116.0)
}

/// t(0.975, n − 1)·s/√n of three values or more.
fn mean_half_width(values: &[f64]) -> f64 {
    let count = values.len() as f64;
    let mean = values.iter().sum::<f64>() / count;
    let variance = values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / (count - 1.0);
    student_t(values.len()) * (variance / count).sqrt()
}
