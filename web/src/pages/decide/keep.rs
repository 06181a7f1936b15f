//! Finished text of keep or drop.

use askama::Template;
use askama_web::WebTemplate;
use decide::{Chosen, Keep, Kept};
use workshop::KeptShelf;

use super::{looks, names};
use crate::frame::Frame;
use crate::pages::names::told_apart;
use crate::words::{counted, number};

/// Every tube with its verdict.
#[derive(Template, WebTemplate)]
#[template(path = "decide/keep.html")]
pub(crate) struct KeepPage {
    frame: Frame,
    finding: String,
    evidence: String,
    rows: Vec<KeepRow>,
    /// `2 tubes were not looked at: …`.
    notes: Vec<String>,
    size: usize,
    /// How much of the reach of all the best palette has, and its tubes, each with what it adds.
    best: Option<(String, Vec<(String, String)>)>,
    most: usize,
    /// Pigments that are not owned, and what each would add.
    not_owned: Vec<(String, String)>,
    typical: bool,
    /// Tubes whose swatches would narrow this down.
    unread: Vec<i64>,
    simulated: bool,
}

struct KeepRow {
    id: i64,
    name: String,
    about: String,
    verdict: &'static str,
    sentence: String,
    svg: String,
    loss: String,
    reach: String,
}

impl KeepPage {
    pub fn new(
        frame: Frame,
        found: &KeptShelf,
        size: Option<usize>,
        best: Option<&Chosen>,
    ) -> Result<Self, askama::Error> {
        let names = told_apart(&found.known.tubes);
        let teller = Teller { found, names: &names };
        let rows: Vec<KeepRow> =
            found.kept.iter().map(|kept| teller.row(kept)).collect::<Result<_, _>>()?;
        let count = rows.len();
        let best = best.map(|chosen| {
            let share = number(100.0 * chosen.coverage, 0);
            let tubes = chosen.tubes.iter().map(|(at, lost)| {
                (names[*at].clone(), format!("{} points", number(100.0 * lost, 1)))
            });
            (format!("{share} %"), tubes.collect())
        });
        Ok(Self {
            frame,
            finding: teller.finding(),
            evidence: teller.evidence(),
            notes: teller.notes(),
            size: size.unwrap_or(6).min(count.max(3)),
            best,
            most: count.min(24),
            not_owned: found
                .not_owned
                .iter()
                .map(|(paint, adds)| {
                    let name = format!("a tube of {} ({})", paint.name, paint.common);
                    (name, format!("{} %", number(100.0 * adds, 1)))
                })
                .collect(),
            typical: found.is_typical,
            unread: names::unread(found.kept.iter().map(|it| it.tube), &found.known),
            simulated: found.known.is_simulated(),
            rows,
        })
    }
}

struct Teller<'a> {
    found: &'a KeptShelf,
    names: &'a [String],
}

impl Teller<'_> {
    fn of(&self, verdict: Keep) -> Vec<&Kept> {
        self.found.kept.iter().filter(|it| it.verdict == verdict).collect()
    }

    /// One sentence for the shelf.
    fn finding(&self) -> String {
        let kept = self.found.kept.len();
        if kept < 3 {
            return "Nothing can be said yet: keep or drop takes three tubes that were read, or whose pigments are known."
                .into();
        }
        if self.found.is_typical {
            return self.of_typical();
        }
        let mut said = Vec::new();
        let mut told: Vec<[usize; 2]> = Vec::new();
        for twin in self.of(Keep::Twin) {
            let Some(other) = twin.twin else { continue };
            let pair = [twin.tube.min(other), twin.tube.max(other)];
            if !told.contains(&pair) {
                told.push(pair);
            }
        }
        said.extend(told.iter().take(2).map(|pair| {
            format!("one of {} and {} is enough", self.names[pair[0]], self.names[pair[1]])
        }));
        let mixed = self.of(Keep::Replaceable);
        said.extend(mixed.iter().take(2).map(|it| {
            let by_eye = self.found.confirmed[it.tube].as_ref().is_some_and(|it| it.by_eye);
            let how = if by_eye { ", by eye" } else { "" };
            format!("{} can be mixed{how}", self.names[it.tube])
        }));
        let tried = self.of(Keep::TryMixture);
        match tried.as_slice() {
            [] => {}
            [one] => said.push(format!("{} may be mixed: try it", self.names[one.tube])),
            [one, other] => said.push(format!(
                "{} and {} may be mixed: try them",
                self.names[one.tube], self.names[other.tube]
            )),
            more => said
                .push(format!("{} may be mixed: try them", counted(more.len(), "tube", "tubes"))),
        }
        if said.is_empty() && !self.of(Keep::CannotTell).is_empty() {
            return "These readings cannot tell of every tube whether another can stand for it."
                .into();
        }
        if said.is_empty() {
            return "Every tube that was read does what no other can.".into();
        }
        let text = said.join("; ");
        let mut letters = text.chars();
        let first = letters.next().map(|it| it.to_uppercase().to_string()).unwrap_or_default();
        format!("{first}{}.", letters.as_str())
    }

    /// Typical paints stand for the tubes.
    fn of_typical(&self) -> String {
        let by_eye = self.of(Keep::Replaceable);
        let may = self.of(Keep::CannotTell).into_iter().filter(|it| it.may_be_mixed()).count();
        let mut said: Vec<String> = by_eye
            .iter()
            .map(|it| format!("{} can be mixed, by eye", self.names[it.tube]))
            .collect();
        if may > 0 {
            said.push(format!("{} may be mixed: try them by eye", counted(may, "tube", "tubes")));
        }
        match said.as_slice() {
            [] => "As typical paints go, no tube can be mixed of the others.".into(),
            said => format!("As typical paints go, {}.", said.join("; ")),
        }
    }

    fn evidence(&self) -> String {
        if self.found.is_typical {
            return "Too few of these tubes were read, so typical paints of their pigments stand for them. Mix a recipe \
                    and hold it beside the tube, or read mass tones and tints, and the verdict is of your own tubes."
                .into();
        }
        let keep = self.of(Keep::Keep);
        let most = keep.first().map(|it| {
            let loss = it.loss().unwrap_or_default();
            format!(
                "Most would be lost without {}: nothing comes nearer than ΔE00 {}.",
                self.names[it.tube],
                number(loss, 0)
            )
        });
        let count = self.found.kept.len();
        let looked = format!(
            "{} of {} do what no mixture of the others does.",
            keep.len(),
            counted(count, "tube that was read", "tubes that were read")
        );
        [Some(looked), most].into_iter().flatten().collect::<Vec<_>>().join(" ")
    }

    fn notes(&self) -> Vec<String> {
        let known = &self.found.known;
        let mut notes = Vec::new();
        if !self.found.left_out.is_empty() {
            notes.push(format!(
                "{} more are not in this list: {} are looked at in one go.",
                counted(self.found.left_out.len(), "tube", "tubes"),
                workshop::MOST_KEPT
            ));
        }
        let odd = known.unknown.iter().filter(|tube| known.odd.contains(&tube.id));
        let odd: Vec<&str> = odd.map(|tube| tube.tube.name.as_str()).collect();
        if !odd.is_empty() {
            notes.push(format!(
                "Not in this list, since it does not mix as paint usually does (it may be fluorescent, metallic or \
                 pearl): {}.",
                odd.join(", ")
            ));
        }
        if known.white.is_none() || known.paints.white.is_none() {
            notes.push(
                "No white was read alone, so tints are left out: read the white over paper, white and black.".into(),
            );
        }
        notes
    }

    fn row(&self, kept: &Kept) -> Result<KeepRow, askama::Error> {
        let known = &self.found.known;
        let tube = &known.tubes[kept.tube];
        let label = &tube.tube;
        let about = [label.maker.clone(), label.code()];
        let about: Vec<String> = about.into_iter().filter(|it| !it.is_empty()).collect();
        Ok(KeepRow {
            id: tube.id.0,
            name: self.names[kept.tube].clone(),
            about: about.join(" · "),
            verdict: word(kept.verdict),
            sentence: self.sentence(kept),
            svg: self.svg(kept)?,
            loss: kept.loss().map_or_else(|| "–".into(), |it| number(it, 1)),
            reach: match self.found.lost_reach.get(kept.tube) {
                Some(lost) if *lost >= 0.0005 => format!("{} %", number(100.0 * lost, 1)),
                _ => "none".into(),
            },
        })
    }

    /// `Nothing comes nearer than ΔE00 4.2.`
    fn sentence(&self, kept: &Kept) -> String {
        let loss = number(kept.loss().unwrap_or_default(), 1);
        let mixture = kept.best.as_ref().map(|it| names::mixture(&it.parts, self.names));
        let mixture = mixture.unwrap_or_default();
        let hides = match kept.contrast_gap {
            Some(gap) if kept.only_in_colour() && gap > 0.0 => {
                " It hides more than the tube: in colour, not in opacity."
            }
            Some(_) if kept.only_in_colour() => {
                " It hides less than the tube: in colour, not in opacity."
            }
            _ => "",
        };
        match kept.verdict {
            Keep::Keep => {
                let worst = self.worst(kept);
                format!("Nothing comes nearer than ΔE00 {loss}{worst}. The best try: {mixture}.")
            }
            Keep::Twin => {
                let twin = kept.twin.map_or("another", |at| self.names[at].as_str());
                format!("{twin} does the same at equal strength, alone and in mixtures.")
            }
            Keep::TryMixture => format!("Predicted within ΔE00 {loss}: {mixture}.{hides}"),
            Keep::Replaceable => match &self.found.confirmed[kept.tube] {
                Some(it) if it.by_eye => format!(
                    "A mixture of about {} looks the same beside it, by eye (“{}”).{hides}",
                    it.mixture, it.trial
                ),
                Some(it) => {
                    format!(
                        "{} was read, and comes within ΔE00 2 alone and with white (“{}”).{hides}",
                        it.mixture, it.trial
                    )
                }
                None => format!(
                    "A mixture that was read comes within ΔE00 2, alone and with white.{hides}"
                ),
            },
            Keep::CannotTell if self.found.is_typical && kept.may_be_mixed() => {
                format!(
                    "By typical paints this comes within ΔE00 {loss}, so try it: {mixture}.{hides}"
                )
            }
            Keep::CannotTell if self.found.is_typical => {
                let worst = self.worst(kept);
                format!("By typical paints nothing comes nearer than ΔE00 {loss}{worst}.")
            }
            Keep::CannotTell if self.only_tube(kept).is_some() => format!(
                "Only {} comes near it: compare the two.",
                self.only_tube(kept).unwrap_or_default()
            ),
            Keep::CannotTell => {
                "What comes near it was never read: read the mass tones and tints of these tubes."
                    .into()
            }
        }
    }

    /// The one tube that was read and comes near, where nothing can be mixed.
    fn only_tube(&self, kept: &Kept) -> Option<&str> {
        let [(at, _)] = kept.best.as_ref()?.shares.tubes[..] else { return None };
        let was_read = self.found.known.paints.tubes[at].load_sigma.is_none();
        (was_read && kept.may_be_mixed()).then(|| self.names[at].as_str())
    }

    /// Where the best mixture is furthest off.
    fn worst(&self, kept: &Kept) -> &'static str {
        let all = [
            (kept.mass_tone, ", alone"),
            (kept.tint, ", with white"),
            (kept.film, ", as a thin film"),
            (kept.distance, ", in mixtures with the references"),
        ];
        let known = all.into_iter().filter_map(|(value, word)| Some((value?, word)));
        known.max_by(|one, other| one.0.total_cmp(&other.0)).map_or("", |it| it.1)
    }

    /// The tube and its best mixture, edge to edge: mass tone above, tint below.
    fn svg(&self, kept: &Kept) -> Result<String, askama::Error> {
        let known = &self.found.known;
        let name = &self.names[kept.tube];
        let Some((best, target)) = kept.best.as_ref().zip(known.target(kept.tube)) else {
            return Ok(String::new());
        };
        let told = best.colours.iter().map(|lab| Some((*lab, true)));
        let names = [name.as_str(), "the best of the others"];
        looks::svg(names, &target, told, known.paints.conditions)
    }
}

fn word(verdict: Keep) -> &'static str {
    match verdict {
        Keep::Keep => "keep",
        Keep::Twin => "one of two",
        Keep::TryMixture => "try the mixture",
        Keep::Replaceable => "can be mixed",
        Keep::CannotTell => "cannot tell yet",
    }
}

/// The verdicts are at work, or were stopped.
#[derive(Template, WebTemplate)]
#[template(path = "decide/working.html")]
pub(crate) struct WorkingPage {
    frame: Frame,
    /// In percent; `None` where it was stopped.
    done: Option<String>,
}

impl WorkingPage {
    pub fn at_work(frame: Frame, done: f64) -> Self {
        Self { frame, done: Some(number(100.0 * done, 0)) }
    }

    pub fn stopped(frame: Frame) -> Self {
        Self { frame, done: None }
    }
}
