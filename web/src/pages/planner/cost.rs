//! What a plan costs, beside the choices: finished text of the panel.

use askama::Template;
use askama_web::WebTemplate;
use plan::cautions::{Caution, DEFERRAL, cautions};
use plan::prior::PriorLevel;
use plan::{Ladder, PaintNeed, Plan, Remark, StepSource};
use study::numbers::{Ratios, percent};
use study::{Tube, TubeLabel, TubeRef};
use workshop::{Evidence, EvidenceSource, WorkedOut};

use crate::draw::{LadderStrip, Paint, StripCell};
use crate::pages::beside::address;
use crate::pages::fields::FieldErrors;
use crate::words::{counted, hours, number, parts, small};

/// Ladders that are drawn; the others are counted.
const MOST_DRAWN: usize = 8;

/// A plan with what its costs are told from.
#[derive(Clone, Copy)]
pub(crate) struct Planned<'a> {
    pub plan: &'a Plan,
    /// By [`TubeRef`].
    pub tubes: &'a [&'a Tube],
    pub white: Option<TubeRef>,
    pub sheets: usize,
    pub ratios: Ratios,
    /// Amounts are put out by eye.
    pub by_eye: bool,
    /// Its minutes are the user's own, learnt from earlier runs.
    pub own_pace: bool,
    pub evidence: &'a Evidence,
}

/// The panel.
#[derive(Template, WebTemplate)]
#[template(path = "planner/cost.html")]
pub(crate) struct CostPanel {
    /// The verdict in one line.
    headline: String,
    detail: String,
    facts: Vec<Fact>,
    remarks: Vec<String>,
    /// What the shelf holds that is like a tube under test, with the address that compares the two.
    owned: Vec<(String, String)>,
    paint: Vec<PaintRow>,
    ladders: Vec<LadderRow>,
    more_ladders: String,
    cautions: Vec<Caution>,
    deferral: &'static str,
    errors: Vec<(String, String)>,
}

struct Fact {
    value: String,
    label: &'static str,
}

struct PaintRow {
    name: String,
    takes: String,
    /// Share of what is left, `12 % of 60`.
    share: String,
    /// Width of its bar, px of 60.
    bar: f64,
    lacking: bool,
    known: String,
}

struct LadderRow {
    title: String,
    source: String,
    strip: String,
}

impl CostPanel {
    /// The panel of a plan that is not stored yet.
    pub fn before(worked: &WorkedOut) -> Result<Self, askama::Error> {
        let tubes: Vec<&Tube> = worked.tubes().iter().map(|(tube, _)| &tube.tube).collect();
        let owned = worked.owned.iter().map(|twin| {
            // What was never read cannot be compared yet.
            let href = twin
                .distance
                .map_or_else(String::new, |_| address(&[twin.tested.id, twin.owned.id], ""));
            (twin.sentence(), href)
        });
        let panel = Self::of(Planned {
            plan: &worked.plan,
            tubes: &tubes,
            white: worked.white(),
            sheets: worked.sheets.len(),
            ratios: worked.ratios(),
            by_eye: worked.is_by_eye(),
            own_pace: worked.own_pace(),
            evidence: &worked.evidence,
        })?;
        Ok(Self { owned: owned.collect(), ..panel })
    }

    /// The panel of a plan that can be made.
    pub fn of(worked: Planned<'_>) -> Result<Self, askama::Error> {
        let labels: Vec<TubeLabel> = worked.tubes.iter().map(|tube| tube.label()).collect();
        let plan = worked.plan;
        let (headline, detail) = verdict(worked, &labels);
        let drawn = plan.ladders.iter().take(MOST_DRAWN);
        let more = plan.ladders.len().saturating_sub(MOST_DRAWN);
        Ok(Self {
            headline,
            detail,
            facts: facts(worked),
            remarks: plan.remarks.iter().map(|remark| remark.sentence(&labels)).collect(),
            owned: Vec::new(),
            paint: plan.costs.paint.iter().map(|need| PaintRow::of(need, worked)).collect(),
            ladders: drawn
                .map(|ladder| LadderRow::of(ladder, worked, &labels))
                .collect::<Result<_, _>>()?,
            more_ladders: if more > 0 {
                format!("and {} of the same kind", counted(more, "ladder", "ladders"))
            } else {
                String::new()
            },
            cautions: cautions(worked.tubes.iter().copied()),
            deferral: DEFERRAL,
            errors: Vec::new(),
        })
    }

    /// The panel while something is not right yet.
    pub fn wrong(errors: &FieldErrors) -> Self {
        let errors: Vec<(String, String)> =
            errors.all().map(|(field, message)| (field.to_owned(), message.to_owned())).collect();
        // A name can wait until the end; it changes no cost.
        let first = errors.iter().find(|(field, _)| field != "name").or(errors.first());
        Self {
            headline: "No plan yet.".into(),
            detail: first.map_or_else(String::new, |(_, message)| sentence(message)),
            facts: Vec::new(),
            remarks: Vec::new(),
            owned: Vec::new(),
            paint: Vec::new(),
            ladders: Vec::new(),
            more_ladders: String::new(),
            cautions: Vec::new(),
            deferral: "",
            errors,
        }
    }
}

/// With a capital and a full stop.
fn sentence(message: &str) -> String {
    let mut letters = message.chars();
    let first = letters.next().map(|letter| letter.to_uppercase().to_string()).unwrap_or_default();
    format!("{first}{}.", letters.as_str())
}

fn verdict(worked: Planned<'_>, labels: &[TubeLabel]) -> (String, String) {
    let costs = &worked.plan.costs;
    let pace = if worked.own_pace { " at your pace" } else { "" };
    let size = format!(
        "{} on {}, about {} at the table{pace}",
        counted(costs.swatches, "swatch", "swatches"),
        counted(worked.sheets, "sheet", "sheets"),
        hours(costs.table_minutes)
    );
    let lacking: Vec<&str> = worked
        .plan
        .remarks
        .iter()
        .filter_map(|remark| match remark {
            Remark::NotEnough { tube, .. } => Some(labels[tube.0].name.as_str()),
            _ => None,
        })
        .collect();
    match lacking.as_slice() {
        [] => (format!("{size}."), String::new()),
        [one] => (format!("Not enough {one} left."), format!("{size}.")),
        many => (format!("Not enough left in {} tubes.", many.len()), format!("{size}.")),
    }
}

fn facts(worked: Planned<'_>) -> Vec<Fact> {
    let costs = &worked.plan.costs;
    let again = costs.squares.saturating_sub(costs.swatches);
    let fact = |value: String, label| Fact { value, label };
    let of = |count: usize, one, many| fact(count.to_string(), if count == 1 { one } else { many });
    let white = worked.white.and_then(|white| {
        costs.paint.iter().find(|need| need.tube == white).map(|need| need.millilitres)
    });
    let mut facts = vec![
        of(costs.swatches, "swatch", "swatches"),
        of(worked.sheets, "sheet", "sheets"),
        of(costs.piles, "pile to mix", "piles to mix"),
        of(costs.clean_ups, "wash", "washes"),
        fact(hours(costs.table_minutes), "at the table"),
    ];
    if costs.waiting_minutes > 0.0 {
        facts.push(fact(hours(costs.waiting_minutes), "waiting to dry"));
    }
    if costs.readings > 0 {
        facts.push(of(costs.readings, "reading", "readings"));
    }
    facts.extend(white.map(|ml| fact(format!("{} ml", small(ml)), "white")));
    if again > 0 {
        facts.push(fact(again.to_string(), "painted again"));
    }
    if costs.clears > 0 {
        facts.push(of(costs.clears, "fresh palette", "fresh palettes"));
    }
    facts
}

impl PaintRow {
    fn of(need: &PaintNeed, worked: Planned<'_>) -> Self {
        let tube = worked.tubes[need.tube.0];
        let share = tube.left_ml.filter(|left| *left > 0.0).map(|left| need.millilitres / left);
        let lacking = tube.left_ml.is_some_and(|left| need.millilitres > left);
        let prior = worked.evidence.prior.known(need.tube);
        let constants = prior.and_then(|known| Some((known.level, known.constants.as_ref()?)));
        let is_white = worked.white == Some(need.tube);
        let known = match (&worked.evidence.sources[need.tube.0], constants) {
            (EvidenceSource::Nothing, _) => "not read yet".to_owned(),
            (EvidenceSource::Typical(codes), _) => format!("a typical {codes}"),
            (EvidenceSource::Seen(codes), _) if codes.is_empty() => "as you saw it".into(),
            (EvidenceSource::Seen(codes), _) => format!("a typical {codes}, as you saw it"),
            (EvidenceSource::Pigments(other), _) => format!("guessed from {other}"),
            (EvidenceSource::Readings(_), Some(_)) if is_white => "reference white".into(),
            (EvidenceSource::Readings(_), Some((PriorLevel::KAndS, constants))) => {
                format!("K and S fit within {} %", number(100.0 * constants.residual, 1))
            }
            (EvidenceSource::Readings(_), Some(_)) => "strengths only".into(),
            (EvidenceSource::Readings(_), None) => "its mass tone only".into(),
        };
        Self {
            name: tube.name.clone(),
            takes: small(need.millilitres),
            share: match (share, tube.left_ml) {
                (Some(share), Some(left)) => {
                    format!("{} % of {}", number(100.0 * share, 0), parts(left))
                }
                (None, Some(_)) => "none left".into(),
                _ => "not known".into(),
            },
            bar: 60.0 * share.unwrap_or_default().min(1.0),
            lacking,
            known,
        }
    }
}

impl LadderRow {
    fn of(
        ladder: &Ladder,
        worked: Planned<'_>,
        labels: &[TubeLabel],
    ) -> Result<Self, askama::Error> {
        let name = |tube: TubeRef| labels[tube.0].name.as_str();
        let title = format!("{} to {}", name(ladder.from), name(ladder.to));
        let quarters = [0.25, 0.5, 0.75];
        let same = ladder.shares.len() == 3
            && ladder.shares.iter().zip(quarters).all(|(one, other)| (one - other).abs() < 1e-6);
        let strip = LadderStrip {
            title: format!("{title}, predicted"),
            cells: cells(ladder, worked, &ladder.shares, true),
            quarters: if same
                || ladder.source == StepSource::Chosen
                || ladder.differences.is_empty()
                || ladder.alike.is_some()
            {
                Vec::new()
            } else {
                cells(ladder, worked, &quarters, false)
            },
        };
        let with_third = ladder.third.map_or_else(String::new, |third| {
            format!(", with {} % {} in each", number(100.0 * third.share, 0), name(third.tube))
        });
        let source = source(ladder, worked.by_eye) + guessed(ladder, worked);
        Ok(Self { title: title + &with_third, source, strip: strip.svg()? })
    }
}

/// Where the ratios come from, and what is gained over quarters.
fn source(ladder: &Ladder, by_eye: bool) -> String {
    if ladder.alike.is_some() {
        return "one mixture: the two look alike".into();
    }
    let words = ladder.source.words();
    // Whoever mixes by eye has no use for a figure of its steps.
    if by_eye {
        return words.to_owned();
    }
    match (ladder.unevenness(), ladder.quarters_unevenness()) {
        (Some(own), Some(quarters)) if ladder.source != StepSource::Chosen => format!(
            "{words}: largest step {} × the smallest, in quarters {} ×",
            number(own, 1),
            number(quarters, 1)
        ),
        (Some(own), _) => {
            format!("{words}: largest step {} × the smallest", number(own, 1))
        }
        _ => words.to_owned(),
    }
}

/// Where one of the tubes has not been read itself.
fn guessed(ladder: &Ladder, worked: Planned<'_>) -> &'static str {
    let third = ladder.third.map(|third| third.tube);
    let mut tubes = [Some(ladder.from), Some(ladder.to), third].into_iter().flatten();
    let predicted = !ladder.differences.is_empty();
    let from_others = |tube: TubeRef| {
        matches!(worked.evidence.sources.get(tube.0), Some(EvidenceSource::Pigments(_)))
    };
    if predicted && tubes.any(from_others) {
        "; guessed, from another tube of the same pigments"
    } else {
        ""
    }
}

fn cells(ladder: &Ladder, worked: Planned<'_>, shares: &[f64], labelled: bool) -> Vec<StripCell> {
    let all: Vec<f64> = [0.0].into_iter().chain(shares.iter().copied()).chain([1.0]).collect();
    let prior = &worked.evidence.prior;
    let colours = ladder.predicted(prior, &all);
    let paint = |at: usize| colours.as_ref().map(|all| Paint::predicted(all[at], prior.conditions));
    let label = |share: f64| {
        let mixture = ladder.mixture(share);
        let (a, b) = (mixture.parts_of(ladder.from), mixture.parts_of(ladder.to));
        if labelled || (share > 0.0 && share < 1.0) {
            match worked.ratios {
                Ratios::Percent => percent(&[a, b]),
                Ratios::Parts => format!("{} : {}", parts(a), parts(b)),
            }
        } else {
            String::new()
        }
    };
    all.iter()
        .enumerate()
        .map(|(at, share)| StripCell { paint: paint(at), label: label(*share) })
        .collect()
}
