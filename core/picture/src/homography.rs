//! From one plane to another.

use nalgebra::{Matrix3, SMatrix, SymmetricEigen, Vector3};

/// Where a place goes.
pub(crate) fn project(homography: &Matrix3<f64>, [x, y]: [f64; 2]) -> [f64; 2] {
    let to = homography * Vector3::new(x, y, 1.0);
    [to.x / to.z, to.y / to.z]
}

/// The homography of least algebraic error from one set of points to another, both brought about their middle
/// first (Hartley 1997, doi 10.1109/34.601246).
pub(crate) fn homography(points: &[([f64; 2], [f64; 2])]) -> Option<Matrix3<f64>> {
    let of = |side: usize| points.iter().map(move |pair| if side == 0 { pair.0 } else { pair.1 });
    let (from, to) = (about_middle(of(0))?, about_middle(of(1))?);
    let mut normal = SMatrix::<f64, 9, 9>::zeros();
    for (one, other) in points {
        let ([x, y], [u, v]) = (project(&from, *one), project(&to, *other));
        for row in [
            [-x, -y, -1.0, 0.0, 0.0, 0.0, u * x, u * y, u],
            [0.0, 0.0, 0.0, -x, -y, -1.0, v * x, v * y, v],
        ] {
            let row = SMatrix::<f64, 1, 9>::from_row_slice(&row);
            normal += row.transpose() * row;
        }
    }
    let eigen = SymmetricEigen::new(normal);
    let least = eigen.eigenvalues.imin();
    let values: Vec<f64> = eigen.eigenvectors.column(least).iter().copied().collect();
    let between = Matrix3::from_row_slice(&values);
    let whole = to.try_inverse()? * between * from;
    let last = whole[(2, 2)];
    (last.abs() > 1e-12).then(|| whole / last)
}

/// Brings points about their middle, at a mean distance of √2.
fn about_middle(points: impl Iterator<Item = [f64; 2]> + Clone) -> Option<Matrix3<f64>> {
    let count = points.clone().count() as f64;
    let middle = [0, 1].map(|axis| points.clone().map(|it| it[axis]).sum::<f64>() / count);
    let far = points.map(|[x, y]| (x - middle[0]).hypot(y - middle[1])).sum::<f64>() / count;
    let scale = 2.0_f64.sqrt() / far;
    scale.is_finite().then(|| {
        Matrix3::new(scale, 0.0, -scale * middle[0], 0.0, scale, -scale * middle[1], 0.0, 0.0, 1.0)
    })
}

/// From a square of a side to four corners, clockwise from the top left; `None` where they are no quadrangle.
pub(crate) fn square_to(
    corners: [[f64; 2]; 4],
    side: f64,
) -> Option<impl Fn([f64; 2]) -> [f64; 2]> {
    let square = [[0.0, 0.0], [side, 0.0], [side, side], [0.0, side]];
    let pairs: Vec<_> = square.into_iter().zip(corners).collect();
    let homography = homography(&pairs)?;
    Some(move |place: [f64; 2]| project(&homography, place))
}
