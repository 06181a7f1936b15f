//! Finished text of the comparison by eye.

use askama::Template;
use askama_web::WebTemplate;
use bench::BenchEvent;
use figures::by_eye::{MOST_LOOKS, most_questions};
use plan::CellNumber;
use plan::prior::Prior;
use study::{Quality, SeenTint, TubeRef};
use workshop::{AnalysedTrial, Last, OpenTrial, OrderByEye, StrengthByEye, judged_tubes, leans};

use crate::frame::{Frame, Heading};
use crate::words::parts;

/// The page.
#[derive(Template, WebTemplate)]
#[template(path = "eye/page.html")]
pub(crate) struct EyePage {
    frame: Frame,
    heading: Heading,
    id: i64,
    /// Names of what can be compared, with the one at hand.
    tabs: Vec<(&'static str, &'static str, bool)>,
    question: Option<Question>,
    /// Why nothing is asked, where nothing is.
    silent: String,
    said: Vec<String>,
    warm: Option<WarmChoice>,
    /// What was answered last, to be taken back.
    last: Option<String>,
}

struct Question {
    asked: String,
    hint: &'static str,
    action: &'static str,
    first: String,
    second: String,
    quality: String,
    /// Value, words and key.
    answers: Vec<(String, String, &'static str)>,
    progress: String,
}

struct WarmChoice {
    red: bool,
    leans: Vec<String>,
}

impl EyePage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        analysed: &AnalysedTrial,
        prior: &Prior,
        strengths: &[StrengthByEye],
        order: Option<&OrderByEye>,
        red_is_warm: bool,
    ) -> Self {
        let teller = Teller { analysed };
        let mut tabs = Vec::new();
        let here = |quality: Quality| order.is_some_and(|order| order.quality == quality);
        if !strengths.is_empty() {
            tabs.push(("strength", "how strong", order.is_none()));
        }
        tabs.push(("greener", "greener", here(Quality::Greener)));
        tabs.push(("warmer", "warmer", here(Quality::Warmer)));
        tabs.push(("cleaner", "cleaner", here(Quality::Cleaner)));
        let two = judged_tubes(analysed).len() > 1;
        let planned = analysed.trial.plan.is_some();
        let (question, said) = match order {
            Some(order) => (teller.pair(order), teller.order(order)),
            None => (teller.tints(strengths), teller.strengths(strengths)),
        };
        let silent = match (planned, two, question.is_some()) {
            (false, ..) => {
                "This trial was not planned here: it has no squares that could be held side by side."
            }
            (_, false, _) => "Comparing takes two tubes under test or more.",
            (.., true) => "",
            (.., false) => "Nothing is left to ask: another look would not tell more.",
        };
        let is_warmer = here(Quality::Warmer);
        let last = last_answer(&analysed.trial);
        Self {
            id: analysed.trial.id.0,
            tabs,
            question: question.filter(|_| planned && two),
            silent: silent.to_owned(),
            said,
            warm: is_warmer.then(|| WarmChoice {
                red: red_is_warm,
                leans: leans(analysed, prior, red_is_warm)
                    .iter()
                    .map(|lean| lean.sentence(analysed))
                    .collect(),
            }),
            last,
            frame,
            heading,
        }
    }
}

/// The last answer, where nothing was recorded after it: a reading is not taken back here.
fn last_answer(trial: &OpenTrial) -> Option<String> {
    let Last::BenchEvent(id) = trial.last_entry()? else { return None };
    let entry = trial.log.iter().find(|entry| entry.id == id)?;
    let is_answer = matches!(entry.event, BenchEvent::Depth { .. } | BenchEvent::Compared { .. });
    is_answer.then(|| crate::pages::bench::last_entry(trial)).flatten().map(|(entry, _)| entry)
}

/// The square that shows a tint.
pub(super) fn square_of(trial: &OpenTrial, tint: SeenTint) -> Option<CellNumber> {
    let white = trial.white();
    let found = trial.swatches.iter().find(|planned| {
        let mixture = &planned.swatch.mixture;
        let parts = mixture.white_per_colour(white).unwrap_or_default();
        mixture.only_colour(white) == Some(tint.tube) && figures::same_parts(parts, tint.white)
    });
    found.map(|it| it.swatch.number)
}

struct Teller<'a> {
    analysed: &'a AnalysedTrial,
}

impl Teller<'_> {
    fn name(&self, tube: TubeRef) -> String {
        self.analysed.study.label(tube).name
    }

    fn tint(&self, tint: SeenTint) -> String {
        let name = self.name(tint.tube);
        let square = square_of(&self.analysed.trial, tint);
        let square = square.map_or_else(String::new, |it| format!(" (square {it})"));
        format!("{name} with white 1 : {}{square}", parts(tint.white))
    }

    fn tints(&self, strengths: &[StrengthByEye]) -> Option<Question> {
        let (of, [sample, standard]) = strengths.iter().find_map(|it| Some((it, it.next?)))?;
        let value = |tint: SeenTint| format!("{}/{}", tint.tube.0, tint.white);
        let name = self.name(sample.tube);
        Some(Question {
            asked: format!("Hold {} beside {}.", self.tint(sample), self.tint(standard)),
            hint: "Look for depth: which has more colour in it? A yellow’s tints hardly change in lightness.",
            action: "depth",
            first: value(sample),
            second: value(standard),
            quality: String::new(),
            answers: vec![
                ("paler".into(), format!("{name} is paler"), "1"),
                ("same".into(), "the same".into(), "2"),
                ("deeper".into(), format!("{name} is deeper"), "3"),
            ],
            progress: format!("look {} of at most {MOST_LOOKS}", of.answers + 1),
        })
    }

    fn strengths(&self, strengths: &[StrengthByEye]) -> Vec<String> {
        strengths.iter().filter_map(|it| it.sentence(self.analysed)).collect()
    }

    fn pair(&self, order: &OrderByEye) -> Option<Question> {
        let [first, second] = order.next?;
        let (one, other) = (self.name(first), self.name(second));
        let torn = order.contradictions.contains(&[first, second])
            || order.contradictions.contains(&[second, first]);
        let hint = match (torn, order.quality) {
            (true, _) => "Your answers about these two contradict each other: look once more.",
            (_, Quality::Cleaner) => "Cleaner has less grey or brown in it.",
            (_, Quality::Greener) => "Lay them side by side under the light you paint in.",
            (_, Quality::Warmer) => "Warm or cool only has a meaning beside another colour.",
        };
        Some(Question {
            asked: format!("Which is {}?", order.quality),
            hint,
            action: "compare",
            first: first.0.to_string(),
            second: second.0.to_string(),
            quality: order.quality.to_string(),
            answers: vec![
                ("first".into(), one, "1"),
                ("neither".into(), "no difference".into(), "2"),
                ("second".into(), other, "3"),
            ],
            progress: format!(
                "question {} of at most {}",
                order.answers + 1,
                most_questions(order.tubes.len())
            ),
        })
    }

    fn order(&self, order: &OrderByEye) -> Vec<String> {
        let mut said = Vec::new();
        if let Some(groups) = &order.groups {
            let names = groups.iter().map(|group| {
                let names: Vec<String> = group.iter().map(|tube| self.name(*tube)).collect();
                names.join(" = ")
            });
            let most = match order.quality {
                Quality::Greener => "greenest",
                Quality::Warmer => "warmest",
                Quality::Cleaner => "cleanest",
            };
            let names: Vec<String> = names.collect();
            said.push(format!("By eye, the {most} first: {}.", names.join(", then ")));
        }
        for [one, other] in &order.contradictions {
            said.push(format!(
                "Your answers about {} and {} contradict each other.",
                self.name(*one),
                self.name(*other)
            ));
        }
        said
    }
}
