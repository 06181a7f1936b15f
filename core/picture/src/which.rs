//! Which sheet and which card are in a picture.

use sheet::{EDGE_MM, Paper};

use crate::camera::Camera;
use crate::code::read_code;
use crate::marks::find_marks;
use crate::raster::Raster;
use crate::target::Target;

/// What the codes in a picture say; `None` where none can be read.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Codes {
    /// The sheet's.
    pub sheet: Option<String>,
    /// The card's.
    pub card: Option<String>,
}

/// Reads the codes of the sheet and of the card in a picture.
#[must_use]
pub fn codes(picture: &Raster) -> Codes {
    let found = find_marks(picture);
    if found.mirrored {
        return Codes::default();
    }
    let size = [picture.width(), picture.height()];
    let code = |paper: Paper| {
        let (width_mm, height_mm) = paper.size_mm();
        let marks = Target::usual_marks([width_mm, height_mm], EDGE_MM, paper.first_mark());
        let target = Target { width_mm, height_mm, marks, ..Target::default() };
        let camera = Camera::fit(&target, &found.marks, size)?.camera;
        read_code(picture, &target, &camera)
    };
    Codes { sheet: Paper::ALL.into_iter().find_map(code), card: code(Paper::Card) }
}
