//! A drawing as pixels, as a printer would put it down: for the simulated scanner and phone.

use sheet::{Drawing, Mark};
use tiny_skia::{
    Color, FillRule, LineCap, Paint, Path, PathBuilder, Pixmap, Rect, Stroke, StrokeDash, Transform,
};
use ttf_parser::{Face, GlyphId, OutlineBuilder};

use super::pdf::{BOLD, REGULAR};

/// A dashed line goes on and off for so long, mm.
const DASH_MM: f32 = 1.0;

/// Width, height and grey values of a page at so many dots to an inch: 255 is bare paper, 0 is ink. `None` where the
/// page has no size, or no memory holds it.
#[must_use]
pub fn raster(drawing: &Drawing, dots_per_inch: f64) -> Option<(usize, usize, Vec<u8>)> {
    let scale = (dots_per_inch / 25.4) as f32;
    let pixels = |mm: f64| (mm as f32 * scale).round().max(0.0) as u32;
    let mut page = Pixmap::new(pixels(drawing.width_mm), pixels(drawing.height_mm))?;
    page.fill(Color::WHITE);
    let to_pixels = Transform::from_scale(scale, scale);
    let fonts = [REGULAR, BOLD].map(|bytes| Face::parse(bytes, 0).ok());
    let ink = Paint::default();
    for mark in &drawing.marks {
        match mark {
            Mark::Solid { area } => {
                let path = rectangle(*area).map(PathBuilder::from_rect);
                fill(&mut page, path, &ink, to_pixels);
            }
            Mark::Outline { area, line_mm, dashed } => {
                let Some(path) = rectangle(*area).map(PathBuilder::from_rect) else { continue };
                let stroke = Stroke {
                    width: *line_mm as f32,
                    line_cap: LineCap::Butt,
                    dash: dashed.then(|| StrokeDash::new(vec![DASH_MM; 2], 0.0)).flatten(),
                    ..Stroke::default()
                };
                page.stroke_path(&path, &ink, &stroke, to_pixels, None);
            }
            Mark::Text { at, size_mm, bold, text } => {
                let Some(face) = &fonts[usize::from(*bold)] else { continue };
                fill(&mut page, letters(face, *at, *size_mm as f32, text), &ink, to_pixels);
            }
        }
    }
    let grey = page.pixels().iter().map(|pixel| pixel.red()).collect();
    Some((page.width() as usize, page.height() as usize, grey))
}

fn rectangle([x, y, width, height]: [f64; 4]) -> Option<Rect> {
    Rect::from_xywh(x as f32, y as f32, width as f32, height as f32)
}

fn fill(page: &mut Pixmap, path: Option<Path>, ink: &Paint<'_>, to_pixels: Transform) {
    if let Some(path) = path {
        page.fill_path(&path, ink, FillRule::Winding, to_pixels, None);
    }
}

/// A line of text, its base line beginning at a place.
fn letters(face: &Face<'_>, [x, y]: [f64; 2], size_mm: f32, text: &str) -> Option<Path> {
    let scale = size_mm / f32::from(face.units_per_em());
    let mut line = Outlines { path: PathBuilder::new(), x: x as f32, y: y as f32, scale };
    for letter in text.chars() {
        let glyph = face.glyph_index(letter).unwrap_or(GlyphId(0));
        face.outline_glyph(glyph, &mut line);
        line.x += f32::from(face.glyph_hor_advance(glyph).unwrap_or_default()) * scale;
    }
    line.path.finish()
}

/// Font units, upward, to mm, downward.
struct Outlines {
    path: PathBuilder,
    x: f32,
    y: f32,
    scale: f32,
}

impl Outlines {
    fn at(&self, x: f32, y: f32) -> (f32, f32) {
        (self.x + x * self.scale, self.y - y * self.scale)
    }
}

impl OutlineBuilder for Outlines {
    fn move_to(&mut self, x: f32, y: f32) {
        let (x, y) = self.at(x, y);
        self.path.move_to(x, y);
    }

    fn line_to(&mut self, x: f32, y: f32) {
        let (x, y) = self.at(x, y);
        self.path.line_to(x, y);
    }

    fn quad_to(&mut self, x1: f32, y1: f32, x: f32, y: f32) {
        let ((x1, y1), (x, y)) = (self.at(x1, y1), self.at(x, y));
        self.path.quad_to(x1, y1, x, y);
    }

    fn curve_to(&mut self, x1: f32, y1: f32, x2: f32, y2: f32, x: f32, y: f32) {
        let ((x1, y1), (x2, y2), (x, y)) = (self.at(x1, y1), self.at(x2, y2), self.at(x, y));
        self.path.cubic_to(x1, y1, x2, y2, x, y);
    }

    fn close(&mut self) {
        self.path.close();
    }
}
