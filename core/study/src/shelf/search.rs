//! Finding tubes on a shelf.

use colour::Hue;

use crate::shelf::HueFamily;
use crate::{ColourIndexName, Tube, short_names};

/// In which order tubes are listed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum SortBy {
    /// By maker, then name.
    #[default]
    Maker,
    /// By name, then maker.
    Name,
    /// Around the hue circle from red, then browns, blacks, whites and metals, then the unknown.
    Hue,
}

short_names!(SortBy, "order", "maker, name or hue", Maker = "maker", Name = "name", Hue = "hue");

/// What is looked for; an empty field asks for nothing.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Query {
    /// Words that must all stand somewhere in maker, line, name, codes, batch or notes.
    pub text: String,
    /// Family of one of its pigments.
    pub family: Option<HueFamily>,
    /// One of its pigments.
    pub code: Option<ColourIndexName>,
    /// Its maker.
    pub maker: String,
    /// Only tubes that no reading is known of.
    pub untested: bool,
    /// How to list them.
    pub order: SortBy,
}

/// Places of the tubes that match, in the order asked for. `known` tells of each place whether it
/// was read, and the hue that was found, `None` near neutral.
#[must_use]
pub fn search(
    shelf: &[&Tube],
    query: &Query,
    known: impl Fn(usize) -> Option<Option<Hue>>,
) -> Vec<usize> {
    let words: Vec<String> = query.text.split_whitespace().map(str::to_lowercase).collect();
    let mut found: Vec<usize> = (0..shelf.len())
        .filter(|at| matches(shelf[*at], query, &words))
        .filter(|at| !query.untested || known(*at).is_none())
        .collect();
    let lower = |text: &str| text.to_lowercase();
    match query.order {
        SortBy::Maker => {
            found.sort_by_key(|at| (lower(&shelf[*at].maker), lower(&shelf[*at].name)))
        }
        SortBy::Name => found.sort_by_key(|at| (lower(&shelf[*at].name), lower(&shelf[*at].maker))),
        SortBy::Hue => found.sort_by(|one, other| {
            let place = |at: usize| circle(shelf[at], known(at).flatten());
            place(*one)
                .total_cmp(&place(*other))
                .then(lower(&shelf[*one].name).cmp(&lower(&shelf[*other].name)))
        }),
    }
    found
}

fn matches(tube: &Tube, query: &Query, words: &[String]) -> bool {
    let of_family = |family| tube.codes.iter().any(|code| HueFamily::of(code) == family);
    query.family.is_none_or(of_family)
        && query.code.as_ref().is_none_or(|code| tube.codes.contains(code))
        && (query.maker.is_empty() || tube.maker.eq_ignore_ascii_case(&query.maker))
        && (words.is_empty() || {
            let all = [&tube.maker, &tube.line, &tube.name, &tube.code(), &tube.batch, &tube.notes];
            let text = all.map(|part| part.to_lowercase()).join("\n");
            words.iter().all(|word| text.contains(word))
        })
}

/// Where on the list: degrees from red for a colour, beyond 360 for what has no place on the
/// circle. An unread tube stands where its first pigment's family usually lies (from memory).
fn circle(tube: &Tube, hue: Option<Hue>) -> f64 {
    let family = tube.codes.first().map(HueFamily::of);
    match (hue, family) {
        (_, Some(HueFamily::Brown)) => 400.0,
        (_, Some(HueFamily::Black)) => 500.0,
        (_, Some(HueFamily::White)) => 600.0,
        (_, Some(HueFamily::Metal)) => 700.0,
        // Crimsons and magentas lie before red and not after violet.
        (Some(hue), _) => (hue.degrees() + 30.0).rem_euclid(360.0),
        (None, Some(HueFamily::Red)) => 55.0,
        (None, Some(HueFamily::Orange)) => 80.0,
        (None, Some(HueFamily::Yellow)) => 120.0,
        (None, Some(HueFamily::Green)) => 200.0,
        (None, Some(HueFamily::Blue)) => 295.0,
        (None, Some(HueFamily::Violet)) => 345.0,
        (None, None) => 800.0,
    }
}
