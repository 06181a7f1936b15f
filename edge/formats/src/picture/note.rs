//! What a device writes beside a picture: its own name, and how it was held (Exif, CIPA DC-008).

use super::turns::Turns;

/// Letters of a device's name that are kept.
const DEVICE_LETTERS: usize = 60;

/// The note of a picture; nothing where a file has none, or a broken one.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub(super) struct Note {
    /// Which scanner or phone took it.
    pub device: Option<String>,
    /// 1 to 8, as the standard counts them; 0 where nothing is said.
    pub orientation: u32,
}

impl Note {
    /// From an Exif block without its name.
    pub fn of_exif(raw: Vec<u8>) -> Self {
        let Ok(exif) = exif::Reader::new().read_raw(raw) else { return Self::default() };
        let field = |tag: exif::Tag| exif.get_field(tag, exif::In::PRIMARY).map(|it| &it.value);
        let text = |tag: exif::Tag| match field(tag)? {
            exif::Value::Ascii(lines) => Some(String::from_utf8_lossy(lines.first()?).into_owned()),
            _ => None,
        };
        let orientation = field(exif::Tag::Orientation).and_then(|it| it.get_uint(0));
        let names = [text(exif::Tag::Make), text(exif::Tag::Model)];
        Self::of(names, orientation.unwrap_or_default())
    }

    /// From a maker and a model as they are written.
    pub fn of(names: [Option<String>; 2], orientation: u32) -> Self {
        let plain = names.map(|name| {
            let plain = study::names::tidied(name?.trim_matches('\0'));
            (!plain.is_empty()).then_some(plain)
        });
        // The maker once.
        let name = match plain {
            [Some(maker), Some(model)] if !model.starts_with(&maker) => {
                Some(format!("{maker} {model}"))
            }
            [maker, model] => model.or(maker),
        };
        let device = name.map(|name| name.chars().take(DEVICE_LETTERS).collect());
        Self { device, orientation }
    }

    /// Whether the picture is mirrored before it is turned to be shown, and how it is turned then.
    pub fn turns(&self) -> (bool, Turns) {
        match self.orientation {
            2 => (true, Turns::None),
            3 => (false, Turns::Half),
            4 => (true, Turns::Half),
            // Turned by a quarter, then mirrored: the same as mirrored, then turned the other way.
            5 => (true, Turns::ThreeQuarters),
            6 => (false, Turns::Quarter),
            7 => (true, Turns::Quarter),
            8 => (false, Turns::ThreeQuarters),
            _ => (false, Turns::None),
        }
    }
}
