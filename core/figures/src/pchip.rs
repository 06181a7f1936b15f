//! Monotone piecewise cubic interpolation (PCHIP).

/// A curve through given points that never overshoots them: Fritsch and Butland (1984), with the
/// three-point end slopes of Moler, as the reference library (scipy) has it.
#[derive(Debug, Clone)]
pub struct Pchip {
    x: Vec<f64>,
    y: Vec<f64>,
    slope: Vec<f64>,
}

impl Pchip {
    /// From two points or more; `None` where `x` does not strictly rise or a number is not finite.
    #[must_use]
    pub fn through(x: Vec<f64>, y: Vec<f64>) -> Option<Self> {
        let rises = x.windows(2).all(|pair| pair[0] < pair[1]);
        let finite = x.iter().chain(&y).all(|number| number.is_finite());
        if x.len() < 2 || x.len() != y.len() || !rises || !finite {
            return None;
        }
        let step: Vec<f64> = x.windows(2).map(|w| w[1] - w[0]).collect();
        let secant: Vec<f64> =
            y.windows(2).zip(&step).map(|(w, step)| (w[1] - w[0]) / step).collect();
        let last = x.len() - 1;
        let slope = (0..=last)
            .map(|at| match at {
                _ if last == 1 => secant[0],
                0 => end_slope(step[0], step[1], secant[0], secant[1]),
                _ if at == last => {
                    end_slope(step[last - 1], step[last - 2], secant[last - 1], secant[last - 2])
                }
                _ => inner_slope(step[at - 1], step[at], secant[at - 1], secant[at]),
            })
            .collect();
        Some(Self { x, y, slope })
    }

    /// The value at `x`, which is held within the points.
    #[must_use]
    pub fn at(&self, x: f64) -> f64 {
        let last = self.x.len() - 1;
        let x = x.clamp(self.x[0], self.x[last]);
        let left = self.x.partition_point(|known| *known <= x).clamp(1, last) - 1;
        self.within(left, (x - self.x[left]) / (self.x[left + 1] - self.x[left]))
    }

    /// Where the curve, whose values must fall all along, has the value `y`; `None` outside it.
    #[must_use]
    pub fn solve_falling(&self, y: f64) -> Option<f64> {
        let last = self.x.len() - 1;
        if y > self.y[0] || y < self.y[last] {
            return None;
        }
        let left = self.y.partition_point(|known| *known >= y).clamp(1, last) - 1;
        let (mut low, mut high) = (0.0, 1.0);
        for _ in 0..48 {
            let middle = f64::midpoint(low, high);
            if self.within(left, middle) > y { low = middle } else { high = middle }
        }
        Some(self.x[left] + f64::midpoint(low, high) * (self.x[left + 1] - self.x[left]))
    }

    /// The value at the share `t` of the way from point `left` to the next (Hermite).
    fn within(&self, left: usize, t: f64) -> f64 {
        let step = self.x[left + 1] - self.x[left];
        let (t2, t3) = (t * t, t * t * t);
        (2.0 * t3 - 3.0 * t2 + 1.0) * self.y[left]
            + (t3 - 2.0 * t2 + t) * step * self.slope[left]
            + (3.0 * t2 - 2.0 * t3) * self.y[left + 1]
            + (t3 - t2) * step * self.slope[left + 1]
    }
}

fn inner_slope(before: f64, after: f64, left: f64, right: f64) -> f64 {
    if left * right <= 0.0 {
        return 0.0;
    }
    let (w1, w2) = (2.0 * after + before, after + 2.0 * before);
    (w1 + w2) / (w1 / left + w2 / right)
}

fn end_slope(near: f64, far: f64, near_secant: f64, far_secant: f64) -> f64 {
    let slope = ((2.0 * near + far) * near_secant - near * far_secant) / (near + far);
    if slope * near_secant <= 0.0 {
        0.0
    } else if near_secant * far_secant <= 0.0 && slope.abs() > 3.0 * near_secant.abs() {
        3.0 * near_secant
    } else {
        slope
    }
}

#[cfg(test)]
mod tests {
    use super::Pchip;

    /// scipy 1.x, `PchipInterpolator([0, 1, 3, 4, 7], [10, 8, 7.5, 3, 2.9])`, made by
    /// `tests/published/make_reference.py`.
    #[test]
    fn agrees_with_the_reference_library() {
        let curve = Pchip::through(vec![0.0, 1.0, 3.0, 4.0, 7.0], vec![10.0, 8.0, 7.5, 3.0, 2.9])
            .expect("five points");
        let reference: Vec<(f64, f64)> = include_str!("../tests/published/pchip.csv")
            .lines()
            .skip(1)
            .filter_map(|line| line.split_once(','))
            .map(|(x, y)| (x.parse().expect("x"), y.parse().expect("y")))
            .collect();
        assert!(reference.len() > 10);
        for (x, y) in reference {
            assert!((curve.at(x) - y).abs() < 1e-9, "x {x}: {} for {y}", curve.at(x));
            if let Some(back) = curve.solve_falling(y) {
                assert!((curve.at(back) - y).abs() < 1e-9);
            }
        }
        assert_eq!(curve.solve_falling(11.0), None);
    }

    /// Points that an error has put out of order, or on one another, have no curve.
    #[test]
    fn needs_rising_points() {
        for x in [vec![0.0, 0.0, 1.0], vec![0.0, 2.0, 1.0], vec![0.0, f64::NAN, 1.0], vec![0.0]] {
            let y = (0..x.len()).map(|at| -(at as f64)).collect();
            assert!(Pchip::through(x.clone(), y).is_none(), "{x:?}");
        }
    }
}
