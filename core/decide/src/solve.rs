//! The best shares of one choice of tubes: a seed by non-negative least squares, then bounded steps of
//! Levenberg and Marquardt on the terms of CIEDE2000.

use colour::{BANDS, Lab, Reflectance, ciede2000_terms};
use mixing::{Constants, Film, InternalReflectance, KsRatio};
use nalgebra::{SMatrix, SVector};

use crate::paints::{MOST_COLOURS, Paints, Shares, TINT};
use crate::target::{At, Look, Target};

/// Tubes and a white.
const MOST: usize = MOST_COLOURS + 1;
/// A second light counts so much of the first: squared, a sixteenth.
const SECOND: f64 = 0.25;
/// How firmly a seed's shares add up to 1, in units of L*.
const SUM: f64 = 1_000.0;
/// A smaller share is none.
const NONE: f64 = 1e-5;
/// A tube that is new to a choice begins with so much of it.
const TOUCH: f64 = 1e-3;
/// Reflectance that a slope is taken over.
const SLOPE: f64 = 1e-4;

type Amounts = [f64; MOST];
type Steps = SVector<f64, MOST>;

/// A choice of tubes: their places, and the white last where there is one.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Choice {
    pub tubes: [usize; MOST_COLOURS],
    pub count: usize,
    pub amounts: Amounts,
    pub score: f64,
}

impl Choice {
    pub fn tubes(&self) -> &[usize] {
        &self.tubes[..self.count]
    }

    /// What is really in it.
    pub fn shares(&self) -> Shares {
        let total: f64 = self.amounts.iter().sum();
        let kept = |amount: f64| if amount / total < NONE { 0.0 } else { amount };
        let tubes: Vec<(usize, f64)> = self
            .tubes()
            .iter()
            .enumerate()
            .map(|(at, tube)| (*tube, kept(self.amounts[at])))
            .collect();
        Shares::of(&tubes, kept(self.amounts[self.count]))
    }
}

/// One target and all the tubes it may be mixed of.
pub(crate) struct Solver<'a> {
    paints: &'a Paints,
    target: &'a Target,
    /// May white be in the mixture itself?
    takes_white: bool,
    /// The linear problem: what each tube, and last the white, adds to each row, and what is wanted of it.
    columns: Vec<Vec<f64>>,
    wanted: Vec<f64>,
}

/// How long a choice is made better.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Patience {
    /// Steps at most.
    steps: usize,
    /// How often a step that makes nothing better is tried again shorter. Near neutral CIEDE2000 bends so much that only
    /// short ones do.
    shorter: usize,
    /// It ends where a step gains less than this share of what is left.
    gain: f64,
}

impl Patience {
    /// For each of many choices.
    pub const QUICK: Self = Self { steps: 12, shorter: 4, gain: 1e-3 };
    /// For the few that are told.
    pub const CAREFUL: Self = Self { steps: 60, shorter: 14, gain: 1e-5 };
}

/// What of each column, none less than nothing, comes nearest to what is wanted and adds up to 1: the least squares of one of
/// the choices of columns are it, and of five there are 31.
fn non_negative(columns: &[&[f64]], wanted: &[f64]) -> Amounts {
    let dot = |one: &[f64], other: &[f64]| -> f64 {
        one.iter().zip(other).map(|(one, other)| one * other).sum()
    };
    let count = columns.len().min(MOST);
    let mut product = [[0.0; MOST]; MOST];
    let mut toward = [0.0; MOST];
    for one in 0..count {
        toward[one] = dot(columns[one], wanted) + SUM * SUM;
        for other in 0..count {
            product[one][other] = dot(columns[one], columns[other]) + SUM * SUM;
        }
    }
    let mut best = (0.0, [0.0; MOST]);
    for choice in 1_u32..1 << count {
        let is_in = |column: usize| choice & (1 << column) != 0;
        // A column that is left out stands for itself, and gets nothing.
        let products = SMatrix::<f64, MOST, MOST>::from_fn(|row, column| {
            match (is_in(row) && is_in(column), row == column) {
                (true, _) => product[row][column],
                (false, on_diagonal) => f64::from(u8::from(on_diagonal)),
            }
        });
        let towards = Steps::from_fn(|row, _| if is_in(row) { toward[row] } else { 0.0 });
        let Some(solved) = products.cholesky() else { continue };
        let found = solved.solve(&towards);
        let gain = found.dot(&towards);
        if found.iter().all(|amount| *amount >= 0.0) && gain > best.0 {
            best = (gain, found.into());
        }
    }
    best.1
}

impl<'a> Solver<'a> {
    pub fn new(paints: &'a Paints, target: &'a Target, with_white: bool) -> Self {
        let mean_scattering: [f64; BANDS] = std::array::from_fn(|band| {
            let all = paints.tubes.iter().map(|tube| tube.constants.s[band]);
            all.sum::<f64>() / paints.tubes.len().max(1) as f64
        });
        let all = paints.tubes.iter().map(|tube| &tube.constants).chain(&paints.white);
        let mut columns: Vec<Vec<f64>> = all.map(|_| Vec::new()).collect();
        let mut wanted = Vec::new();
        for look in &target.looks {
            let q: [f64; BANDS] = std::array::from_fn(|band| {
                let inside = look.inside.bands()[band].clamp(0.002, 0.9999);
                (1.0 - inside).powi(2) / (2.0 * inside)
            });
            let scattering = |band: usize| match look.at {
                At::MassTone => mean_scattering[band],
                At::Tint => (mean_scattering[band] + TINT) / (1.0 + TINT),
            };
            let rows = projection(paints, look, &q);
            let told = |paint: &Constants, row: &[f64; BANDS]| -> f64 {
                (0..BANDS)
                    .map(|band| {
                        row[band] * (paint.k[band] - q[band] * paint.s[band]) / scattering(band)
                    })
                    .sum()
            };
            let share = 1.0 / (1.0 + look.at.white());
            for row in &rows {
                let all = paints.tubes.iter().map(|tube| &tube.constants).chain(&paints.white);
                for (column, paint) in columns.iter_mut().zip(all) {
                    column.push(share * told(paint, row));
                }
                let of_white = paints.white.as_ref().map_or(0.0, |white| told(white, row));
                wanted.push(-(1.0 - share) * of_white);
            }
        }
        let takes_white = with_white && paints.white.is_some();
        Self { paints, target, takes_white, columns, wanted }
    }

    /// The best shares of these tubes.
    pub fn solve(&self, tubes: &[usize], patience: Patience) -> Choice {
        let mut choice = Choice {
            tubes: [0; MOST_COLOURS],
            count: tubes.len().min(MOST_COLOURS),
            amounts: [0.0; MOST],
            score: f64::INFINITY,
        };
        choice.tubes[..choice.count].copy_from_slice(&tubes[..choice.count]);
        choice.amounts = self.seed(choice.tubes());
        self.polish(&mut choice, patience, false);
        choice
    }

    /// Makes a choice better, as films over paper, or as if all of them hid.
    /// The best shares of a choice that begins as another one with fewer tubes, and a touch of each more.
    pub fn solve_onward(&self, fewer: &Choice, tubes: &[usize], patience: Patience) -> Choice {
        let total: f64 = fewer.amounts.iter().sum();
        let mut choice = Choice { tubes: [0; MOST_COLOURS], count: tubes.len(), ..*fewer };
        choice.amounts = [0.0; MOST];
        for (at, tube) in tubes.iter().enumerate() {
            let known = fewer.tubes().iter().position(|it| it == tube);
            choice.tubes[at] = *tube;
            choice.amounts[at] = known.map_or(TOUCH, |known| fewer.amounts[known] / total);
        }
        choice.amounts[tubes.len()] = fewer.amounts[fewer.count] / total;
        self.polish(&mut choice, patience, false);
        choice
    }

    pub fn polish(&self, choice: &mut Choice, patience: Patience, as_films: bool) {
        let free = choice.count + usize::from(self.takes_white);
        let mut damping = 1e-3;
        let mut now = self.residuals(choice, &choice.amounts, as_films);
        choice.score = score(&now);
        for _ in 0..patience.steps {
            let (normal, gradient) = self.slopes(choice, &now, free, as_films);
            let before = choice.score;
            // A longer step is tried again shorter.
            for _ in 0..patience.shorter {
                let Some(tried) = stepped(&choice.amounts, &normal, &gradient, damping, free)
                else {
                    break;
                };
                let then = self.residuals(choice, &tried, as_films);
                if score(&then) < choice.score {
                    (choice.amounts, choice.score, now) = (tried, score(&then), then);
                    damping = (damping / 6.0).max(1e-9);
                    break;
                }
                damping *= 5.0;
            }
            if before - choice.score < patience.gain * before.max(0.01) {
                break;
            }
        }
    }

    /// Non-negative least squares of what the colours' slopes make of K − q·S, a sum of 1 added.
    fn seed(&self, tubes: &[usize]) -> Amounts {
        let white = self.takes_white.then_some(self.columns.len() - 1);
        let places: Vec<usize> = tubes.iter().copied().chain(white).collect();
        let amounts = non_negative(
            &places.iter().map(|it| &self.columns[*it][..]).collect::<Vec<_>>(),
            &self.wanted,
        );
        normalised(amounts).unwrap_or_else(|| {
            let even = 1.0 / places.len().max(1) as f64;
            std::array::from_fn(|at| if at < places.len() { even } else { 0.0 })
        })
    }

    fn slopes(
        &self,
        choice: &Choice,
        now: &[f64; ROWS],
        free: usize,
        as_films: bool,
    ) -> (SMatrix<f64, MOST, MOST>, Steps) {
        let mut jacobian = [[0.0; ROWS]; MOST];
        for (at, column) in jacobian.iter_mut().enumerate().take(free) {
            let step = 1e-6 + 1e-4 * choice.amounts[at];
            let mut moved = choice.amounts;
            moved[at] += step;
            let then = self.residuals(choice, &moved, as_films);
            for (slope, (then, now)) in column.iter_mut().zip(then.iter().zip(now)) {
                *slope = (then - now) / step;
            }
        }
        let dot = |one: &[f64; ROWS], other: &[f64; ROWS]| -> f64 {
            one.iter().zip(other).map(|(one, other)| one * other).sum()
        };
        let normal = SMatrix::from_fn(|row, column| dot(&jacobian[row], &jacobian[column]));
        let gradient = Steps::from_fn(|row, _| dot(&jacobian[row], now));
        (normal, gradient)
    }

    /// The terms of each look under each light; unused ones are 0.
    fn residuals(&self, choice: &Choice, amounts: &Amounts, as_films: bool) -> [f64; ROWS] {
        let mut rows = [0.0; ROWS];
        let looks = (self.target.looks.len() as f64).sqrt();
        for (look, rows) in self.target.looks.iter().zip(rows.chunks_exact_mut(6)) {
            let film = self.film(choice, amounts, look.at, as_films);
            let read = film.to_measured(self.paints.surface);
            let lab = Lab::from_reflectance(&read, self.paints.conditions);
            for (row, term) in rows.iter_mut().zip(ciede2000_terms(look.lab, lab)) {
                *row = term / looks;
            }
            if let Some(second) = look.second {
                let lab = Lab::from_reflectance(&read, self.paints.second_light());
                for (row, term) in rows[3..].iter_mut().zip(ciede2000_terms(second, lab)) {
                    *row = SECOND * term / looks;
                }
            }
        }
        rows
    }

    /// What a mixture reflects inside its film.
    fn film(
        &self,
        choice: &Choice,
        amounts: &Amounts,
        at: At,
        as_films: bool,
    ) -> InternalReflectance {
        let total: f64 = amounts.iter().sum();
        let tinted = 1.0 / (1.0 + at.white());
        let (mut k, mut s) = ([0.0; BANDS], [0.0; BANDS]);
        let (mut thickness, mut known) = (0.0, 0.0);
        let mut add = |paint: &Constants, share: f64| {
            for band in 0..BANDS {
                k[band] += share * paint.k[band];
                s[band] += share * paint.s[band];
            }
            if let Some(of) = paint.thickness {
                thickness += share * of;
                known += share;
            }
        };
        for (at, tube) in choice.tubes().iter().enumerate() {
            add(&self.paints.tubes[*tube].constants, tinted * amounts[at] / total);
        }
        if let Some(white) = &self.paints.white {
            add(white, tinted * amounts[choice.count] / total + (1.0 - tinted));
        }
        match self.paints.paper.filter(|_| as_films && known > 0.0) {
            Some(paper) => InternalReflectance::from_fn(|band| {
                let thickness = thickness / known;
                Film { absorption: k[band] * thickness, scattering: s[band] * thickness }
                    .reflectance_over(paper.bands()[band])
            }),
            None => {
                InternalReflectance::from_fn(|band| KsRatio(k[band] / s[band]).hiding_reflectance())
            }
        }
    }
}

/// Two looks under two lights, three terms each.
const ROWS: usize = 12;

fn score(rows: &[f64; ROWS]) -> f64 {
    rows.iter().map(|row| row * row).sum::<f64>().sqrt()
}

fn normalised(amounts: Amounts) -> Option<Amounts> {
    let total: f64 = amounts.iter().sum();
    (total > 1e-9 && total.is_finite()).then(|| amounts.map(|amount| amount / total))
}

/// One step, held at 0 or more: an amount at 0 that would fall stays out of it.
fn stepped(
    amounts: &Amounts,
    normal: &SMatrix<f64, MOST, MOST>,
    gradient: &Steps,
    damping: f64,
    free: usize,
) -> Option<Amounts> {
    let is_free = |at: usize| at < free && (amounts[at] > 0.0 || gradient[at] < 0.0);
    let mut matrix = SMatrix::<f64, MOST, MOST>::identity();
    let mut right = Steps::zeros();
    for row in (0..MOST).filter(|at| is_free(*at)) {
        for column in (0..MOST).filter(|at| is_free(*at)) {
            matrix[(row, column)] = normal[(row, column)];
        }
        matrix[(row, row)] = normal[(row, row)] * (1.0 + damping) + 1e-12;
        right[row] = -gradient[row];
    }
    let step = matrix.cholesky()?.solve(&right);
    normalised(std::array::from_fn(|at| match is_free(at) {
        true => (amounts[at] + step[at]).max(0.0),
        false => amounts[at],
    }))
}

/// How L*, a* and b* of a look, under each light, follow K/S of each band, near what is wanted.
fn projection(paints: &Paints, look: &Look, q: &[f64; BANDS]) -> Vec<[f64; BANDS]> {
    let lights = [(paints.conditions, 1.0), (paints.second_light(), SECOND)];
    let lights = &lights[..if look.second.is_some() { 2 } else { 1 }];
    let inside = q.map(|q| KsRatio(q).hiding_reflectance());
    let measured = |inside: &[f64; BANDS]| -> Reflectance {
        InternalReflectance::from_fn(|band| inside[band]).to_measured(paints.surface)
    };
    let mut rows = Vec::with_capacity(3 * lights.len());
    for (conditions, weight) in lights {
        let base = Lab::from_reflectance(&measured(&inside), *conditions).axes();
        let mut slopes = [[0.0; BANDS]; 3];
        for band in 0..BANDS {
            let mut moved = inside;
            moved[band] += SLOPE;
            let then = Lab::from_reflectance(&measured(&moved), *conditions).axes();
            // dR/dq of a hiding film.
            let falls = -2.0 * inside[band].powi(2) / (1.0 - inside[band].powi(2)).max(1e-6);
            for axis in 0..3 {
                slopes[axis][band] = weight * falls * (then[axis] - base[axis]) / SLOPE;
            }
        }
        rows.extend(slopes);
    }
    rows
}
