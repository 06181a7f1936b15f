//! Finished text of a palette's greys.

use askama::Template;
use askama_web::WebTemplate;
use colour::Lab;
use decide::{CastCure, Grey};
use workshop::{PaletteGreys, PlacedGrey};

use super::asked::PaletteChoice;
use super::names;
use crate::draw::{Beside, Paint, Together};
use crate::frame::Frame;
use crate::pages::names::told_apart;
use crate::words::number;

/// Below this C* a grey has no cast to speak of.
const NO_CAST: f64 = 2.0;

/// The greys of a palette.
#[derive(Template, WebTemplate)]
#[template(path = "decide/greys.html")]
pub(crate) struct GreysPage {
    frame: Frame,
    choice: PaletteChoice,
    why: String,
    finding: String,
    evidence: String,
    rows: Vec<GreyRow>,
    ready_made: Vec<String>,
    simulated: bool,
    /// Tubes whose swatches would narrow this down.
    unread: Vec<i64>,
}

struct GreyRow {
    names: String,
    parts: String,
    svg: String,
    note: String,
    cure: String,
    /// Tubes with their parts.
    tubes: Vec<(i64, String)>,
}

impl GreysPage {
    /// Why there is nothing to show.
    pub fn nothing(frame: Frame, choice: PaletteChoice, why: String) -> Self {
        Self {
            frame,
            choice,
            why,
            finding: "Which greys does this palette make?".into(),
            evidence: String::new(),
            rows: Vec::new(),
            ready_made: Vec::new(),
            simulated: false,
            unread: Vec::new(),
        }
    }

    pub fn new(
        frame: Frame,
        choice: PaletteChoice,
        found: &PaletteGreys,
    ) -> Result<Self, askama::Error> {
        let names = told_apart(&found.known.tubes);
        let teller = Teller { found, names: &names };
        let rows = found.greys.iter().map(|it| teller.row(it)).collect::<Result<_, _>>()?;
        let ready_made = found.ready_made.iter().map(|(place, mass_tone, tint)| {
            format!(
                "{}: L* {}, {}; with white 1 : 4 {}",
                names[*place],
                number(mass_tone.l, 0),
                cast(*mass_tone),
                cast(*tint)
            )
        });
        Ok(Self {
            frame,
            why: String::new(),
            finding: teller.finding(choice.name()),
            evidence: teller.evidence(),
            rows,
            ready_made: ready_made.collect(),
            simulated: found.known.is_simulated(),
            unread: names::unread(found.own.iter().copied(), &found.known),
            choice,
        })
    }
}

struct Teller<'a> {
    found: &'a PaletteGreys,
    names: &'a [String],
}

impl Teller<'_> {
    fn tubes(&self, grey: &Grey) -> String {
        let names: Vec<&str> =
            grey.shares.tubes.iter().map(|(at, _)| self.names[*at].as_str()).collect();
        match names.as_slice() {
            [one, other] => format!("{one} and {other}"),
            [rest @ .., last] => format!("{} and {last}", rest.join(", ")),
            [] => String::new(),
        }
    }

    fn parts(&self, grey: &Grey) -> String {
        grey.parts().into_iter().map(study::numbers::parts).collect::<Vec<_>>().join(" : ")
    }

    fn finding(&self, name: &str) -> String {
        match self.found.greys.first() {
            Some(best) => {
                format!("The best grey: {}, {}.", self.tubes(&best.grey), self.parts(&best.grey))
            }
            None => format!("No two tubes of {name} make a grey."),
        }
    }

    fn evidence(&self) -> String {
        let mut said = Vec::new();
        match (self.found.greys.first(), &self.found.nearest) {
            (Some(best), _) => said.push(format!(
                "Predicted: C* at most {} from mass tone to 1 : 16.",
                number(best.grey.chroma, 1)
            )),
            (None, Some(nearest)) => said.push(format!(
                "Nearest come {}, {}: C* up to {}. A grey stays under 6.",
                self.tubes(nearest),
                self.parts(nearest),
                number(nearest.chroma, 0)
            )),
            (None, None) => {}
        }
        if let Some(darkest) = &self.found.darkest
            && let Some(lab) = darkest.mass_tone()
        {
            said.push(format!(
                "The darkest: {}, L* {} ± 2, {}.",
                self.tubes(darkest),
                number(lab.l, 0),
                cast(lab)
            ));
        }
        if self.found.left_out > 0 {
            said.push("Only the first 24 tubes were tried.".into());
        }
        said.join(" ")
    }

    fn row(&self, placed: &PlacedGrey) -> Result<GreyRow, askama::Error> {
        let grey = &placed.grey;
        let names = self.tubes(grey);
        let paint = |lab: Lab| Paint::predicted(lab, self.found.known.paints.conditions);
        let words = ["mass tone", "with white 1 : 1", "with white 1 : 4", "with white 1 : 16"];
        let row = grey.colours.iter().zip(words).map(|(lab, what)| {
            Some(Beside {
                paint: paint(*lab),
                predicted: true,
                title: format!("{names}, {what}: L* {}, {}", number(lab.l, 0), cast(*lab)),
            })
        });
        let title = format!("{names}, from mass tone to its palest tint, predicted");
        let svg = Together { title, squares: vec![(row.collect(), false)] }.svg()?;
        let mass_tone = grey.colours.first().copied();
        let tint = grey.colours.get(2).copied();
        let note = mass_tone.zip(tint).map_or_else(String::new, |(mass_tone, tint)| {
            format!(
                "L* {} alone, {}; with white 1 : 4 L* {}, {}",
                number(mass_tone.l, 0),
                cast(mass_tone),
                number(tint.l, 0),
                cast(tint)
            )
        });
        let tubes = grey
            .shares
            .tubes
            .iter()
            .map(|(at, share)| (self.found.known.tubes[*at].id.0, format!("{share:.5}")));
        Ok(GreyRow {
            tubes: tubes.collect(),
            parts: self.parts(grey),
            svg,
            note,
            cure: tint.map_or_else(String::new, |tint| self.cure(tint, &placed.cures)),
            names,
        })
    }

    /// `A touch of Plume Magenta (1 : 90) takes the green; Saddle Red turns it orange.`
    fn cure(&self, tint: Lab, cures: &[CastCure]) -> String {
        if tint.chroma() < NO_CAST {
            return String::new();
        }
        let Some(best) = cures.iter().find(|it| !it.turns) else { return String::new() };
        let mut said = format!(
            "{} takes the cast: 1 part to {} of the tint",
            self.names[best.tube],
            number(1.0 / best.parts, 0)
        );
        let wrong = cures.iter().find(|it| it.turns && it.tube != best.tube);
        if let Some(wrong) = wrong
            && let Some(hue) = wrong.to.hue()
        {
            said += &format!(
                "; {} would only turn it {}",
                self.names[wrong.tube],
                brown_or(hue, wrong.to)
            );
        }
        said + "."
    }
}

/// A dull orange is what painters call brown.
fn brown_or(hue: colour::Hue, lab: Lab) -> &'static str {
    match decide::hue_name(hue) {
        "orange" | "red" | "yellow" if lab.chroma() < 30.0 => "brown",
        other => other,
    }
}

/// `C* 3, leaning blue`.
fn cast(lab: Lab) -> String {
    match lab.hue() {
        Some(hue) => format!("C* {}, leaning {}", number(lab.chroma(), 0), decide::hue_name(hue)),
        None => "neutral".into(),
    }
}
