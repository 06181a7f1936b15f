//! How vivid a colour is beside the most vivid that common pigments make there: one scale for every trial.

use std::collections::HashMap;
use std::fmt;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use colour::{Conditions, Lab, Reflectance, unsigned_distance};
use mixing::typical::{TypicalPaint, VIVID};
use mixing::{Constants, Surface, predict};

/// What lies within this of a colour in hue, degrees, and in L* stands beside it.
const HUE_WINDOW: f64 = 10.0;
const LIGHTNESS_WINDOW: f64 = 10.0;
/// Cells of the table: so many degrees of hue, and so much L*.
const HUE_STEP: f64 = 5.0;
const LIGHTNESS_STEP: f64 = 5.0;
const HUES: usize = 72;
const LIGHTNESSES: usize = 21;
/// Ratios of each pair, by strength, and parts of white with each.
const STEPS: usize = 15;
/// Below this C* every colour is neutral, whatever could be made there.
const NEUTRAL_CHROMA: f64 = 6.0;
/// Least shares of the highest chroma that a word stands for. The last is a quarter; the others are set so that the words
/// of practitioners hold (`tests/vividness.rs`).
const VIVID_FROM: f64 = 0.62;
const SOFTENED_FROM: f64 = 0.45;
const MUTED_FROM: f64 = 0.25;

/// How painters call it (ours).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum VividnessWord {
    /// 62 % or more of the highest chroma there.
    Vivid,
    /// 45 % or more.
    Softened,
    /// A quarter or more.
    Muted,
    /// Less, and every colour of C* below 6.
    Neutral,
}

impl fmt::Display for VividnessWord {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Vivid => "vivid",
            Self::Softened => "softened",
            Self::Muted => "muted",
            Self::Neutral => "neutral",
        })
    }
}

/// C* over the highest C* that vivid pigments in common use make in pairs with titanium white, within 10° of hue and 10
/// of L* (ours).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Vividness {
    /// 0 to 1, and a little above where a colour is more vivid than any of these.
    pub share: f64,
    /// The same as a word.
    pub word: VividnessWord,
}

/// The scale under one light, to one observer, through one surface.
#[derive(Debug)]
pub struct Scale {
    /// The highest C* around each place of the table, by hue and then by L*.
    highest: Vec<f64>,
}

/// Light and observer, and what the surface does, to the bit.
type Key = (Conditions, Option<[u64; 3]>);

/// Scales that were worked out: there are few lights, and few surfaces.
static KNOWN: LazyLock<Mutex<HashMap<Key, Arc<Scale>>>> = LazyLock::new(Mutex::default);

impl Scale {
    /// The scale for colours that are seen like this; worked out once.
    #[must_use]
    pub fn seen(conditions: Conditions, surface: Option<Surface>) -> Arc<Self> {
        let bits = surface.map(|it| [it.k1, it.k2, it.lost].map(f64::to_bits));
        let known = || KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(scale) = known().get(&(conditions, bits)) {
            return Arc::clone(scale);
        }
        let scale = Arc::new(Self::new(conditions, surface));
        known().insert((conditions, bits), Arc::clone(&scale));
        scale
    }

    fn new(conditions: Conditions, surface: Option<Surface>) -> Self {
        let typical = |name: &&str| Some(TypicalPaint::named(name)?.constants());
        let paints: Vec<Constants> = VIVID.iter().filter_map(typical).collect();
        let white = typical(&"PW6").unwrap_or_else(|| paints[0].clone());
        let mut colours = Vec::new();
        for (at, one) in paints.iter().enumerate() {
            for other in &paints[at..] {
                for share in shares(strength(one), strength(other)) {
                    for white_parts in whites() {
                        let whole = 1.0 + white_parts;
                        let parts = [
                            ((1.0 - share) / whole, one),
                            (share / whole, other),
                            (white_parts / whole, &white),
                        ];
                        let film: Reflectance = predict(&parts, None).to_measured(surface);
                        colours.push(Lab::from_reflectance(&film, conditions));
                    }
                }
            }
        }
        Self { highest: around(&colours) }
    }

    /// How vivid a colour is.
    #[must_use]
    pub fn vividness(&self, colour: Lab) -> Vividness {
        let Some(hue) = colour.hue().filter(|_| colour.chroma() >= NEUTRAL_CHROMA) else {
            let share =
                colour.hue().map_or(0.0, |hue| colour.chroma() / self.at(hue.degrees(), colour.l));
            return Vividness { share, word: VividnessWord::Neutral };
        };
        let share = colour.chroma() / self.at(hue.degrees(), colour.l);
        let word = match share {
            share if share >= VIVID_FROM => VividnessWord::Vivid,
            share if share >= SOFTENED_FROM => VividnessWord::Softened,
            share if share >= MUTED_FROM => VividnessWord::Muted,
            _ => VividnessWord::Neutral,
        };
        Vividness { share, word }
    }

    /// The highest C* at a hue, degrees, and an L*: between the places of the table.
    fn at(&self, hue: f64, lightness: f64) -> f64 {
        let (hue, lightness) =
            (hue / HUE_STEP, (lightness / LIGHTNESS_STEP).clamp(0.0, (LIGHTNESSES - 1) as f64));
        let (h, l) = (hue.floor() as usize, (lightness.floor() as usize).min(LIGHTNESSES - 2));
        let (u, v) = (hue.fract(), lightness - l as f64);
        let of = |h: usize, l: usize| self.highest[h % HUES * LIGHTNESSES + l];
        let along = |l: usize| (1.0 - u) * of(h, l) + u * of(h + 1, l);
        (1.0 - v) * along(l) + v * along(l + 1)
    }
}

/// The highest C* within the window around each place. Where nothing lies there, it is that of the nearest L* of this
/// hue.
fn around(colours: &[Lab]) -> Vec<f64> {
    let mut highest = vec![0.0_f64; HUES * LIGHTNESSES];
    for colour in colours {
        let Some(hue) = colour.hue() else { continue };
        for at_hue in 0..HUES {
            let place = colour::Hue::from_degrees(at_hue as f64 * HUE_STEP);
            if unsigned_distance(hue, place) > HUE_WINDOW {
                continue;
            }
            let from = ((colour.l - LIGHTNESS_WINDOW) / LIGHTNESS_STEP).ceil().max(0.0) as usize;
            let to = ((colour.l + LIGHTNESS_WINDOW) / LIGHTNESS_STEP).floor() as usize;
            for l in from..=to.min(LIGHTNESSES - 1) {
                let cell = &mut highest[at_hue * LIGHTNESSES + l];
                *cell = cell.max(colour.chroma());
            }
        }
    }
    for column in highest.chunks_mut(LIGHTNESSES) {
        let known: Vec<usize> = (0..LIGHTNESSES).filter(|l| column[*l] > 0.0).collect();
        for l in 0..LIGHTNESSES {
            if let Some(nearest) = known.iter().min_by_key(|it| it.abs_diff(l)) {
                column[l] = column[*nearest].max(NEUTRAL_CHROMA);
            }
        }
    }
    highest
}

/// None, and from 1 : 0.125 to 1 : 64.
fn whites() -> impl Iterator<Item = f64> {
    let tint = |step: usize| 0.125 * 512_f64.powf(step as f64 / (STEPS - 2) as f64);
    std::iter::once(0.0).chain((0..STEPS - 1).map(tint))
}

/// How much a paint absorbs, on the whole.
fn strength(paint: &Constants) -> f64 {
    (paint.k.iter().sum::<f64>() / paint.k.len() as f64).max(1e-3)
}

/// Shares of the second tube at which the two matter as 1 : 32 to 32 : 1.
fn shares(one: f64, other: f64) -> impl Iterator<Item = f64> {
    (0..STEPS).map(move |step| {
        let by_strength = 1024_f64.powf(step as f64 / (STEPS - 1) as f64) / 32.0;
        let parts = by_strength * one / other;
        parts / (1.0 + parts)
    })
}
