//! Finished text of what a palette reaches.

use askama::Template;
use askama_web::WebTemplate;
use colour::Lab;
use workshop::{Filler, PairForecast, PaletteReach};

use super::asked::PaletteChoice;
use super::names;
use crate::draw::{Beside, Paint, ReachMap, Together};
use crate::frame::Frame;
use crate::pages::names::told_apart;
use crate::words::{counted, number};

/// Pairs that are told at each end.
const PAIRS: usize = 8;

/// What a palette reaches.
#[derive(Template, WebTemplate)]
#[template(path = "decide/reach.html")]
pub(crate) struct ReachPage {
    frame: Frame,
    choice: PaletteChoice,
    why: String,
    finding: String,
    evidence: String,
    map: String,
    gaps: Vec<GapRow>,
    families: Vec<(String, String)>,
    vivid: Vec<PairRow>,
    dull: Vec<PairRow>,
    darkest: String,
    floors: Vec<String>,
    /// A hue, the pair for it and its C*.
    clean: Vec<[String; 3]>,
    notes: Vec<String>,
    table: Vec<(String, String, String)>,
    every_pair: Vec<[String; 5]>,
    simulated: bool,
    /// Tubes whose swatches would narrow this down.
    unread: Vec<i64>,
}

struct GapRow {
    words: String,
    about: String,
    filler: String,
    href: String,
}

struct PairRow {
    names: String,
    svg: String,
    note: String,
}

impl ReachPage {
    /// Why there is nothing to show.
    pub fn nothing(frame: Frame, choice: PaletteChoice, why: String) -> Self {
        Self {
            frame,
            choice,
            why,
            finding: "What does this palette reach?".into(),
            evidence: String::new(),
            map: String::new(),
            gaps: Vec::new(),
            families: Vec::new(),
            vivid: Vec::new(),
            dull: Vec::new(),
            darkest: String::new(),
            floors: Vec::new(),
            clean: Vec::new(),
            notes: Vec::new(),
            table: Vec::new(),
            every_pair: Vec::new(),
            simulated: false,
            unread: Vec::new(),
        }
    }

    pub fn new(
        frame: Frame,
        choice: PaletteChoice,
        found: &PaletteReach,
    ) -> Result<Self, askama::Error> {
        let names = told_apart(&found.known.tubes);
        let name = choice.name().to_owned();
        let map = ReachMap {
            title: format!("The highest chroma of {name} at every hue and lightness"),
            reach: &found.reach,
            beside: found.beside.as_ref().map(|reach| (reach, choice.beside_name())),
            conditions: found.known.paints.conditions,
        };
        let pairs: Vec<PairRow> = found
            .pairs
            .iter()
            .map(|pair| pair_row(pair, found, &names))
            .collect::<Result<_, _>>()?;
        let mut vivid = pairs;
        let dull = vivid.split_off(vivid.len().saturating_sub(PAIRS.min(vivid.len() / 2)));
        vivid.truncate(PAIRS);
        let table = found.reach.cells().map(|(hue, lightness, chroma)| {
            let range =
                |from: f64, step: f64| format!("{} to {}", number(from, 0), number(from + step, 0));
            (range(hue, 10.0), range(lightness, 5.0), number(chroma, 0))
        });
        Ok(Self {
            frame,
            why: String::new(),
            finding: finding(found, &name),
            evidence: evidence(found, &choice),
            map: map.svg()?,
            gaps: found.gaps.iter().map(gap_row).collect(),
            families: found
                .families
                .iter()
                .map(|(family, share)| {
                    (family.to_string(), format!("{} %", number(100.0 * share, 0)))
                })
                .collect(),
            vivid,
            dull: dull.into_iter().rev().collect(),
            darkest: darkest(found, &names),
            floors: floors(found, &names),
            clean: clean(found, &names),
            notes: notes(found),
            table: table.collect(),
            every_pair: found.pairs.iter().map(|pair| in_numbers(pair, &names)).collect(),
            simulated: found.known.is_simulated(),
            unread: names::unread(found.own.iter().copied(), &found.known),
            choice,
        })
    }
}

/// `The workshop palette has no clean violet below L* 40.`
fn finding(found: &PaletteReach, name: &str) -> String {
    match found.gaps.first() {
        Some((gap, _)) => format!("{} has {}.", capital(name), gap.words()),
        None => format!("{} has no gap that common pigments would fill.", capital(name)),
    }
}

fn evidence(found: &PaletteReach, choice: &PaletteChoice) -> String {
    let mut said = Vec::new();
    if let Some((_, Some(filler))) = found.gaps.first() {
        said.push(format!("{}.", fills(filler)));
    }
    said.push(format!(
        "It reaches {} % of what vivid pigments in common use reach together.",
        number(100.0 * found.coverage, 0)
    ));
    if let Some(other) = found.coverage_beside {
        said.push(format!(
            "{} reaches {} %.",
            capital(choice.beside_name()),
            number(100.0 * other, 0)
        ));
    }
    said.join(" ")
}

/// `Dusk Violet, on the shelf, fills 62 % of it`
fn fills(filler: &Filler) -> String {
    let share = number(100.0 * filler.fills, 0);
    match &filler.tube {
        Ok(tube) => format!("{} from the shelf fills {share} % of it", tube.tube.name),
        Err(paint) => format!(
            "A tube of {} ({}) would fill about {share} % of it; you own none",
            paint.name, paint.common
        ),
    }
}

fn gap_row((gap, filler): &(decide::Gap, Option<Filler>)) -> GapRow {
    let about = format!(
        "C* {} on the whole, where common pigments reach {}",
        number(gap.own, 0),
        number(gap.all, 0)
    );
    let href = match filler.as_ref().map(|it| &it.tube) {
        Some(Ok(tube)) => format!("/shelf/{}", tube.id.0),
        _ => String::new(),
    };
    let filler = filler.as_ref().map_or_else(|| "no tube that is known fills it".to_owned(), fills);
    GapRow { words: capital(&gap.words()), about, filler, href }
}

fn pair_row(
    pair: &PairForecast,
    found: &PaletteReach,
    names: &[String],
) -> Result<PairRow, askama::Error> {
    let [one, other] = pair.pair.map(|place| names[place].as_str());
    let paint = |lab: Lab| Paint::predicted(lab, found.known.paints.conditions);
    let row = pair.ladder.iter().map(|lab| {
        Some(Beside {
            paint: paint(*lab),
            predicted: true,
            title: format!("{one} and {other} with white, C* {}", number(lab.chroma(), 0)),
        })
    });
    let title = format!("{one} to {other} with white 1 : 4, predicted");
    let svg = Together { title, squares: vec![(row.collect(), false)] }.svg()?;
    let loss =
        pair.forecast.loss.map(|loss| format!("{} % of the chroma lost", number(100.0 * loss, 0)));
    let grade = pair.forecast.grade().map(|grade| grade.to_string());
    let reason = pair.forecast.reason.map(|reason| reason.words([one, other]));
    let note = [grade, loss, reason];
    let note: Vec<String> = note.into_iter().flatten().collect();
    Ok(PairRow {
        names: format!("{one} and {other}"),
        svg,
        note: if note.is_empty() { "near neutral".into() } else { note.join(" · ") },
    })
}

/// Two tubes, what is expected of them, their dullest and most vivid colour by prediction and as they were read.
fn in_numbers(pair: &PairForecast, names: &[String]) -> [String; 5] {
    let range = |low: f64, high: f64| format!("{} to {}", number(low, 0), number(high, 0));
    let chromas = || pair.ladder.iter().map(|lab| lab.chroma());
    let told = range(chromas().fold(f64::INFINITY, f64::min), chromas().fold(0.0, f64::max));
    let [one, other] = pair.pair.map(|place| names[place].as_str());
    let or_dash = |text: Option<String>| text.unwrap_or_else(|| "–".into());
    [
        format!("{one} and {other}"),
        or_dash(pair.forecast.grade().map(|grade| grade.to_string())),
        or_dash(pair.forecast.loss.map(|loss| format!("{} %", number(100.0 * loss, 0)))),
        told,
        or_dash(pair.read.map(|(low, high)| range(low, high))),
    ]
}

fn darkest(found: &PaletteReach, names: &[String]) -> String {
    let Some((pair, lab)) = found.darkest else { return String::new() };
    let cast = match lab.hue() {
        None => "neutral".to_owned(),
        Some(hue) => format!("leaning {}, C* {}", decide::hue_name(hue), number(lab.chroma(), 0)),
    };
    format!(
        "The darkest that two of them make, predicted, is {} with {}: L* {}, {cast}.",
        names[pair[0]],
        names[pair[1]],
        number(lab.l, 0)
    )
}

/// `Awning Mint holds white: half and half with anything here it stays above L* 41.`
fn floors(found: &PaletteReach, names: &[String]) -> Vec<String> {
    let told = found.floors.iter().map(|(place, floor)| {
        format!(
            "{} holds white: half and half with anything here it stays at L* {} or above.",
            names[*place],
            number(*floor, 0)
        )
    });
    told.collect()
}

fn clean(found: &PaletteReach, names: &[String]) -> Vec<[String; 3]> {
    let row = |it: &workshop::CleanPair| {
        let [one, other] = it.pair.map(|place| names[place].as_str());
        [capital(it.hue), format!("{one} and {other}"), number(it.colour.chroma(), 0)]
    };
    found.clean.iter().map(row).collect()
}

fn notes(found: &PaletteReach) -> Vec<String> {
    let mut notes = Vec::new();
    let guessed: Vec<&str> = found
        .own
        .iter()
        .filter(|place| !found.known.is_read(**place))
        .map(|place| found.known.tubes[*place].tube.name.as_str())
        .collect();
    if !guessed.is_empty() {
        notes.push(format!(
            "Not read, so typical paints of their pigments stand for them: {}.",
            guessed.join(", ")
        ));
    }
    if found.left_out > 0 {
        notes.push(format!(
            "{} more are left out: a map takes 24 at once.",
            counted(found.left_out, "tube", "tubes")
        ));
    }
    notes
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    let first = letters.next().map(|it| it.to_uppercase().to_string()).unwrap_or_default();
    format!("{first}{}", letters.as_str())
}
