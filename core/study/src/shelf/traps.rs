//! What a label does not say by itself.

use std::collections::HashMap;

use crate::shelf::{HueFamily, nearest, pigment};
use crate::{ColourIndexName, Tube};

/// A trap that a label sets.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Trap {
    /// Which.
    pub kind: TrapKind,
    /// In words, with what to do.
    pub message: String,
    /// Places in the shelf of the tubes it concerns besides this one.
    pub others: Vec<usize>,
}

/// The kinds of trap.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum TrapKind {
    /// The label gives no Colour Index name.
    NoCode,
    /// The table does not know a name.
    UnknownCode,
    /// "Hue" in the name means a substitute.
    HueName,
    /// The name promises a pigment that the codes do not hold.
    Promise,
    /// The same marketing name holds other pigments elsewhere on the shelf.
    SameNameOtherPigments,
    /// The same pigments are on the shelf from another maker: worth a comparison.
    SamePigmentsOtherMaker,
    /// One Colour Index name may be several colours.
    OneNameSeveralColours,
}

/// The traps of every tube of a shelf, in its order.
#[must_use]
pub fn traps(shelf: &[&Tube]) -> Vec<Vec<Trap>> {
    let index = Index::of(shelf);
    (0..shelf.len()).map(|place| of_one(&index, place)).collect()
}

fn of_one(index: &Index<'_>, place: usize) -> Vec<Trap> {
    let tube = index.shelf[place];
    let mut list = Vec::new();
    if tube.codes.is_empty() {
        list.push(alone(
            TrapKind::NoCode,
            "no Colour Index name: what it holds can only be told from its colour and its mixtures"
                .into(),
        ));
    }
    list.extend(tube.codes.iter().filter_map(unknown_code));
    list.extend(hue_name(tube).or_else(|| promise(tube)));
    list.extend(tube.codes.iter().filter_map(several_colours));
    list.extend(same_name(index, place));
    list.extend(same_pigments(index, place));
    list
}

/// The shelf by name and by pigments, so that a large one is not compared each with each.
struct Index<'a> {
    shelf: &'a [&'a Tube],
    by_name: HashMap<String, Vec<usize>>,
    by_code: HashMap<String, Vec<usize>>,
}

impl<'a> Index<'a> {
    fn of(shelf: &'a [&'a Tube]) -> Self {
        let (mut by_name, mut by_code) = (HashMap::new(), HashMap::new());
        for (place, tube) in shelf.iter().enumerate() {
            by_name.entry(tube.name.to_lowercase()).or_insert_with(Vec::new).push(place);
            by_code.entry(tube.code()).or_insert_with(Vec::new).push(place);
        }
        Self { shelf, by_name, by_code }
    }
}

fn alone(kind: TrapKind, message: String) -> Trap {
    Trap { kind, message, others: Vec::new() }
}

fn unknown_code(code: &ColourIndexName) -> Option<Trap> {
    if pigment(code).is_some() {
        return None;
    }
    let near: Vec<&str> = nearest(code).into_iter().map(ColourIndexName::as_str).collect();
    let meant =
        if near.is_empty() { String::new() } else { format!("; near it lie {}", near.join(", ")) };
    Some(alone(
        TrapKind::UnknownCode,
        format!("{code} is not in the built-in table, look at the label again{meant}"),
    ))
}

fn hue_name(tube: &Tube) -> Option<Trap> {
    let is_hue = tube.name.split_whitespace().any(|word| word.eq_ignore_ascii_case("hue"));
    is_hue.then(|| {
        let holds =
            if tube.codes.is_empty() { "what the label does not tell".into() } else { tube.code() };
        alone(TrapKind::HueName, format!("“hue” in the name means a substitute: it holds {holds}"))
    })
}

/// Words of a name that promise a pigment, and what chemical names hold it.
const PROMISES: [(&str, &str); 8] = [
    ("cadmium", "cadmium"),
    ("cobalt", "cobalt"),
    ("manganese", "mangan"),
    ("ultramarine", "ultramarine"),
    ("titanium", "titanium"),
    ("zinc", "zinc"),
    ("quinacridone", "quinacridone"),
    ("alizarin", "alizarin"),
];

fn promise(tube: &Tube) -> Option<Trap> {
    let name = tube.name.to_lowercase();
    let known: Vec<_> = tube.codes.iter().filter_map(pigment).collect();
    if known.is_empty() || known.len() < tube.codes.len() {
        return None;
    }
    let (word, _) = PROMISES.iter().find(|(word, inside)| {
        name.split_whitespace().any(|part| part == *word)
            && !known.iter().any(|pigment| pigment.chemical.contains(inside))
    })?;
    Some(alone(
        TrapKind::Promise,
        format!("the name says {word}, and the label’s {} hold none", tube.code()),
    ))
}

fn several_colours(code: &ColourIndexName) -> Option<Trap> {
    let remark = pigment(code)?.remark;
    let several = remark.contains("forms") || remark.contains("variants");
    several.then(|| {
        alone(
            TrapKind::OneNameSeveralColours,
            format!("{code}: {remark}, so two tubes of it may be different colours"),
        )
    })
}

fn same_name(index: &Index<'_>, place: usize) -> Option<Trap> {
    let tube = index.shelf[place];
    let others: Vec<usize> = index
        .by_name
        .get(&tube.name.to_lowercase())?
        .iter()
        .copied()
        .filter(|at| index.shelf[*at].codes != tube.codes)
        .collect();
    let first = index.shelf.get(*others.first()?)?;
    let holds = if first.codes.is_empty() { "no stated pigment".into() } else { first.code() };
    Some(Trap {
        kind: TrapKind::SameNameOtherPigments,
        message: format!("{} sells the same name with {holds}", maker(first)),
        others,
    })
}

fn same_pigments(index: &Index<'_>, place: usize) -> Option<Trap> {
    let tube = index.shelf[place];
    // Whites are compared by their lightening power and not by tinting strength.
    if tube.codes.iter().all(|code| HueFamily::of(code) == HueFamily::White) {
        return None;
    }
    let others: Vec<usize> = index
        .by_code
        .get(&tube.code())?
        .iter()
        .copied()
        .filter(|at| index.shelf[*at].maker != tube.maker)
        .collect();
    let mut makers: Vec<&str> = others.iter().map(|at| maker(index.shelf[*at])).collect();
    makers.sort_unstable();
    makers.dedup();
    (!others.is_empty()).then(|| Trap {
        kind: TrapKind::SamePigmentsOtherMaker,
        message: format!("the same {} by {}", tube.code(), makers.join(" and ")),
        others,
    })
}

fn maker(tube: &Tube) -> &str {
    if tube.maker.is_empty() { "another maker" } else { &tube.maker }
}
