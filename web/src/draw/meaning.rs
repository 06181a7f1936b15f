//! What a word means, as a small picture: patches beside each other.

use askama::Template;

/// Up to three patches, each `#rrggbb`.
#[derive(Template, Clone)]
#[template(path = "meaning.svg", escape = "html")]
pub(crate) struct Meaning {
    pub patches: Vec<String>,
}

impl Meaning {
    /// A patch of so dark a grey, 0 black to 100 white.
    pub fn grey(lightness: f64) -> String {
        let level = (255.0 * (lightness / 100.0).clamp(0.0, 1.0)).round() as u8;
        format!("#{level:02x}{level:02x}{level:02x}")
    }
}
