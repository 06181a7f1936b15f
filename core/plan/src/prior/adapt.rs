//! Typical paints that learn from the eye: how strong a tube looked, which way it leaned and how vivid its mixtures
//! were move the load of its typical paint, and shift its curves along the wavelength. Still typical (ours).

use colour::{Hue, Lab, signed_shift};
use mixing::Constants;
use mixing::typical::{HUE_SIGMA, LOAD_SIGMA};
use study::{Mixture, TubeRef};

use super::{Known, Prior, PriorLevel};

/// What the eye said of a tube.
#[derive(Debug, Clone, PartialEq)]
pub enum EyeEvidence {
    /// ln of its load beside its typical paint's, with one standard deviation.
    Load {
        /// ln of the load.
        ln: f64,
        /// One standard deviation of it.
        sigma: f64,
    },
    /// Its tint 1 : 4 lies so many degrees from its typical paint's, with one standard deviation.
    Hue {
        /// Degrees, positive from red over yellow to green.
        shift: f64,
        /// One standard deviation of it.
        sigma: f64,
    },
    /// A mixture with it has this share, 0 to 1, of the highest chroma that the tubes reach there.
    Vividness {
        /// The mixture.
        mixture: Mixture,
        /// The share that the word stands for.
        share: f64,
        /// One standard deviation of it.
        sigma: f64,
    },
}

/// Loads and shifts that are tried: so many each way of the typical paint.
const EACH_WAY: i32 = 5;
/// As far as so many standard deviations.
const FARTHEST: f64 = 2.5;
/// Curves shift by so many nm at most, whatever their hue does.
const MOST_NM: f64 = 25.0;

/// A typical paint, moved by what the eye said.
#[derive(Debug, Clone, PartialEq)]
pub struct Adapted {
    /// What is known now.
    pub known: Known,
    /// ln of its load beside the typical paint's, with one standard deviation.
    pub ln_load: (f64, f64),
    /// How far its hue lies from the typical paint's, degrees, with one standard deviation.
    pub hue: (f64, f64),
}

/// What the eye said of a tube in one trial.
pub struct SeenInTrial<'a> {
    /// What is known of the trial's tubes.
    pub prior: &'a Prior,
    /// The tube, by its place in that trial.
    pub tube: TubeRef,
    /// The trial's white.
    pub white: Option<TubeRef>,
    /// What was said.
    pub evidence: Vec<EyeEvidence>,
    /// How vivid a colour is beside the most vivid that the trial's tubes reach there.
    pub share: Box<dyn Fn(Lab) -> Option<f64> + 'a>,
}

/// What a mixture looks like with another paint for one of its tubes.
fn with(prior: &mut Prior, tube: TubeRef, paint: Constants, mixture: &Mixture) -> Option<Lab> {
    prior.tubes.get_mut(tube.0)?.constants = Some(paint);
    prior.colour(mixture)
}

/// A tube's typical paint after what the eye said of it in some trials; `None` where nothing was said, and where
/// the tube is not known by a typical paint alone.
#[must_use]
pub fn adapted(trials: &[SeenInTrial<'_>]) -> Option<Adapted> {
    let first = trials.first()?;
    let known = first.prior.known(first.tube).filter(|it| it.level == PriorLevel::Typical)?;
    let typical = known.constants.as_ref()?;
    let tint = match first.white {
        Some(white) => Mixture::of(&[(first.tube, 1.0), (white, 4.0)]),
        None => Mixture::neat(first.tube),
    };
    let mut moved: Vec<Prior> = trials.iter().map(|trial| trial.prior.clone()).collect();
    let own_hue = with(&mut moved[0], first.tube, typical.clone(), &tint)?.hue();
    let mut turned = |nm: f64| -> f64 {
        let paint = typical.shifted(nm);
        let hue = with(&mut moved[0], first.tube, paint, &tint).and_then(Lab::hue);
        own_hue.zip(hue).map_or(0.0, |(own, hue): (Hue, Hue)| signed_shift(own, hue))
    };
    // How far a shift of 5 nm turns the tint says what ± 8° are in nm.
    let slope = (turned(5.0) - turned(-5.0)) / 10.0;
    let sigma_nm =
        if slope.abs() > 0.1 { (HUE_SIGMA / slope.abs()).min(MOST_NM / FARTHEST) } else { 4.0 };
    let mut sum = Sums::default();
    for load_step in -EACH_WAY..=EACH_WAY {
        for shift_step in -EACH_WAY..=EACH_WAY {
            let unit = |step: i32| f64::from(step) * FARTHEST / f64::from(EACH_WAY);
            let (load_units, shift_units) = (unit(load_step), unit(shift_step));
            let (ln_load, nm) = (LOAD_SIGMA * load_units, sigma_nm * shift_units);
            let mut ln_weight = -(load_units.powi(2) + shift_units.powi(2)) / 2.0;
            let hue = slope * nm;
            let paint = typical.shifted(nm).with_load(ln_load.exp());
            let said = trials.iter().zip(0..);
            let said =
                said.flat_map(|(trial, at)| trial.evidence.iter().map(move |it| (trial, at, it)));
            for (trial, at, said) in said {
                let off = match said {
                    EyeEvidence::Load { ln, sigma } => (ln_load - ln) / sigma,
                    EyeEvidence::Hue { shift, sigma } => (hue - shift) / sigma,
                    EyeEvidence::Vividness { mixture, share: word, sigma } => {
                        let found = with(&mut moved[at], trial.tube, paint.clone(), mixture);
                        let found = found.and_then(&*trial.share);
                        found.map_or(0.0, |found| (found.min(1.0) - word) / sigma)
                    }
                };
                ln_weight -= off.powi(2) / 2.0;
            }
            sum.add(ln_weight.exp(), ln_load, nm);
        }
    }
    let ((ln_load, load_sigma), (nm, nm_sigma)) = sum.means()?;
    let constants = typical.shifted(nm).with_load(ln_load.exp());
    Some(Adapted {
        known: Known { constants: Some(constants), ..known.clone() },
        ln_load: (ln_load, load_sigma),
        hue: (slope * nm, slope.abs() * nm_sigma),
    })
}

/// Weighted sums of two quantities and their squares.
#[derive(Default)]
struct Sums {
    weight: f64,
    load: [f64; 2],
    shift: [f64; 2],
}

impl Sums {
    fn add(&mut self, weight: f64, load: f64, shift: f64) {
        self.weight += weight;
        for (sums, value) in [(&mut self.load, load), (&mut self.shift, shift)] {
            sums[0] += weight * value;
            sums[1] += weight * value * value;
        }
    }

    fn means(&self) -> Option<((f64, f64), (f64, f64))> {
        let of = |sums: [f64; 2]| {
            let mean = sums[0] / self.weight;
            (mean, (sums[1] / self.weight - mean * mean).max(0.0).sqrt())
        };
        (self.weight > 0.0).then(|| (of(self.load), of(self.shift)))
    }
}
