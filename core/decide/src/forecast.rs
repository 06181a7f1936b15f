//! What two tubes will do together, and why, from what each does with white.

use colour::{BANDS, Lab, wavelength};
use figures::{Grade, loss_of_chroma};
use mixing::{Constants, InternalReflectance, KsRatio};

use crate::neutral::strength;
use crate::paints::{Paints, Shares, TINT};

/// From this loss on a reason is given.
const WORTH_A_REASON: f64 = 0.25;
/// A parent with this part of the absorption in the window is to blame alone.
const TO_BLAME: f64 = 0.60;

/// A third of the spectrum.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Window {
    /// 400 to 490 nm.
    Blue,
    /// 500 to 580 nm.
    Green,
    /// 590 to 700 nm.
    Red,
}

impl Window {
    const ALL: [Self; 3] = [Self::Blue, Self::Green, Self::Red];

    fn holds(self, nm: u16) -> bool {
        match self {
            Self::Blue => (400..=490).contains(&nm),
            Self::Green => (500..=580).contains(&nm),
            Self::Red => (590..=700).contains(&nm),
        }
    }

    /// What a parent carries that takes light from this window.
    fn carries(self) -> &'static str {
        match self {
            Self::Green => "red",
            Self::Blue => "yellow",
            Self::Red => "blue",
        }
    }

    fn mean(self, of: &[f64; BANDS]) -> f64 {
        let bands: Vec<f64> =
            (0..BANDS).filter(|band| self.holds(wavelength(*band))).map(|band| of[band]).collect();
        bands.iter().sum::<f64>() / bands.len().max(1) as f64
    }
}

/// Why a pair is dull.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Reason {
    /// Where the mixture reflects most.
    pub window: Window,
    /// The first tube's part of what is taken there, 0 to 1.
    pub blame: f64,
}

impl Reason {
    /// The parent that is to blame: 0 the first, 1 the second; `None` for both.
    #[must_use]
    pub fn blamed(&self) -> Option<usize> {
        match self.blame {
            blame if blame >= TO_BLAME => Some(0),
            blame if blame <= 1.0 - TO_BLAME => Some(1),
            _ => None,
        }
    }

    /// `X carries red`, or `both carry red`.
    #[must_use]
    pub fn words(&self, names: [&str; 2]) -> String {
        match self.blamed() {
            Some(parent) => format!("{} carries {}", names[parent], self.window.carries()),
            None => format!("both carry {}", self.window.carries()),
        }
    }
}

/// What is to be expected of a pair at equal strength.
#[derive(Debug, Clone, PartialEq)]
pub struct Forecast {
    /// With white 1 : 4.
    pub colour: Lab,
    /// Its chroma loss, a share; a gain is 0. `None` where a parent is near neutral.
    pub loss: Option<f64>,
    /// Why it is dull; `None` where it is not.
    pub reason: Option<Reason>,
}

impl Forecast {
    /// The grade of its loss.
    #[must_use]
    pub fn grade(&self) -> Option<Grade> {
        self.loss.map(Grade::of)
    }

    /// Of two tubes with white, from the K/S of their tints alone.
    #[must_use]
    pub fn of(paints: &Paints, one: &Constants, other: &Constants) -> Option<Self> {
        let white = paints.white.as_ref()?;
        let tints: Vec<[f64; BANDS]> = [one, other].iter().map(|it| tint(it, white)).collect();
        Some(Self::of_tints(paints, white, [tints[0], tints[1]]))
    }

    /// From the K/S of two tints 1 : 4, as they were read or predicted.
    #[must_use]
    pub fn of_tints(paints: &Paints, white: &Constants, tints: [[f64; BANDS]; 2]) -> Self {
        // What each adds to the white, brought to the same height: equal strength.
        let own = tints.map(|tint| -> [f64; BANDS] {
            std::array::from_fn(|band| (tint[band] - white.k[band] / white.s[band]).max(0.0))
        });
        let height = own.map(|own| own.iter().fold(1e-9_f64, |most, it| most.max(*it)));
        let total = 1.0 / height[0] + 1.0 / height[1];
        let shares = height.map(|height| 1.0 / height / total);
        let mixed: [f64; BANDS] =
            std::array::from_fn(|band| shares[0] * tints[0][band] + shares[1] * tints[1][band]);
        let colour = |q: &[f64; BANDS]| {
            let inside = InternalReflectance::from_fn(|band| KsRatio(q[band]).hiding_reflectance());
            paints.seen(&inside, paints.conditions)
        };
        let lab = colour(&mixed);
        let loss =
            loss_of_chroma([lab, colour(&tints[0]), colour(&tints[1])]).map(|it| it.max(0.0));
        let taken =
            |window: Window| [0, 1].map(|parent: usize| shares[parent] * window.mean(&own[parent]));
        let window = Window::ALL.into_iter().min_by(|a, b| {
            let of = |window: Window| taken(window).iter().sum::<f64>();
            of(*a).total_cmp(&of(*b))
        });
        let reason = window.filter(|_| loss.is_some_and(|loss| loss >= WORTH_A_REASON));
        let reason = reason.map(|window| {
            let [one, other] = taken(window);
            Reason { window, blame: one / (one + other).max(1e-12) }
        });
        Self { colour: lab, loss, reason }
    }
}

fn tint(paint: &Constants, white: &Constants) -> [f64; BANDS] {
    std::array::from_fn(|band| {
        (paint.k[band] + TINT * white.k[band]) / (paint.s[band] + TINT * white.s[band])
    })
}

/// The way from one tube to another with white 1 : 4, in so many steps even by strength, both ends among them.
#[must_use]
pub fn ladder(paints: &Paints, [one, other]: [usize; 2], steps: usize) -> Vec<Lab> {
    let strengths = [strength(paints, one), strength(paints, other)];
    let at = |step: usize| {
        let share = step as f64 / (steps.max(2) - 1) as f64;
        let parts = [(one, (1.0 - share) / strengths[0]), (other, share / strengths[1])];
        paints.colour(&Shares::of(&parts, 0.0).tinted(TINT))
    };
    (0..steps).filter_map(at).collect()
}
