//! The steps of a ladder from one tube to another.

use std::fmt;

use colour::{Lab, ciede2000, delta_e_ab};
use serde::{Deserialize, Serialize};

/// Shares of the second tube are looked at this finely, evenly in ln(b/a).
const FINE: usize = 160;
/// ln(b/a) runs from −LIMIT to +LIMIT: 1 : 3000 either way.
const LIMIT: f64 = 8.0;
/// Most rounds in which the places of even steps settle.
const SETTLING: usize = 60;
/// They have settled when none moves by more than this, in steps of the path.
const SETTLED: f64 = 0.02;
/// Most steps between the two ends.
pub const MOST_STEPS: usize = 20;

/// How a ladder's ratios are chosen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum Steps {
    /// 100/75/50/25/0.
    Quarters,
    /// 90/10, 80/20 … 10/90 between the ends.
    Tenths,
    /// 1:1, 1:2, 1:4 … so many of them, towards the second tube.
    Doublings(usize),
    /// Parts of the first and the second tube, as typed.
    Own(Vec<(f64, f64)>),
}

/// Why steps cannot be planned.
#[derive(Debug, Clone, PartialEq)]
pub enum StepsError {
    /// More than 20, or none.
    Count(usize),
    /// Parts below zero, not finite, or zero on both sides; the place in the list, from 1.
    Parts(usize),
}

impl fmt::Display for StepsError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Count(found) => {
                write!(f, "{found} steps between the ends; choose 1 to {MOST_STEPS}")
            }
            Self::Parts(place) => write!(
                f,
                "step {place}: give parts of both tubes, each 0 or more and not both 0, such as 3 : 1"
            ),
        }
    }
}

impl std::error::Error for StepsError {}

impl Steps {
    /// Share of the second tube at each step between the ends, rising, 0 < share < 1. Ends among
    /// one's own parts are left out, since every ladder has its ends.
    ///
    /// # Errors
    /// For too many steps, or parts that make no mixture.
    pub fn shares(&self) -> Result<Vec<f64>, StepsError> {
        let mut shares: Vec<f64> = match self {
            Self::Quarters => vec![0.25, 0.5, 0.75],
            Self::Tenths => (1..10_u8).map(|tenth| f64::from(tenth) / 10.0).collect(),
            Self::Doublings(count) => {
                check_count(*count)?;
                (0..*count).map(|power| 2.0_f64.powi(power as i32)).map(|b| b / (1.0 + b)).collect()
            }
            Self::Own(parts) => {
                check_count(parts.len())?;
                let share = |(at, &(a, b)): (usize, &(f64, f64))| {
                    let fine = a >= 0.0 && b >= 0.0 && a + b > 0.0 && (a + b).is_finite();
                    if fine { Ok(b / (a + b)) } else { Err(StepsError::Parts(at + 1)) }
                };
                parts.iter().enumerate().map(share).collect::<Result<_, _>>()?
            }
        };
        shares.retain(|share| *share > 0.0 && *share < 1.0);
        shares.sort_by(f64::total_cmp);
        shares.dedup_by(|one, other| (*one - *other).abs() < 1e-9);
        Ok(shares)
    }
}

fn check_count(count: usize) -> Result<(), StepsError> {
    if (1..=MOST_STEPS).contains(&count) { Ok(()) } else { Err(StepsError::Count(count)) }
}

/// Steps that look even to the eye: `count` shares of the second tube between the ends, so that
/// neighbours, the ends included, differ by the same ΔE00 as `colour_at` predicts them.
///
/// From the first tube the path is followed until the difference reaches D, again and again; D is
/// the one that leaves the last step as large as the others. CIEDE2000 does not always grow along
/// the way, so the places then settle, each midway between its neighbours.
///
/// # Errors
/// For none or more than 20 steps.
pub fn even(count: usize, colour_at: impl Fn(f64) -> Lab) -> Result<Vec<f64>, StepsError> {
    check_count(count)?;
    let path = Path::new(colour_at);
    let longest = path.longest();
    let (mut low, mut high) = (0.0, longest);
    while high - low > 1e-4 * longest {
        let step = f64::midpoint(low, high);
        match path.walk(count, step) {
            // What is left to the end is more than a step: the steps are too small.
            Some(walked) if path.left(&walked) > step => low = step,
            // The end was passed, or is nearer than a step.
            _ => high = step,
        }
    }
    let walked = path.walk(count, low).unwrap_or_else(|| path.spread(count));
    Ok(path.shares(&path.settled(walked)))
}

/// A prediction bent so that its ends are the two tubes as they were read: what it misses there is
/// shared out along the way by how near each end is (ours).
pub fn anchored(colour_at: impl Fn(f64) -> Lab, first: Lab, second: Lab) -> impl Fn(f64) -> Lab {
    let (from, to) = (colour_at(0.0), colour_at(1.0));
    let missed = |read: Lab, predicted: Lab| {
        Lab::new(read.l - predicted.l, read.a - predicted.a, read.b - predicted.b)
    };
    let (missed_from, missed_to) = (missed(first, from), missed(second, to));
    move |share| {
        let colour = colour_at(share);
        let (near, far) = (delta_e_ab(colour, from).value(), delta_e_ab(colour, to).value());
        let way = if near + far > 0.0 { near / (near + far) } else { 0.0 };
        let bend = missed_from.lerp(missed_to, way);
        Lab::new(colour.l + bend.l, colour.a + bend.a, colour.b + bend.b)
    }
}

/// Steps where nothing is known of the tubes: ratios in geometric progression from `count` : 1 to
/// 1 : `count`, so that three of them are the quarters and nine begin and end as tenths do (ours).
///
/// # Errors
/// For none or more than 20 steps.
pub fn geometric(count: usize) -> Result<Vec<f64>, StepsError> {
    check_count(count)?;
    let most = (count as f64).ln();
    let ln_ratio = |at: usize| match count {
        1 => 0.0,
        _ => most * (2.0 * at as f64 / (count - 1) as f64 - 1.0),
    };
    Ok((0..count).map(|at| 1.0 / (1.0 + (-ln_ratio(at)).exp())).collect())
}

/// ΔE00 between neighbours of a ladder, its ends included.
#[must_use]
pub fn differences(shares: &[f64], colour_at: impl Fn(f64) -> Lab) -> Vec<f64> {
    let ladder: Vec<Lab> =
        [0.0].iter().chain(shares).chain(&[1.0]).map(|share| colour_at(*share)).collect();
    ladder.windows(2).map(|pair| ciede2000(pair[0], pair[1]).value()).collect()
}

/// The colours on the way from the first tube to the second.
struct Path {
    shares: Vec<f64>,
    colours: Vec<Lab>,
}

impl Path {
    fn new(colour_at: impl Fn(f64) -> Lab) -> Self {
        let between = (0..=FINE).map(|at| {
            let ln_ratio = LIMIT * (2.0 * at as f64 / FINE as f64 - 1.0);
            1.0 / (1.0 + (-ln_ratio).exp())
        });
        let shares: Vec<f64> = [0.0].into_iter().chain(between).chain([1.0]).collect();
        let colours = shares.iter().map(|share| colour_at(*share)).collect();
        Self { shares, colours }
    }

    fn last(&self) -> usize {
        self.colours.len() - 1
    }

    fn distance(&self, from: Lab, place: usize) -> f64 {
        ciede2000(from, self.colours[place]).value()
    }

    /// No step can be longer than the whole way along the path.
    fn longest(&self) -> f64 {
        self.colours.windows(2).map(|pair| ciede2000(pair[0], pair[1]).value()).sum()
    }

    /// The colour between two places.
    fn colour(&self, place: f64) -> Lab {
        let below = (place.floor() as usize).min(self.last() - 1);
        self.colours[below].lerp(self.colours[below + 1], place - below as f64)
    }

    /// `count` places, each a step beyond the one before; `None` where the end comes first.
    fn walk(&self, count: usize, step: f64) -> Option<Vec<f64>> {
        let mut places: Vec<f64> = Vec::with_capacity(count);
        let (mut from, mut start) = (self.colours[0], 1);
        for _ in 0..count {
            let next = (start..self.last()).find(|next| self.distance(from, *next) >= step)?;
            // Between two places of the path, linearly.
            let (before, after) = (self.distance(from, next - 1), self.distance(from, next));
            let back = if after > before { (after - step) / (after - before) } else { 0.0 };
            let place = next as f64 - back.clamp(0.0, 1.0);
            places.push(place);
            (from, start) = (self.colour(place), next);
        }
        Some(places)
    }

    /// Places evenly along the path, whatever the colours.
    fn spread(&self, count: usize) -> Vec<f64> {
        (1..=count).map(|at| at as f64 * self.last() as f64 / (count + 1) as f64).collect()
    }

    /// Moves each place to where it differs as much from the one before as from the one after,
    /// again and again; at rest all steps are equal.
    fn settled(&self, mut places: Vec<f64>) -> Vec<f64> {
        for _ in 0..SETTLING {
            let mut moved = 0.0_f64;
            for at in 0..places.len() {
                let before = at.checked_sub(1).map_or(0.0, |at| places[at]);
                let after = places.get(at + 1).copied().unwrap_or(self.last() as f64);
                let place = self.midway(before, after);
                moved = moved.max((place - places[at]).abs());
                places[at] = place;
            }
            if moved < SETTLED {
                break;
            }
        }
        places
    }

    /// The place between two others that is equally far from both.
    fn midway(&self, before: f64, after: f64) -> f64 {
        let (first, second) = (self.colour(before), self.colour(after));
        let (mut low, mut high) = (before, after);
        while high - low > SETTLED / 4.0 {
            let middle = f64::midpoint(low, high);
            let colour = self.colour(middle);
            let nearer = ciede2000(first, colour).value() < ciede2000(colour, second).value();
            if nearer { low = middle } else { high = middle }
        }
        f64::midpoint(low, high)
    }

    /// What is left from the last place to the end.
    fn left(&self, places: &[f64]) -> f64 {
        places.last().map_or(f64::INFINITY, |place| self.distance(self.colour(*place), self.last()))
    }

    fn shares(&self, places: &[f64]) -> Vec<f64> {
        let share = |place: &f64| {
            let below = (place.floor() as usize).min(self.last() - 1);
            let part = place - below as f64;
            self.shares[below] + part * (self.shares[below + 1] - self.shares[below])
        };
        places.iter().map(share).collect()
    }
}
