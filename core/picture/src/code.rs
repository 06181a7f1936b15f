//! What the sheet's QR code says.

use rqrr::{Grid, SimpleGrid};
use sheet::{CODE_MODULE_MM, code_left_mm};

use crate::camera::Camera;
use crate::raster::Raster;
use crate::target::Target;

/// Sides of the codes that a sheet can carry, in modules: versions 1 to 6 (ISO/IEC 18004).
const SIDES: [usize; 6] = [21, 25, 29, 33, 37, 41];

/// Reads the code; `None` where none can be read.
#[must_use]
pub fn read_code(picture: &Raster, target: &Target, camera: &Camera) -> Option<String> {
    let top = target.marks.iter().map(|mark| mark.y_mm).min_by(f64::total_cmp)?;
    SIDES.into_iter().find_map(|modules| {
        let left = code_left_mm(target.width_mm, modules);
        let place = |x: usize, y: usize| {
            let of = |from: f64, at: usize| from + (at as f64 + 0.5) * CODE_MODULE_MM;
            camera.to_pixels([of(left, x), of(top, y)])
        };
        let light: Vec<f64> = (0..modules * modules)
            .map(|at| picture.light(place(at % modules, at / modules)))
            .collect();
        let least = light.iter().copied().fold(f64::INFINITY, f64::min);
        let most = light.iter().copied().fold(0.0, f64::max);
        let middle = (least * most).sqrt().max((least + most) / 4.0);
        let grid = SimpleGrid::from_func(modules, |x, y| light[y * modules + x] < middle);
        let (_, text) = Grid::new(grid).decode().ok()?;
        Some(text)
    })
}
