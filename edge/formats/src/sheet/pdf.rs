//! Drawings as one PDF, a page each: 1 mm is 72/25.4 points.

use krilla::Document;
use krilla::geom::{PathBuilder, Point, Rect};
use krilla::num::NormalizedF32;
use krilla::page::PageSettings;
use krilla::paint::{Fill, Stroke, StrokeDash};
use krilla::surface::Surface;
use krilla::text::{Font, TextDirection};
use sheet::{Drawing, Mark};
use thiserror::Error;

const REGULAR: &[u8] = include_bytes!("../../fonts/archivo-sheet-regular.ttf");
const BOLD: &[u8] = include_bytes!("../../fonts/archivo-sheet-bold.ttf");

/// Why there is no PDF.
#[derive(Debug, Error)]
#[error("the sheets could not be written as PDF: {0}")]
pub struct PdfError(String);

/// The bytes of a PDF file.
///
/// # Errors
/// Where a page has no size, or the writer refuses.
pub fn pdf(drawings: &[Drawing]) -> Result<Vec<u8>, PdfError> {
    let face = |bytes: &'static [u8]| {
        Font::new(bytes.to_vec().into(), 0).ok_or_else(|| PdfError("a font is damaged".into()))
    };
    let faces = Faces { regular: face(REGULAR)?, bold: face(BOLD)? };
    let mut document = Document::new();
    for drawing in drawings {
        let size = PageSettings::from_wh(points(drawing.width_mm), points(drawing.height_mm))
            .ok_or_else(|| PdfError("a page has no size".into()))?;
        let mut page = document.start_page_with(size);
        let mut surface = page.surface();
        for mark in &drawing.marks {
            draw(&mut surface, mark, &faces);
        }
        surface.finish();
        page.finish();
    }
    document.finish().map_err(|error| PdfError(format!("{error:?}")))
}

struct Faces {
    regular: Font,
    bold: Font,
}

fn draw(surface: &mut Surface<'_>, mark: &Mark, faces: &Faces) {
    match mark {
        Mark::Solid { area } => {
            surface.set_fill(Some(Fill::default()));
            surface.set_stroke(None);
            rectangle(surface, *area);
        }
        Mark::Outline { area, line_mm, dashed } => {
            surface.set_fill(None);
            let dash = dashed.then(|| StrokeDash { array: vec![points(1.0); 2], offset: 0.0 });
            surface.set_stroke(Some(Stroke {
                width: points(*line_mm),
                opacity: NormalizedF32::ONE,
                dash,
                ..Stroke::default()
            }));
            rectangle(surface, *area);
        }
        Mark::Text { at: [x, y], size_mm, bold, text } => {
            surface.set_fill(Some(Fill::default()));
            surface.set_stroke(None);
            let font = if *bold { &faces.bold } else { &faces.regular };
            let at = Point::from_xy(points(*x), points(*y));
            let size = points(*size_mm);
            surface.draw_text(at, font.clone(), size, text, false, TextDirection::LeftToRight);
        }
    }
}

fn rectangle(surface: &mut Surface<'_>, [x, y, w, h]: [f64; 4]) {
    let Some(rect) = Rect::from_xywh(points(x), points(y), points(w), points(h)) else { return };
    let mut path = PathBuilder::new();
    path.push_rect(rect);
    if let Some(path) = path.finish() {
        surface.draw_path(&path);
    }
}

fn points(mm: f64) -> f32 {
    (mm * 72.0 / 25.4) as f32
}
