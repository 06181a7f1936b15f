//! A table of Colour Index generic names.
//!
//! **Source: from memory.** Generic names and usual chemical names are facts of the Colour Index
//! (Society of Dyers and Colourists, and AATCC); this selection of artists' pigments and its remarks
//! were written down from memory and copied from no list. The label and the safety data sheet of
//! the tube stand above it.

use std::sync::LazyLock;

use crate::{ColourIndexName, short_names};

/// The family a pigment is filed under in the Colour Index, told by its letters, or by its usual
/// colour where the two differ.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum HueFamily {
    /// Yellows.
    Yellow,
    /// Oranges.
    Orange,
    /// Reds, magentas among them.
    Red,
    /// Violets.
    Violet,
    /// Blues.
    Blue,
    /// Greens.
    Green,
    /// Browns and earths.
    Brown,
    /// Blacks and greys.
    Black,
    /// Whites and extenders.
    White,
    /// Metal powders.
    Metal,
}

short_names!(
    HueFamily,
    "hue family",
    "yellow, orange, red, violet, blue, green, brown, black, white or metal",
    Yellow = "yellow",
    Orange = "orange",
    Red = "red",
    Violet = "violet",
    Blue = "blue",
    Green = "green",
    Brown = "brown",
    Black = "black",
    White = "white",
    Metal = "metal"
);

/// What in a pigment can hurt.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum CautionGroup {
    /// Cadmium compounds.
    Cadmium,
    /// Cobalt compounds.
    Cobalt,
    /// Nickel compounds.
    Nickel,
    /// Manganese compounds.
    Manganese,
    /// Chromium compounds.
    Chromium,
    /// Lead compounds.
    Lead,
    /// Zinc compounds: harmful to water life.
    Zinc,
    /// Mercury compounds.
    Mercury,
    /// Arsenic compounds.
    Arsenic,
}

short_names!(
    CautionGroup,
    "caution group",
    "cadmium, cobalt, nickel, manganese, chromium, lead, zinc, mercury or arsenic",
    Cadmium = "cadmium",
    Cobalt = "cobalt",
    Nickel = "nickel",
    Manganese = "manganese",
    Chromium = "chromium",
    Lead = "lead",
    Zinc = "zinc",
    Mercury = "mercury",
    Arsenic = "arsenic"
);

/// One entry of the table.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Pigment {
    /// Colour Index generic name.
    pub name: ColourIndexName,
    /// Usual chemical name.
    pub chemical: &'static str,
    /// Hue family.
    pub family: HueFamily,
    /// What in it can hurt; empty where the table knows of nothing, which is no word of safety.
    pub cautions: Vec<CautionGroup>,
    /// What else to know; may be empty.
    pub remark: &'static str,
}

static TABLE: LazyLock<Vec<Pigment>> = LazyLock::new(|| {
    include_str!("data/colour_index.csv").lines().skip(1).filter_map(entry).collect()
});

/// One line of the table; the tests see to it that every line is one.
fn entry(line: &'static str) -> Option<Pigment> {
    let [name, chemical, family, cautions, remark] =
        *line.splitn(5, ',').collect::<Vec<_>>().as_slice()
    else {
        return None;
    };
    let cautions: Result<Vec<CautionGroup>, _> =
        cautions.split_whitespace().map(str::parse).collect();
    Some(Pigment {
        name: name.parse().ok()?,
        chemical,
        family: family.parse().ok()?,
        cautions: cautions.ok()?,
        remark,
    })
}

/// The whole table.
#[must_use]
pub fn pigments() -> &'static [Pigment] {
    &TABLE
}

/// The entry of a name, `None` where the table does not know it.
#[must_use]
pub fn pigment(name: &ColourIndexName) -> Option<&'static Pigment> {
    TABLE.iter().find(|pigment| pigment.name == *name)
}

impl HueFamily {
    /// The family that a name's letters tell, known or not.
    #[must_use]
    pub fn of(name: &ColourIndexName) -> Self {
        if let Some(known) = pigment(name) {
            return known.family;
        }
        let letters: String =
            name.as_str().chars().skip(1).take_while(|c| c.is_alphabetic()).collect();
        match letters.as_str() {
            "Y" => Self::Yellow,
            "O" => Self::Orange,
            "R" => Self::Red,
            "V" => Self::Violet,
            "B" => Self::Blue,
            "G" => Self::Green,
            "Br" => Self::Brown,
            "Bk" => Self::Black,
            "W" => Self::White,
            _ => Self::Metal,
        }
    }
}

/// Up to three names of the table that a slip of the pen may have meant: of the same letters, and
/// nearest by changed digits, swapped ones first, then by number.
#[must_use]
pub fn nearest(name: &ColourIndexName) -> Vec<&'static ColourIndexName> {
    let (letters, number) = split(name.as_str());
    let mut near: Vec<_> = TABLE
        .iter()
        .map(|pigment| &pigment.name)
        .filter(|known| split(known.as_str()).0 == letters)
        .map(|known| {
            let digits = split(known.as_str()).1;
            let apart = digits.parse::<f64>().unwrap_or(0.0) - number.parse::<f64>().unwrap_or(0.0);
            let changed = strsim::damerau_levenshtein(digits, number);
            ((changed, sorted(digits) != sorted(number)), apart.abs(), known)
        })
        .collect();
    near.sort_by(|one, other| one.0.cmp(&other.0).then(one.1.total_cmp(&other.1)));
    near.into_iter().take(3).map(|(_, _, known)| known).collect()
}

fn sorted(digits: &str) -> Vec<char> {
    let mut digits: Vec<char> = digits.chars().collect();
    digits.sort_unstable();
    digits
}

/// Letters and number, without the variant.
fn split(name: &str) -> (&str, &str) {
    let at = name.find(|c: char| c.is_ascii_digit()).unwrap_or(name.len());
    let (letters, number) = name.split_at(at);
    (letters, number.split(':').next().unwrap_or(number))
}
