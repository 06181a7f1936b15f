//! Figures from pictures against the same figures of the true colours.

use std::collections::{BTreeMap, HashMap};
use std::sync::Arc;

use bench::diagnosis::{ReadColour, estimate};
use colour::{Lab, ciede2000};
use compare::{Subject, Told, Twins};
use figures::{Analysis, analyse, same_parts};
use instruments::simulated::picture::PictureDevice;
use picture::PictureReading;
use plan::prior::learn;
use study::{Averages, Calibration, FittedTubes, FromPicture, Mixture, ReadingSource, TubeRef};

use super::bench::Bench;

/// Rows of the table of what is wanted, each with how far its figures were off.
#[derive(Default)]
pub struct Off(BTreeMap<&'static str, Vec<f64>>);

pub const HUE_SHIFT: &str = "hue shift, degrees";
pub const CHROMA_LOSS: &str = "chroma loss, points";
pub const ALIKE: &str = "strength of one pigment at equal depth, percent";
pub const UNLIKE: &str = "strength of unlike pigments at one ratio, percent";
pub const BY_EYE: &str = "ratio by eye, ln";
pub const CONTRAST: &str = "contrast ratio";
pub const ALL: [&str; 6] = [HUE_SHIFT, CHROMA_LOSS, ALIKE, UNLIKE, BY_EYE, CONTRAST];

impl Off {
    fn is_off(&mut self, row: &'static str, off: f64) {
        self.0.entry(row).or_default().push(off.abs());
    }

    /// Those of other pictures too.
    pub fn add(&mut self, other: Self) {
        for (row, off) in other.0 {
            self.0.entry(row).or_default().extend(off);
        }
    }

    /// Median, 95th percentile and number of a row.
    pub fn row(&self, row: &str) -> (f64, f64, usize) {
        let mut sorted = self.0.get(row).cloned().unwrap_or_default();
        sorted.sort_by(f64::total_cmp);
        let at = |share: f64| {
            let place = share * (sorted.len().max(1) - 1) as f64;
            sorted.get(place.round() as usize).copied().unwrap_or(f64::NAN)
        };
        (at(0.5), at(0.95), sorted.len())
    }

    /// One picture of a trial with twins, every tube anchored.
    pub fn add_picture(&mut self, seed: u64, device: PictureDevice) {
        let mut bench = Bench::with_a_twin(seed, 7);
        let shot = bench.photograph(device, &[], seed);
        let (reading, _) = bench.read_by(&shot, 24, 0.15);
        assert_eq!(reading.refused, [], "{device:?} {seed}");
        let truth = bench.truth().into_iter().map(|(number, lab)| (number, (lab, None)));
        let [told, right] = [told(&reading), truth.collect()]
            .map(|colours| analyse(&bench.study(&colours), Some(TubeRef(0))));
        self.of_tubes(&told, &right);
        self.by_eye(&mut bench, &reading);
    }

    fn of_tubes(&mut self, told: &Analysis, right: &Analysis) {
        for (told, right) in told.tubes.iter().zip(&right.tubes) {
            if told.truest == right.truest {
                let truest = told.truest;
                for (at, (told, right)) in told.tints.iter().zip(&right.tints).enumerate() {
                    // The truest tint shifts by nothing against itself, and a mass tone is no tint.
                    let is_tint = told.white_parts > 0.0 && Some(at) != truest;
                    if !same_parts(told.white_parts, right.white_parts) || !is_tint {
                        continue;
                    }
                    if let (Ok(told), Ok(right)) = (told.hue_shift, right.hue_shift) {
                        let off = told.value - right.value;
                        self.is_off(HUE_SHIFT, (off + 180.0).rem_euclid(360.0) - 180.0);
                    }
                    if let (Ok(told), Ok(right)) = (told.chroma_loss, right.chroma_loss) {
                        self.is_off(CHROMA_LOSS, 100.0 * (told.value - right.value));
                    }
                }
            }
            // A dark film has no contrast ratio worth the name.
            let opacities = told.opacity.as_ref().ok().zip(right.opacity.as_ref().ok());
            if let Some((told, right)) = opacities.filter(|(_, right)| right.class.is_ok()) {
                self.is_off(CONTRAST, told.contrast_ratio.value - right.contrast_ratio.value);
            }
            let (Ok(of_picture), Ok(of_truth)) = (&told.strength, &right.strength) else {
                continue;
            };
            if told.tube == TubeRef(1) {
                if let [Ok(told), Ok(right)] = [of_picture, of_truth].map(|it| it.equal_depth)
                    && told.bound.or(right.bound).is_none()
                {
                    self.is_off(ALIKE, 100.0 * (told.percent.value / right.percent.value - 1.0));
                }
            } else if let Some(right) = of_truth.headline() {
                let mut same = of_picture.same_ratio.iter();
                let same = same.find(|it| same_parts(it.white_parts, right.white_parts));
                if let (Some(Ok(told)), Ok(right)) = (same.map(|it| it.percent), right.percent) {
                    self.is_off(UNLIKE, 100.0 * (told.value / right.value - 1.0));
                }
            }
        }
    }

    /// The ratio of the two colours in every mixture of two with white, as if it had been put out by eye.
    fn by_eye(&mut self, bench: &mut Bench, reading: &PictureReading) {
        let study = bench.earlier_trial();
        let prior = learn(&study);
        let white = study.white.expect("a white");
        let tint = |tube| prior.colour(&Mixture::of(&[(tube, 1.0), (white, 4.0)])).expect("read");
        for swatch in bench.swatches() {
            let tubes: Vec<TubeRef> = swatch.mixture.parts().iter().map(|it| it.tube).collect();
            let cell = reading.cells.iter().find(|it| it.number == swatch.number.0);
            let (3, Some(cell)) = (tubes.len(), cell) else { continue };
            let (Some(lab), Some(u)) = (cell.lab, cell.u) else { continue };
            // Of two that look alike no colour tells the ratio.
            if ciede2000(tint(tubes[0]), tint(tubes[1])).value() < 10.0 {
                continue;
            }
            let seen = ReadColour { lab, reflectance: None, spread: u / 1.96, least_factor: 1.0 };
            let Some(found) = estimate(&prior, &tubes, study.white, seen) else { continue };
            let share = |tube: TubeRef| {
                found.parts.iter().find(|it| it.tube == tube).map_or(f64::NAN, |it| it.share)
            };
            let parts = |tube: TubeRef| swatch.mixture.parts_of(tube);
            let told = (share(tubes[1]) / share(tubes[0])).ln();
            self.is_off(BY_EYE, told - (parts(tubes[1]) / parts(tubes[0])).ln());
        }
    }
}

/// Two tubes of one pigment beside each other, by what a picture told and by the true colours.
pub fn twins(seed: u64, device: PictureDevice) -> [Twins; 2] {
    let mut bench = Bench::with_a_twin(seed, 7);
    let shot = bench.photograph(device, &[], seed);
    let (reading, _) = bench.read_by(&shot, 24, 0.15);
    let truth = bench.truth().into_iter().map(|(number, lab)| (number, (lab, None)));
    [told(&reading), truth.collect()].map(|colours| {
        let mut study = bench.study(&colours);
        let of_picture = study.readings.iter_mut().filter(|it| it.from_picture.is_some());
        for reading in of_picture.filter(|_| device == PictureDevice::Phone) {
            reading.source = ReadingSource::Photo;
        }
        let averages = Averages::of(&study);
        let fitted = FittedTubes::with_pictures(&study, &averages);
        let told = Told {
            study: &study,
            averages: &averages,
            fitted: &fitted,
            instrument: None,
            sheen_stated: true,
        };
        let [one, other] = [0, 1].map(|at| Subject { told, tube: TubeRef(at) });
        compare::compare(&one, &other).expect("they share their tints")
    })
}

/// What a picture told, by number.
fn told(reading: &PictureReading) -> HashMap<u32, (Lab, Option<FromPicture>)> {
    let colour = |cell: &picture::CellReading| {
        let calibration = match cell.is_anchored {
            true => Calibration::Calibrated,
            false => Calibration::Guessed,
        };
        let from = FromPicture { picture: Arc::from("picture"), uncertainty: cell.u?, calibration };
        Some((cell.number, (cell.lab?, Some(from))))
    };
    reading.cells.iter().filter_map(colour).collect()
}
