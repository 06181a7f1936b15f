//! A drawing as SVG: one user unit is one millimetre.

use std::fmt::Write as _;

use quick_xml::escape::escape;
use sheet::{Drawing, Mark};

/// The text of an SVG file. It holds attributes only, so that a strict content policy lets it pass.
#[must_use]
pub fn svg(drawing: &Drawing, title: &str) -> String {
    let Drawing { width_mm, height_mm, marks } = drawing;
    let mut text = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" class=\"sheet\" width=\"{width_mm}mm\" \
         height=\"{height_mm}mm\" viewBox=\"0 0 {width_mm} {height_mm}\" role=\"img\" \
         font-family=\"Archivo, Arial Narrow, sans-serif\" font-stretch=\"condensed\">\
         <title>{}</title><rect width=\"{width_mm}\" height=\"{height_mm}\" fill=\"#fff\"/>",
        escape(title)
    );
    for mark in marks {
        // Writing to a String cannot fail.
        let _ = match mark {
            Mark::Solid { area: [x, y, w, h] } => write!(
                text,
                "<path d=\"M{x:.3} {y:.3}h{w:.3}v{h:.3}h-{w:.3}z\" shape-rendering=\"crispEdges\"/>"
            ),
            Mark::Outline { area: [x, y, w, h], line_mm, dashed } => {
                let dashes = if *dashed { " stroke-dasharray=\"1 1\"" } else { "" };
                write!(
                    text,
                    "<rect x=\"{x:.3}\" y=\"{y:.3}\" width=\"{w:.3}\" height=\"{h:.3}\" \
                     fill=\"none\" stroke=\"#000\" stroke-width=\"{line_mm}\"{dashes}/>"
                )
            }
            Mark::Text { at: [x, y], size_mm, bold, text: words } => {
                let weight = if *bold { " font-weight=\"700\"" } else { "" };
                write!(
                    text,
                    "<text x=\"{x:.3}\" y=\"{y:.3}\" font-size=\"{size_mm}\"{weight}>{}</text>",
                    escape(words)
                )
            }
        };
    }
    text.push_str("</svg>\n");
    text
}
