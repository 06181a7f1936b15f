//! Every tube of a shelf beside every other: which behave alike.
//!
//! A tube's signature is what it does at unit strength, as K and S tell it: its tints at seven steps, and with each
//! reference four mixtures. Two tubes are as far apart as the root mean square of CIEDE2000 over all of these. Most
//! pairs are far apart in lightness already: ΔE00 is never less than |ΔL*|/S_L, for its other terms are a positive
//! quadratic form (|R_T| < 2), so that such a pair need not be worked out.

use colour::{Conditions, Lab, LabColumns, ciede2000, ciede2000_columns, delta_e_ab};
use mixing::{Constants, InternalReflectance, Surface, predict};

/// The depth that unit strength is told by, ΔE*ab from the white.
const UNIT_DEPTH: f64 = 25.0;
/// White to one part of a tube of unit strength: the tints, and the mixtures with a reference.
const TINTS: [f64; 7] = [0.125, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0];
const MIXED: [f64; 4] = [0.0, 0.25, 1.0, 4.0];
/// No tube is looked for beyond these parts of white.
const WHITES: (f64, f64) = (0.01, 2_000.0);

/// What a tube does at unit strength.
#[derive(Debug, Clone, PartialEq)]
pub struct Signature {
    mass_tone: Lab,
    colours: LabColumns,
    /// L* of each, for the bound.
    lightness: Vec<f64>,
}

/// Two tubes that behave alike.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LookAlike {
    /// Places of the two, the smaller first.
    pub pair: [usize; 2],
    /// Root mean square of ΔE00 over tints and mixtures at equal strength.
    pub distance: f64,
    /// ΔE00 of their mass tones.
    pub mass_tone: f64,
}

/// What signatures are seen by: the white, and light and surface.
#[derive(Debug, Clone, Copy)]
pub struct SeenWith<'a> {
    /// K and S of the white.
    pub white: &'a Constants,
    /// The light.
    pub conditions: Conditions,
    /// The surface of the films.
    pub surface: Option<Surface>,
    /// The paper under them, its surface off.
    pub paper: Option<&'a InternalReflectance>,
}

impl SeenWith<'_> {
    fn lab(&self, parts: &[(f64, &Constants)]) -> Lab {
        let total: f64 = parts.iter().map(|it| it.0).sum();
        let shares: Vec<(f64, &Constants)> =
            parts.iter().map(|(parts, of)| (parts / total, *of)).collect();
        let internal: InternalReflectance = predict(&shares, self.paper);
        Lab::from_reflectance(&internal.to_measured(self.surface), self.conditions)
    }

    /// Parts of white that bring a tube to unit depth; `None` for one that is a white itself.
    fn unit(&self, tube: &Constants) -> Option<f64> {
        let white = self.lab(&[(1.0, self.white)]);
        let depth = |ln: f64| {
            let tint = self.lab(&[(1.0, tube), (ln.exp(), self.white)]);
            delta_e_ab(tint, white).value()
        };
        let (mut low, mut high) = (WHITES.0.ln(), WHITES.1.ln());
        if depth(low) < UNIT_DEPTH || depth(high) > UNIT_DEPTH {
            return None;
        }
        for _ in 0..40 {
            let middle = f64::midpoint(low, high);
            if depth(middle) > UNIT_DEPTH { low = middle } else { high = middle }
        }
        Some(f64::midpoint(low, high).exp())
    }
}

impl Signature {
    /// Of a tube, beside these references; `None` for one too pale to have a strength.
    #[must_use]
    pub fn of(tube: &Constants, references: &[&Constants], seen: &SeenWith<'_>) -> Option<Self> {
        let unit = seen.unit(tube)?;
        let part = 1.0 / unit;
        let tints = TINTS.iter().map(|white| seen.lab(&[(part, tube), (*white, seen.white)]));
        let mixed = references.iter().filter_map(|reference| {
            let other = 1.0 / seen.unit(reference)?;
            Some(MIXED.map(|white| {
                let parts = [(part, tube), (other, *reference), (2.0 * white, seen.white)];
                seen.lab(&parts[..if white == 0.0 { 2 } else { 3 }])
            }))
        });
        let colours: Vec<Lab> = tints.chain(mixed.flatten()).collect();
        Some(Self::from_colours(seen.lab(&[(1.0, tube)]), &colours))
    }

    /// Of colours that stand for the same mixtures in every signature.
    #[must_use]
    pub fn from_colours(mass_tone: Lab, colours: &[Lab]) -> Self {
        Self {
            mass_tone,
            colours: colours.iter().copied().collect(),
            lightness: colours.iter().map(|it| it.l).collect(),
        }
    }

    /// Root mean square of ΔE00.
    fn distance(&self, other: &Self) -> f64 {
        let off = ciede2000_columns(&self.colours, &other.colours);
        let squares: f64 = off.iter().map(|it| it * it).sum();
        (squares / off.len().max(1) as f64).sqrt()
    }

    /// Never more than [`Self::distance`]: of the lightnesses alone.
    fn least_distance(&self, other: &Self) -> f64 {
        let squares = self.lightness.iter().zip(&other.lightness).map(|(one, other)| {
            let middle = (f64::midpoint(*one, *other) - 50.0).powi(2);
            let scale = 1.0 + 0.015 * middle / (20.0 + middle).sqrt();
            ((one - other) / scale).powi(2)
        });
        let count = self.lightness.len().min(other.lightness.len()).max(1);
        (squares.sum::<f64>() / count as f64).sqrt()
    }

    fn look_alike(&self, other: &Self, pair: [usize; 2]) -> LookAlike {
        let mass_tone = ciede2000(self.mass_tone, other.mass_tone).value();
        LookAlike { pair, distance: self.distance(other), mass_tone }
    }
}

/// All pairs no further apart than `within`, ΔE00, the nearest first.
#[must_use]
pub fn look_alikes(signatures: &[Signature], within: f64) -> Vec<LookAlike> {
    found(signatures, within, |one, other| one.least_distance(other) <= within)
}

/// The same with every pair worked out: what the quick way is checked against.
#[must_use]
pub fn look_alikes_in_full(signatures: &[Signature], within: f64) -> Vec<LookAlike> {
    found(signatures, within, |_, _| true)
}

fn found(
    signatures: &[Signature],
    within: f64,
    is_worth_it: impl Fn(&Signature, &Signature) -> bool,
) -> Vec<LookAlike> {
    let mut near = Vec::new();
    for (at, one) in signatures.iter().enumerate() {
        for (rest, other) in signatures[at + 1..].iter().enumerate() {
            if !is_worth_it(one, other) || one.distance(other) > within {
                continue;
            }
            near.push(one.look_alike(other, [at, at + 1 + rest]));
        }
    }
    near.sort_by(|a, b| a.distance.total_cmp(&b.distance).then(a.pair.cmp(&b.pair)));
    near
}
