//! A picture that was read, and how it is shown.

use ::picture::Raster;

use super::rows;
use super::turns::Turns;
use super::write::write;

/// A picture that was read.
#[derive(Debug, Clone)]
pub struct PictureFile {
    /// As the sensor saw it, not turned.
    pub raster: Raster,
    /// Which scanner or phone took it, as the file says.
    pub device: Option<String>,
    pub(super) turns: Turns,
}

impl PictureFile {
    /// A place of the raster in the picture as it is shown.
    #[must_use]
    pub fn shown(&self, [x, y]: [f64; 2]) -> [f64; 2] {
        let (width, height) = (self.raster.width() as f64, self.raster.height() as f64);
        match self.turns {
            Turns::None => [x, y],
            Turns::Quarter => [height - y, x],
            Turns::Half => [width - x, height - y],
            Turns::ThreeQuarters => [y, width - x],
        }
    }

    /// The other way round: a place of the picture as it is shown, in the raster.
    #[must_use]
    pub fn seen(&self, [x, y]: [f64; 2]) -> [f64; 2] {
        let (width, height) = (self.raster.width() as f64, self.raster.height() as f64);
        match self.turns {
            Turns::None => [x, y],
            Turns::Quarter => [y, height - x],
            Turns::Half => [width - x, height - y],
            Turns::ThreeQuarters => [width - y, x],
        }
    }

    /// Width and height of the picture as it is shown, pixels.
    #[must_use]
    pub fn size_shown(&self) -> [usize; 2] {
        let size = [self.raster.width(), self.raster.height()];
        match self.turns {
            Turns::None | Turns::Half => size,
            Turns::Quarter | Turns::ThreeQuarters => [size[1], size[0]],
        }
    }
}

impl PictureFile {
    /// A raster of this picture, turned as it is shown, as JPEG; empty where it cannot be written.
    #[must_use]
    pub fn as_shown(&self, raster: &Raster) -> Vec<u8> {
        let size = [raster.width(), raster.height()];
        let (rgb, [width, height]) = rows::turned(raster.rgb(), size, self.turns);
        write((width, height), &rgb, true).unwrap_or_default()
    }
}
