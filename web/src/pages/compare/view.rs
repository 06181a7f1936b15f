//! Finished text of a comparison.

use std::sync::Arc;

use askama::Template;
use askama_web::WebTemplate;
use compare::{Origin, UNSEEN};
use formats::comparison::Compared;
use workshop::{Comparison, TubeId, WithPartner};

use super::asked::Asked;
use super::racks::{self, TableRow};
use super::sentences::{self, PairRow};
use super::worth::{Worths, worths};
use crate::draw::{Beside, Paint, Together};
use crate::frame::Frame;
use crate::pages::beside::{address, fields};
use crate::pages::names::told_apart;
use crate::words::{counted, number, parts};

/// Tubes beside each other.
#[derive(Template, WebTemplate)]
#[template(path = "compare/page.html")]
pub(crate) struct ComparePage {
    frame: Frame,
    title: String,
    about: String,
    finding: String,
    evidence: Vec<String>,
    rack: String,
    by_parts: bool,
    by_depth_href: String,
    by_parts_href: String,
    /// Why there is no rack at equal depth; empty where there is one.
    no_depth: &'static str,
    paths: Option<[String; 2]>,
    legend: Arc<[(char, &'static str, String)]>,
    table: Vec<TableRow>,
    names: Vec<String>,
    partners: Vec<PartnerText>,
    worths: Option<Worths>,
    pairs: Vec<PairRow>,
    leans: Vec<String>,
    drifts: Vec<String>,
    by_eye: Vec<String>,
    /// Every other tube as the standard.
    standards: Vec<(String, String)>,
    read_in: Vec<ReadIn>,
    /// Tubes whose missing swatches would help; empty where none would.
    missing: Vec<i64>,
    fields: String,
}

/// A partner with all tubes.
struct PartnerText {
    name: String,
    svg: String,
    /// `ΔE 1.9, visible`.
    note: String,
}

/// Where a tube was read.
struct ReadIn {
    name: String,
    trials: Vec<(String, String)>,
}

impl ComparePage {
    pub fn new(
        frame: Frame,
        asked: &Asked,
        comparison: &Comparison,
        red_is_warm: bool,
    ) -> Result<Self, askama::Error> {
        let ids: Vec<TubeId> = comparison.tubes.iter().map(|it| it.tube.id).collect();
        let names = told_apart(comparison.tubes.iter().map(|it| &it.tube));
        let title = match names.as_slice() {
            [first, rest @ ..] if rest.len() > 3 => format!("{first} and {} others", rest.len()),
            _ => names.join(", "),
        };
        let no_depth = if comparison.depths.is_empty() {
            "These tubes share no depth of tint, so the steps stand by parts of white."
        } else {
            ""
        };
        let by_parts = asked.by_parts() || !no_depth.is_empty();
        let racks = racks::racks(comparison, &title, by_parts);
        let partner = |it: &WithPartner| PartnerText::new(it, comparison, &names);
        let partners = comparison.partners.iter().map(partner).collect::<Result<_, _>>()?;
        let others = ids.iter().enumerate().skip(1).map(|(at, id)| {
            let rest = ids.iter().filter(|it| *it != id);
            let turned: Vec<TubeId> = [*id].iter().chain(rest).copied().collect();
            (names[at].clone(), address(&turned, &rack_word(by_parts)))
        });
        let read_in = comparison.tubes.iter().zip(&names).map(|(tube, name)| ReadIn {
            name: name.clone(),
            trials: tube
                .read_in
                .iter()
                .map(|(id, trial, count)| {
                    let read = counted(*count, "reading", "readings");
                    (format!("/trials/{}/readings", id.0), format!("{trial}, {read}"))
                })
                .collect(),
        });
        let missing = sentences::lacking(comparison).into_iter().map(|at| ids[at].0);
        Ok(Self {
            frame,
            about: about(comparison),
            finding: sentences::finding(comparison, &names),
            evidence: sentences::evidence(comparison, &names),
            rack: racks.rack.svg()?,
            by_parts,
            by_depth_href: address(&ids, ""),
            by_parts_href: address(&ids, "parts"),
            no_depth,
            paths: racks.paths.svgs()?,
            legend: racks::legend(comparison),
            table: racks.table,
            partners,
            worths: worths(comparison),
            pairs: sentences::pair_rows(comparison, &names),
            leans: sentences::leans(comparison, &names, red_is_warm),
            drifts: comparison.drifts.iter().map(|it| sentences::drift(it, &names)).collect(),
            by_eye: comparison.by_eye.clone(),
            standards: others.collect(),
            read_in: read_in.collect(),
            missing: missing.collect(),
            fields: fields(&ids),
            title,
            names,
        })
    }
}

fn rack_word(by_parts: bool) -> String {
    if by_parts { "parts".into() } else { String::new() }
}

/// `2 trials · directly comparable · D65/10°`.
fn about(comparison: &Comparison) -> String {
    let mut trials: Vec<i64> = Vec::new();
    for (id, ..) in comparison.tubes.iter().flat_map(|tube| &tube.read_in) {
        if !trials.contains(&id.0) {
            trials.push(id.0);
        }
    }
    let found = comparison.pairs.iter().filter_map(|pair| pair.found.as_ref().ok());
    let brought: Vec<_> = found.flat_map(|twins| &twins.footing.brought_over).collect();
    let how = if brought.is_empty() { "directly comparable" } else { "partly brought over" };
    let compared = comparison.pairs.iter().any(|pair| pair.found.is_ok());
    let how = if compared { how } else { "not comparable yet" };
    let trials = counted(trials.len(), "trial", "trials");
    format!("{trials} · {how} · {}", comparison.conditions)
}

/// The pairs with their names, for other programs.
pub(super) fn named(comparison: &Comparison) -> Vec<Compared> {
    let names = told_apart(comparison.tubes.iter().map(|it| &it.tube));
    let of =
        |pair: &workshop::ComparedPair| (pair.of.map(|at| names[at].clone()), pair.found.clone());
    comparison.pairs.iter().map(of).collect()
}

/// Squares of a partner that are drawn.
const SQUARES: usize = 3;

impl PartnerText {
    fn new(
        partner: &WithPartner,
        comparison: &Comparison,
        names: &[String],
    ) -> Result<Self, askama::Error> {
        // Those of most tubes, and of these the ones nearest to 1 : 1; then the neat one stands first.
        let mut shown: Vec<&workshop::PartnerSquare> = partner.squares.iter().collect();
        let count = |it: &workshop::PartnerSquare| it.tubes.iter().flatten().count();
        let middle = |it: &workshop::PartnerSquare| (it.parts[0].ln().abs() * 10.0) as i64;
        shown.sort_by_key(|it| (std::cmp::Reverse(count(it)), middle(it)));
        shown.truncate(SQUARES);
        shown.sort_by(|a, b| a.parts[1].total_cmp(&b.parts[1]));
        let off = |it: &workshop::PartnerSquare| {
            let apart = it.tubes.iter().skip(1).flatten().map(|(_, off, _)| *off);
            apart.max_by(|a, b| a.value.total_cmp(&b.value))
        };
        let is_visible = |it: &workshop::PartnerSquare| {
            let mut others = it.tubes.iter().skip(1).flatten();
            others.any(|(_, off, _)| off.value - off.half_width > UNSEEN)
        };
        let squares = shown.iter().map(|square| {
            let tubes = square.tubes.iter().enumerate().map(|(at, found)| {
                let (lab, off, origin) = (*found)?;
                let apart = if at == 0 {
                    String::new()
                } else {
                    format!(", ΔE00 {} ± {}", number(off.value, 1), number(off.half_width, 1))
                };
                Some(Beside {
                    paint: Paint::predicted(lab, comparison.conditions),
                    predicted: origin != Origin::Read,
                    title: format!("{} with {}{apart}", names[at], in_words(square, &partner.name)),
                })
            });
            (tubes.collect(), is_visible(square))
        });
        let squares: Vec<(Vec<Option<Beside>>, bool)> = squares.collect();
        let most = partner.squares.iter().filter_map(off).map(|it| it.value).fold(0.0, f64::max);
        let seen = partner.squares.iter().any(is_visible);
        let title = format!("{} at equal strength with {}", names.join(", "), partner.name);
        Ok(Self {
            name: partner.name.clone(),
            svg: Together { title, squares }.svg()?,
            note: format!("ΔE {}{}", number(most, 1), if seen { ", visible" } else { "" }),
        })
    }
}

/// `1 part of Lantern Yellow and 4 of white`.
fn in_words(square: &workshop::PartnerSquare, name: &str) -> String {
    let [partner, white] = square.parts;
    let with = if white > 0.0 { format!(" and {} of white", parts(white)) } else { String::new() };
    format!("{} of {name}{with}", parts(partner))
}
