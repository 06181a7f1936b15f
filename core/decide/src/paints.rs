//! The tubes that recipes are made of, and what mixtures of them look like.

use colour::{Conditions, Illuminant, Lab, ciede2000, signed_shift};
use mixing::typical::HUE_SIGMA;
use mixing::{Constants, InternalReflectance, Surface, predict};

/// Most colours in a recipe, besides the white.
pub const MOST_COLOURS: usize = 4;
/// A film that is scraped down is as thick as this share of a full one (ours).
const SCRAPED: f64 = 0.2;
/// White to one part of a mixture in the tint that is looked at beside its mass tone.
pub const TINT: f64 = 4.0;

/// What a mixture is off, as far as its palette's own readings tell: 95th percentiles of ΔE00 of measured less predicted.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Widths {
    /// Of mixtures of which white is a quarter or more.
    pub with_white: f64,
    /// Of others.
    pub without_white: f64,
}

impl Default for Widths {
    /// Where too few mixtures were read: what simulated workshops are off (found by simulation).
    fn default() -> Self {
        Self { with_white: 0.27, without_white: 0.85 }
    }
}

/// A film with less white than this share may let the paper through, and is predicted no better than one without (ours).
const HIDES: f64 = 0.25;
/// Mixtures whose residuals tell a width.
const ENOUGH: usize = 8;
/// No width is less (ours): paints are mixed anew, and read again.
const LEAST: Widths = Widths { with_white: 0.25, without_white: 0.6 };

impl Widths {
    /// Of mixtures of two colours or more: the share of white in each, and what its prediction is off, ΔE00.
    #[must_use]
    pub fn of(mixtures: impl IntoIterator<Item = (f64, f64)>) -> Self {
        let mut off: [Vec<f64>; 2] = [Vec::new(), Vec::new()];
        for (white, by) in mixtures {
            off[usize::from(white < HIDES)].push(by);
        }
        let [with_white, without_white] = off.map(percentile_95);
        Self {
            with_white: with_white.unwrap_or(Self::default().with_white).max(LEAST.with_white),
            without_white: without_white
                .unwrap_or(Self::default().without_white)
                .max(LEAST.without_white),
        }
    }
}

fn percentile_95(mut values: Vec<f64>) -> Option<f64> {
    values.sort_by(f64::total_cmp);
    let place = 0.95 * (values.len().max(1) - 1) as f64;
    values.get(place.ceil() as usize).copied().filter(|_| values.len() >= ENOUGH)
}

/// A tube that recipes may take.
#[derive(Debug, Clone, PartialEq)]
pub struct Paint {
    /// Its K and S, the white's S as unit.
    pub constants: Constants,
    /// How many pigments it declares; 0 where it declares none.
    pub pigments: usize,
    /// One σ of ln of its load, where it was not read and stands for a typical paint.
    pub load_sigma: Option<f64>,
}

impl Paint {
    /// A tube that was read.
    #[must_use]
    pub fn read(constants: Constants, pigments: usize) -> Self {
        Self { constants, pigments, load_sigma: None }
    }
}

/// Tubes with K and S in one unit, and how their films are seen.
#[derive(Debug, Clone, PartialEq)]
pub struct Paints {
    /// The light that colours are told under.
    pub conditions: Conditions,
    /// The surface of the films; `None` where readings are free of it.
    pub surface: Option<Surface>,
    /// The paper under them, its surface off.
    pub paper: Option<InternalReflectance>,
    /// Black and white under a film whose opacity is told, their surface off.
    pub backings: Option<[InternalReflectance; 2]>,
    /// The white, the unit of every S; `None` for recipes without one.
    pub white: Option<Constants>,
    /// The colours.
    pub tubes: Vec<Paint>,
    /// What their mixtures are off.
    pub widths: Widths,
}

/// Shares of a mixture: of some tubes by their places, and of the white; together 1.
#[derive(Debug, Clone, PartialEq)]
pub struct Shares {
    /// Place of each tube in [`Paints::tubes`] and its share, above 0, by place.
    pub tubes: Vec<(usize, f64)>,
    /// Share of the white, 0 or more.
    pub white: f64,
}

impl Shares {
    /// Of parts in any unit.
    #[must_use]
    pub fn of(tubes: &[(usize, f64)], white: f64) -> Self {
        let total: f64 = tubes.iter().map(|it| it.1).sum::<f64>() + white;
        let mut tubes: Vec<(usize, f64)> =
            tubes.iter().filter(|it| it.1 > 0.0).map(|(at, parts)| (*at, parts / total)).collect();
        tubes.sort_by_key(|it| it.0);
        Self { tubes, white: white / total }
    }

    /// With so many parts of white to one part of this.
    #[must_use]
    pub fn tinted(&self, parts: f64) -> Self {
        let share = 1.0 / (1.0 + parts);
        Self {
            tubes: self.tubes.iter().map(|(at, own)| (*at, own * share)).collect(),
            white: (self.white + parts) * share,
        }
    }
}

impl Paints {
    /// The second light that a recipe is told under.
    #[must_use]
    pub fn second_light(&self) -> Conditions {
        Conditions { illuminant: Illuminant::A, observer: self.conditions.observer }
    }

    /// K and S of a mixture as a paint of its own; `None` where it takes a white and there is none.
    #[must_use]
    pub fn blend(&self, shares: &Shares) -> Option<Constants> {
        let mut parts: Vec<(f64, &Constants)> = Vec::with_capacity(shares.tubes.len() + 1);
        for (at, share) in &shares.tubes {
            parts.push((*share, &self.tubes.get(*at)?.constants));
        }
        if shares.white > 0.0 {
            parts.push((shares.white, self.white.as_ref()?));
        }
        Constants::mixed(&parts)
    }

    /// What a film over paper reflects inside, its surface off.
    #[must_use]
    pub fn inside(&self, paint: &Constants) -> InternalReflectance {
        predict(&[(1.0, paint)], self.paper.as_ref())
    }

    /// Its colour.
    #[must_use]
    pub fn lab(&self, paint: &Constants) -> Lab {
        self.seen(&self.inside(paint), self.conditions)
    }

    /// A film's colour under a light.
    #[must_use]
    pub fn seen(&self, inside: &InternalReflectance, conditions: Conditions) -> Lab {
        Lab::from_reflectance(&inside.to_measured(self.surface), conditions)
    }

    /// The colour of a mixture; `None` where it takes a white and there is none.
    #[must_use]
    pub fn colour(&self, shares: &Shares) -> Option<Lab> {
        self.blend(shares).map(|paint| self.lab(&paint))
    }

    /// The colour of a film scraped down over the paper: its undertone; `None` where neither thickness nor paper is known.
    #[must_use]
    pub fn undertone(&self, paint: &Constants) -> Option<Lab> {
        let thickness = paint.thickness.map(|full| SCRAPED * full);
        let thin = Constants { thickness, ..paint.clone() };
        (thickness.is_some() && self.paper.is_some()).then(|| self.lab(&thin))
    }

    /// Luminance of a film over black in percent of that over white (frame: ASTM D2805); `None` where its thickness is
    /// not known.
    #[must_use]
    pub fn contrast_ratio(&self, paint: &Constants) -> Option<f64> {
        paint.thickness?;
        let [black, white] = self.backings.unwrap_or_else(nominal_backings);
        let luminance = |backing: &InternalReflectance| {
            let film = predict(&[(1.0, paint)], Some(backing)).to_measured(self.surface);
            colour::Xyz::from_reflectance(&film, self.conditions).y
        };
        Some(100.0 * luminance(&black) / luminance(&white))
    }

    /// How wide a recipe's claim is over some looks, each with parts of white to one of the mixture: their root mean
    /// square, ΔE00.
    #[must_use]
    pub fn width_of_looks(&self, shares: &Shares, whites: impl IntoIterator<Item = f64>) -> f64 {
        let each: Vec<f64> =
            whites.into_iter().map(|white| self.width(&shares.tinted(white)).powi(2)).collect();
        (each.iter().sum::<f64>() / each.len().max(1) as f64).sqrt()
    }

    /// The same of one mixture: what the palette's mixtures are off, and what load and hue of tubes that nobody read
    /// leave open.
    fn width(&self, shares: &Shares) -> f64 {
        let own = match shares.white >= HIDES {
            true => self.widths.with_white,
            false => self.widths.without_white,
        };
        let Some(clean) = self.colour(shares) else { return own };
        let open = |(place, _): &(usize, f64)| {
            let sigma = self.tubes[*place].load_sigma?;
            let typical = &self.tubes[*place].constants;
            let moved = |paint: Constants| {
                let mut paints = self.clone();
                paints.tubes[*place].constants = paint;
                Some(ciede2000(clean, paints.colour(shares)?).value())
            };
            let by_load = moved(typical.with_load((colour::NORMAL_95 * sigma).exp()))?;
            Some(
                by_load.hypot(moved(typical.shifted(colour::NORMAL_95 * self.nm_of_hue(typical)))?),
            )
        };
        let squares: f64 = shares.tubes.iter().filter_map(open).map(|it| it * it).sum();
        own.hypot(squares.sqrt())
    }

    /// How many nm a typical paint's curves shift where its tint turns by one σ of its hue.
    fn nm_of_hue(&self, typical: &Constants) -> f64 {
        const STEP: f64 = 5.0;
        const MOST: f64 = 10.0;
        let hue = |nm: f64| {
            let white = self.white.as_ref().map(|it| (TINT, it));
            let paint = typical.shifted(nm);
            let tint = Constants::mixed(
                &[Some((1.0, &paint)), white].into_iter().flatten().collect::<Vec<_>>(),
            );
            self.lab(&tint?).hue()
        };
        let turned = hue(-STEP).zip(hue(STEP)).map_or(0.0, |(from, to)| signed_shift(from, to));
        // A paint whose hue hardly turns is near neutral, or at the end of the spectrum.
        (2.0 * STEP * HUE_SIGMA / turned.abs().max(1.0)).min(MOST)
    }
}

/// An opacity card where none was read, surface off.
fn nominal_backings() -> [InternalReflectance; 2] {
    [0.01, 0.85].map(|value| InternalReflectance::from_fn(|_| value))
}
