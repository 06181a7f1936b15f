//! How far two tubes differ over many squares, and how sure that is.

use colour::{Lab, ciede2000};

use crate::noise::{Draws, Noise};
use crate::pairs::Moved;
use crate::pictures::Pictures;

/// From so many on the 90th percentile is told, below it the root mean square.
const FOR_PERCENTILE: usize = 8;
const PERCENTILE: f64 = 0.9;
/// Draws of the bootstrap.
const DRAWS: usize = 300;
/// What is left of a shift that was predicted, and what nobody can do better than, ΔE00 (found by simulation).
const OF_SHIFT: f64 = 0.15;
const FLOOR: f64 = 0.2;
/// Where amounts were put out by eye, K and S, which move the colours, are off as well (found by simulation).
const KS_BY_EYE: f64 = 1.4;
/// From a two-sided limit of 95 % to a one-sided one, of a normal distribution.
const ONE_SIDED: f64 = 1.645 / colour::NORMAL_95;

/// A ΔE00 with the half-width of its 95 % interval.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Distance {
    /// ΔE00, 0 or more.
    pub value: f64,
    /// ΔE00.
    pub half_width: f64,
}

/// All distances of two tubes, at equal strength.
pub(crate) struct Distances {
    /// Over all squares but the mass tone.
    pub mixtures: Distance,
    pub mass_tone: Option<Distance>,
    /// Of each square.
    pub each: Vec<Distance>,
    /// One standard deviation of ln of the use that amounts put out by eye leave.
    pub use_sigma: f64,
}

/// What comes to the half-widths besides noise, ΔE00.
pub(crate) struct Added<'a> {
    /// By the footing, to every square.
    pub everywhere: f64,
    /// By bringing squares over: root mean square of those that are mixed, and of each square.
    pub brought: f64,
    pub of_each: &'a dyn Fn(&Moved<'_>) -> f64,
}

impl Added<'_> {
    /// To what is told of all squares together.
    pub fn of_all(&self) -> f64 {
        self.everywhere.hypot(self.brought)
    }
}

impl Distances {
    pub fn of(
        moved: &[Moved<'_>],
        noise: Noise,
        added: &Added<'_>,
        pictures: Option<Pictures>,
    ) -> Self {
        let shift = |it: &Moved<'_>| ciede2000(it.other.lab, it.second).value();
        let of_shift = OF_SHIFT * percentile(moved.iter().map(shift).collect(), PERCENTILE);
        let mut draws = Draws::new();
        let mut drawn: Vec<Vec<f64>> = vec![Vec::with_capacity(DRAWS); moved.len()];
        let mut mixtures = Vec::with_capacity(DRAWS);
        let mut uses = Vec::with_capacity(DRAWS);
        for _ in 0..DRAWS {
            let mut mixed = Vec::with_capacity(moved.len());
            let errors: Vec<[f64; 3]> = moved.iter().map(|it| draws.errors(it, noise)).collect();
            // Amounts put out by eye move the use as well, and it takes some of their errors with it.
            let use_moves =
                if moved.iter().any(Moved::is_by_eye) { use_moves(moved, &errors) } else { 0.0 };
            uses.push(use_moves);
            for ((it, error), drawn) in moved.iter().zip(&errors).zip(&mut drawn) {
                let (axes, way) = (it.one.lab.axes(), it.way());
                let disturbed = Lab::from_axes(
                    [0, 1, 2].map(|axis| axes[axis] + error[axis] - use_moves * way[axis]),
                );
                let off = ciede2000(disturbed, it.second).value();
                drawn.push(off);
                if it.is_mixed() {
                    mixed.push(off);
                }
            }
            mixtures.push(summed_up(mixed));
        }
        let told = |observed: f64, drawn: &[f64], more: [f64; 2]| {
            let mut drawn = Drawn::of(drawn);
            if moved.iter().any(Moved::is_by_eye) {
                drawn.half_range *= KS_BY_EYE;
            }
            let distance = drawn.corrected(observed, more);
            let widened = |it: Pictures| it.widened(distance.half_width, distance.value);
            let half_width = pictures.map_or(distance.half_width, widened);
            Distance { half_width, ..distance }
        };
        let mixed = moved.iter().filter(|it| it.is_mixed()).map(Moved::off).collect();
        let each: Vec<Distance> = moved
            .iter()
            .zip(&drawn)
            .map(|(it, drawn)| {
                let of_shift = if it.is_mixed() { OF_SHIFT * shift(it) } else { 0.0 };
                told(it.off(), drawn, [of_shift, added.everywhere.hypot((added.of_each)(it))])
            })
            .collect();
        let alone = moved.iter().position(|it| !it.is_mixed());
        Self {
            mixtures: told(summed_up(mixed), &mixtures, [of_shift, added.of_all()]),
            mass_tone: alone.map(|at| each[at]),
            each,
            use_sigma: (uses.iter().map(|it| it * it).sum::<f64>() / DRAWS as f64).sqrt(),
        }
    }
}

/// By how much ln of the use moves with these errors of the squares: least squares, as the use itself.
fn use_moves(moved: &[Moved<'_>], errors: &[[f64; 3]]) -> f64 {
    let mixed = moved.iter().zip(errors).filter(|(it, _)| it.is_mixed());
    let (mut along, mut whole) = (0.0, 0.0);
    for (it, error) in mixed {
        for (way, error) in it.way().iter().zip(error) {
            along += way * error;
            whole += way * way;
        }
    }
    along / f64::max(whole, f64::MIN_POSITIVE)
}

fn summed_up(off: Vec<f64>) -> f64 {
    if off.len() >= FOR_PERCENTILE {
        return percentile(off, PERCENTILE);
    }
    let squares: f64 = off.iter().map(|it| it * it).sum();
    (squares / off.len().max(1) as f64).sqrt()
}

/// Between the two nearest values.
fn percentile(mut values: Vec<f64>, share: f64) -> f64 {
    values.sort_by(f64::total_cmp);
    let place = share * values.len().saturating_sub(1) as f64;
    let (low, rest) = (place.floor() as usize, place.fract());
    let at = |at: usize| values.get(at).copied().unwrap_or_default();
    at(low) * (1.0 - rest) + at(low + usize::from(rest > 0.0)) * rest
}

/// A distance over many draws of noise.
struct Drawn {
    median: f64,
    /// Half of the range that holds 95 %.
    half_range: f64,
}

impl Drawn {
    fn of(values: &[f64]) -> Self {
        let [low, median, high] =
            [0.025, 0.5, 0.975].map(|share| percentile(values.to_vec(), share));
        Self { median, half_range: (high - low) / 2.0 }
    }

    /// Noise alone makes two piles differ: what it makes is taken off.
    fn corrected(&self, observed: f64, more: [f64; 2]) -> Distance {
        let value = (2.0 * observed.powi(2) - self.median.powi(2)).max(0.0).sqrt();
        // Two piles are never nearer than 0: there only the upper limit counts.
        let range =
            if value < self.half_range { ONE_SIDED * self.half_range } else { self.half_range };
        let half_width = more.iter().fold(range.hypot(FLOOR), |sum, it| sum.hypot(*it));
        Distance { value, half_width }
    }
}
