//! Drawings as one PDF, a page each: 1 mm is 72/25.4 points.
//!
//! The two fonts are small already, so they go in whole, and a letter is written as its glyph's number.

use std::collections::BTreeMap;

use miniz_oxide::deflate::compress_to_vec_zlib;
use pdf_writer::types::{CidFontType, FontFlags, SystemInfo, UnicodeCmap};
use pdf_writer::{Content, Filter, Finish as _, Name, Pdf, Rect, Ref, Str};
use sheet::{Drawing, Mark};
use thiserror::Error;
use ttf_parser::{Face, GlyphId};

pub(super) const REGULAR: &[u8] = include_bytes!("../../fonts/archivo-sheet-regular.ttf");
pub(super) const BOLD: &[u8] = include_bytes!("../../fonts/archivo-sheet-bold.ttf");

/// How hard streams are compressed, 0 to 10.
const COMPRESSION: u8 = 6;
/// PDF writes widths and heights of letters in thousandths of their size.
const EM: f32 = 1000.0;

/// Why there is no PDF.
#[derive(Debug, Error)]
#[error("the sheets could not be written as PDF: {0}")]
pub struct PdfError(&'static str);

/// The bytes of a PDF file.
///
/// # Errors
/// Where a page has no size.
pub fn pdf(drawings: &[Drawing]) -> Result<Vec<u8>, PdfError> {
    let mut file = Pdf::new();
    let mut refs = Refs(1);
    let (catalog, tree) = (refs.next(), refs.next());
    let fonts = [
        Font::new(Name(b"Regular"), REGULAR, refs.next())?,
        Font::new(Name(b"Bold"), BOLD, refs.next())?,
    ];
    let mut pages = Vec::with_capacity(drawings.len());
    for drawing in drawings {
        if drawing.width_mm <= 0.0 || drawing.height_mm <= 0.0 {
            return Err(PdfError("a page has no size"));
        }
        let (page, content) = (refs.next(), refs.next());
        let drawn = compress_to_vec_zlib(&content_of(drawing, &fonts), COMPRESSION);
        file.stream(content, &drawn).filter(Filter::FlateDecode);
        let size = Rect::new(0.0, 0.0, points(drawing.width_mm), points(drawing.height_mm));
        let mut writer = file.page(page);
        writer.parent(tree).media_box(size).contents(content);
        let mut resources = writer.resources();
        let mut named = resources.fonts();
        for font in &fonts {
            named.pair(font.name, font.id);
        }
        named.finish();
        resources.finish();
        writer.finish();
        pages.push(page);
    }
    for font in &fonts {
        font.write(&mut file, &mut refs);
    }
    let count = i32::try_from(pages.len()).unwrap_or(i32::MAX);
    file.pages(tree).kids(pages).count(count);
    file.catalog(catalog).pages(tree);
    Ok(file.finish())
}

/// Numbers of the file's objects.
struct Refs(i32);

impl Refs {
    fn next(&mut self) -> Ref {
        let next = Ref::new(self.0);
        self.0 += 1;
        next
    }
}

struct Font {
    name: Name<'static>,
    bytes: &'static [u8],
    face: Face<'static>,
    id: Ref,
}

impl Font {
    fn new(name: Name<'static>, bytes: &'static [u8], id: Ref) -> Result<Self, PdfError> {
        let face = Face::parse(bytes, 0).map_err(|_| PdfError("a font is damaged"))?;
        Ok(Self { name, bytes, face, id })
    }

    /// Glyph numbers, two bytes each; a letter that the font does not have is its empty box.
    fn glyphs(&self, text: &str) -> Vec<u8> {
        let glyph = |letter| self.face.glyph_index(letter).unwrap_or_default().0;
        text.chars().flat_map(|letter| glyph(letter).to_be_bytes()).collect()
    }

    fn scaled(&self, units: i16) -> f32 {
        f32::from(units) * EM / f32::from(self.face.units_per_em())
    }

    fn write(&self, file: &mut Pdf, refs: &mut Refs) {
        let (cid, descriptor, data, cmap) = (refs.next(), refs.next(), refs.next(), refs.next());
        file.type0_font(self.id)
            .base_font(self.name)
            .encoding_predefined(Name(b"Identity-H"))
            .descendant_font(cid)
            .to_unicode(cmap);
        let widths = (0..self.face.number_of_glyphs()).map(|glyph| {
            let advance = self.face.glyph_hor_advance(GlyphId(glyph)).unwrap_or_default();
            self.scaled(i16::try_from(advance).unwrap_or(i16::MAX))
        });
        let mut writer = file.cid_font(cid);
        writer.subtype(CidFontType::Type2).base_font(self.name).font_descriptor(descriptor);
        writer.system_info(SystemInfo {
            registry: Str(b"Adobe"),
            ordering: Str(b"Identity"),
            supplement: 0,
        });
        writer.default_width(0.0).cid_to_gid_map_predefined(Name(b"Identity"));
        writer.widths().consecutive(0, widths);
        writer.finish();
        let bounds = self.face.global_bounding_box();
        file.font_descriptor(descriptor)
            .name(self.name)
            .flags(FontFlags::NON_SYMBOLIC)
            .bbox(Rect::new(
                self.scaled(bounds.x_min),
                self.scaled(bounds.y_min),
                self.scaled(bounds.x_max),
                self.scaled(bounds.y_max),
            ))
            .italic_angle(0.0)
            .ascent(self.scaled(self.face.ascender()))
            .descent(self.scaled(self.face.descender()))
            .cap_height(self.scaled(self.face.capital_height().unwrap_or(self.face.ascender())))
            .stem_v(80.0)
            .font_file2(data);
        let packed = compress_to_vec_zlib(self.bytes, COMPRESSION);
        let length = i32::try_from(self.bytes.len()).unwrap_or(i32::MAX);
        let mut stream = file.stream(data, &packed);
        stream.filter(Filter::FlateDecode);
        stream.pair(Name(b"Length1"), length);
        stream.finish();
        file.cmap(cmap, &self.letters().finish());
    }

    /// Which letter each glyph stands for, so that the text can be searched and copied.
    fn letters(&self) -> UnicodeCmap {
        let system = SystemInfo { registry: Str(b"Adobe"), ordering: Str(b"UCS"), supplement: 0 };
        let mut letters: BTreeMap<u16, char> = BTreeMap::new();
        for table in self.face.tables().cmap.iter().flat_map(|cmap| cmap.subtables) {
            table.codepoints(|code| {
                if let (Some(letter), Some(glyph)) = (char::from_u32(code), table.glyph_index(code))
                {
                    letters.entry(glyph.0).or_insert(letter);
                }
            });
        }
        let mut map = UnicodeCmap::new(Name(b"Letters"), system);
        for (glyph, letter) in letters {
            map.pair(glyph, letter);
        }
        map
    }
}

/// The marks of a page; PDF counts from the bottom left.
fn content_of(drawing: &Drawing, [regular, bold]: &[Font; 2]) -> Vec<u8> {
    let height = drawing.height_mm;
    let mut content = Content::new();
    for mark in &drawing.marks {
        match mark {
            Mark::Solid { area } => {
                rectangle(&mut content, *area, height).fill_nonzero();
            }
            Mark::Outline { area, line_mm, dashed } => {
                let dash = if *dashed { vec![points(1.0); 2] } else { Vec::new() };
                content.set_line_width(points(*line_mm)).set_dash_pattern(dash, 0.0);
                rectangle(&mut content, *area, height).stroke();
            }
            Mark::Text { at: [x, y], size_mm, bold: is_bold, text } => {
                let font = if *is_bold { bold } else { regular };
                content
                    .begin_text()
                    .set_font(font.name, points(*size_mm))
                    .next_line(points(*x), points(height - y))
                    .show(Str(&font.glyphs(text)))
                    .end_text();
            }
        }
    }
    content.finish().to_vec()
}

fn rectangle(content: &mut Content, [x, y, w, h]: [f64; 4], height: f64) -> &mut Content {
    content.rect(points(x), points(height - y - h), points(w), points(h))
}

fn points(mm: f64) -> f32 {
    (mm * 72.0 / 25.4) as f32
}
