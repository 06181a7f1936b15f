//! Which sheet is in a picture.

use sheet::{EDGE_MM, Paper};

use crate::camera::Camera;
use crate::code::read_code;
use crate::marks::find_marks;
use crate::raster::Raster;
use crate::target::Target;

/// What the code of the sheet in a picture says; `None` where none can be read.
#[must_use]
pub fn which_sheet(picture: &Raster) -> Option<String> {
    let found = find_marks(picture);
    if found.mirrored {
        return None;
    }
    let size = [picture.width(), picture.height()];
    Paper::ALL.into_iter().find_map(|paper| {
        let (width_mm, height_mm) = paper.size_mm();
        let marks = Target::usual_marks([width_mm, height_mm], EDGE_MM);
        let target = Target { width_mm, height_mm, marks, ..Target::default() };
        let camera = Camera::fit(&target, &found.marks, size)?.camera;
        read_code(picture, &target, &camera)
    })
}
