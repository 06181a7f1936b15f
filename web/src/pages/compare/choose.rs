//! Which tubes are compared: those that were read, sets that suggest themselves, and what looks alike.

use std::collections::{BTreeMap, HashMap, HashSet};

use askama::Template;
use askama_web::WebTemplate;
use study::Tube;
use study::shelf::HueFamily;
use workshop::{KnownColour, MOST_COMPARED, ShelfLookAlikes, ShelfTube, TubeId};

use super::asked::Asked;
use crate::frame::Frame;
use crate::pages::beside::address;
use crate::pages::shelf::upright;
use crate::words::number;

/// Tubes that are listed at once.
const LISTED: usize = 200;
/// Look-alikes that are listed.
const ALIKE: usize = 20;

/// The page that asks which tubes.
#[derive(Template, WebTemplate)]
#[template(path = "compare/choose.html")]
pub(crate) struct ChoosePage {
    frame: Frame,
    /// What was wrong with the last choice; empty where nothing was.
    why: String,
    asked: Asked,
    families: Vec<String>,
    sets: Vec<Set>,
    rows: Vec<Row>,
    /// How many more match; empty where all are listed.
    more: String,
    unread: usize,
    alike: Vec<AlikeRow>,
    known: usize,
    without_code: Vec<LikeRow>,
}

/// Tubes that suggest themselves.
struct Set {
    name: String,
    href: String,
}

struct Row {
    id: i64,
    name: String,
    about: String,
    upright: String,
    chosen: bool,
    near: String,
}

struct AlikeRow {
    names: String,
    about: String,
    distance: String,
    mass_tone: String,
    href: String,
}

/// A tube without a code, and what it is most like.
struct LikeRow {
    sentence: String,
    href: String,
}

impl ChoosePage {
    pub fn new(
        frame: Frame,
        asked: Asked,
        shelf: &[ShelfTube],
        (known, seen): (&HashMap<TubeId, KnownColour>, &HashSet<TubeId>),
        alike: &ShelfLookAlikes,
        why: String,
    ) -> Result<Self, askama::Error> {
        let is_told = |tube: &&ShelfTube| known.contains_key(&tube.id) || seen.contains(&tube.id);
        let read: Vec<&ShelfTube> = shelf.iter().filter(is_told).collect();
        let labels: Vec<&Tube> = read.iter().map(|shelf| &shelf.tube).collect();
        let hue = |at: usize| known.get(&read[at].id).map(KnownColour::hue);
        let found = study::shelf::search(&labels, &asked.query(), hue);
        let chosen = asked.tubes();
        let rows = found.iter().take(LISTED).map(|at| {
            let tube = read[*at];
            Row::new(tube, known.get(&tube.id), chosen.contains(&tube.id))
        });
        let rows = rows.collect::<Result<Vec<_>, _>>()?;
        let why = if why.is_empty() && asked.is_one_tube_twice() {
            "It is the same tube twice: choose another one beside it.".into()
        } else {
            why
        };
        Ok(Self {
            frame,
            why,
            families: HueFamily::ALL.iter().map(ToString::to_string).collect(),
            sets: sets(&read),
            more: match found.len().saturating_sub(LISTED) {
                0 => String::new(),
                more => format!("{more} more match: look for fewer."),
            },
            rows,
            unread: shelf.len() - read.len(),
            alike: alike.near().take(ALIKE).map(AlikeRow::of).collect(),
            known: alike.count(),
            without_code: alike.without_code.iter().map(LikeRow::of).collect(),
            asked,
        })
    }
}

/// Tubes of the same pigments, where there are two or more.
fn sets(read: &[&ShelfTube]) -> Vec<Set> {
    let mut by_code: BTreeMap<String, Vec<TubeId>> = BTreeMap::new();
    for tube in read.iter().filter(|tube| !tube.tube.codes.is_empty()) {
        by_code.entry(tube.tube.code()).or_default().push(tube.id);
    }
    let several = by_code.into_iter().filter(|(_, tubes)| tubes.len() > 1);
    several
        .map(|(code, tubes)| {
            let shown = &tubes[..tubes.len().min(MOST_COMPARED)];
            Set { name: format!("All {code} ({})", tubes.len()), href: address(shown, "") }
        })
        .collect()
}

impl Row {
    fn new(
        tube: &ShelfTube,
        known: Option<&KnownColour>,
        chosen: bool,
    ) -> Result<Self, askama::Error> {
        let label = &tube.tube;
        let by_eye = if known.is_none() { "seen, not read" } else { "" };
        let about = [label.maker.clone(), label.code(), label.batch.clone(), by_eye.into()];
        let about: Vec<String> = about.into_iter().filter(|it| !it.is_empty()).collect();
        Ok(Self {
            id: tube.id.0,
            name: label.name.clone(),
            about: about.join(" · "),
            upright: upright(&label.name, known)?,
            chosen,
            near: known.map_or_else(String::new, |_| format!("/compare?near={}", tube.id.0)),
        })
    }
}

impl AlikeRow {
    fn of(pair: &workshop::ShelfLookAlike) -> Self {
        let [one, other] = &pair.tubes;
        let about = |tube: &ShelfTube| {
            let code = tube.tube.code();
            let code = if code.is_empty() { "no code".to_owned() } else { code };
            format!("{} {code}", tube.tube.maker).trim().to_owned()
        };
        Self {
            names: format!("{} and {}", one.tube.name, other.tube.name),
            about: format!("{}; {}", about(one), about(other)),
            distance: number(pair.distance, 1),
            mass_tone: number(pair.mass_tone, 1),
            href: address(&[one.id, other.id], ""),
        }
    }
}

impl LikeRow {
    /// `Carriage Green gives no code: it behaves most like Leaf Green (PG36 PY83, ΔE00 1.2), then …`.
    fn of(like: &workshop::MostLike) -> Self {
        let name = &like.tube.tube.name;
        let others: Vec<String> = like
            .others
            .iter()
            .map(|(tube, off)| {
                let label = &tube.tube;
                format!("{} ({}, ΔE00 {})", label.name, label.code(), number(*off, 1))
            })
            .collect();
        let sentence = match others.split_first() {
            None => format!("{name} gives no code, and nothing that was read behaves like it."),
            Some((first, [])) => format!("{name} gives no code: it behaves most like {first}."),
            Some((first, rest)) => {
                format!(
                    "{name} gives no code: it behaves most like {first}, then {}.",
                    rest.join(", ")
                )
            }
        };
        let ids: Vec<TubeId> =
            [like.tube.id].into_iter().chain(like.others.iter().map(|it| it.0.id)).collect();
        let href = if ids.len() > 1 { address(&ids, "") } else { String::new() };
        Self { sentence, href }
    }
}
