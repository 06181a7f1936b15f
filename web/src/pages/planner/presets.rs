//! What each question is planned with, at each pace, and the plans that the user keeps.

use plan::Question;
use serde_json::{Map, Value};
use workshop::Preset;

use super::form::{PlanForm, TICKED};
use super::pace::PlanPace;

/// A question as people ask it, and what is painted for it.
pub(super) fn words(question: Question) -> (&'static str, &'static str) {
    match question {
        Question::Mixes => (
            "How does this tube mix with my palette?",
            "each tube with each reference, both ways, with white",
        ),
        Question::Stronger => ("Which of these is stronger?", "each tube with more and more white"),
        Question::Warmer => {
            ("Warm or cool, and beside what?", "each tube thick and pale, beside the others")
        }
        Question::Cleanest => (
            "Which pair makes the cleanest green, orange, violet?",
            "every pair at three ratios, with white",
        ),
        Question::Neutral => (
            "Which makes the best grey or near-black?",
            "every pair around its neutral, with white",
        ),
        Question::WhiteAndWater => {
            ("What do white and water do to it?", "thick, thin, over black, and with white")
        }
        Question::Replaceable => {
            ("Can I do without it?", "the tube and the palette, each thick and pale")
        }
        Question::Free => ("Something else", "charts of your own choice"),
    }
}

/// The fields that are no part of a preset: what is tried, and what it is called.
const CHOSEN: [&str; 10] = [
    "name",
    "preset_name",
    "tested",
    "palette",
    "reference",
    "white",
    "question",
    "pace",
    "was_question",
    "was_pace",
];

/// The questions and the kept plans.
pub(crate) struct Presets {
    pub own: Vec<(Preset, PlanForm)>,
}

impl Presets {
    /// With the kept plans; one that cannot be read any more is left out.
    pub fn new(kept: Vec<Preset>) -> Self {
        let read = |preset: Preset| {
            let form = serde_json::from_str(&preset.form).ok()?;
            Some((preset, form))
        };
        Self { own: kept.into_iter().filter_map(read).collect() }
    }

    fn own(&self, key: &str) -> Option<&PlanForm> {
        let id = self.kept_id(key)?;
        self.own.iter().find(|(preset, _)| preset.id == id).map(|(_, form)| form)
    }

    /// The number of the kept plan that a choice is, where there is one.
    pub fn kept_id(&self, key: &str) -> Option<i64> {
        let id: i64 = key.strip_prefix("own-")?.parse().ok()?;
        self.own.iter().any(|(preset, _)| preset.id == id).then_some(id)
    }

    /// The question that a choice asks.
    pub fn question(&self, key: &str) -> Question {
        let key = self.own(key).map_or(key, |form| form.question.as_str());
        key.parse().unwrap_or_default()
    }

    /// The pace that a choice is worked at: a kept plan has its own.
    pub fn pace(&self, question: &str, pace: &str) -> PlanPace {
        PlanPace::of(self.own(question).map_or(pace, |form| form.pace.as_str()))
    }

    /// The fields of a question at a pace.
    pub fn form(&self, question: &str, pace: &str) -> PlanForm {
        match self.own(question) {
            Some(form) => form.clone(),
            None => usual(self.question(question), PlanPace::of(pace)),
        }
    }

    /// The fields of a plan that is kept: everything but what is tried and what it is called.
    pub fn kept(&self, form: &PlanForm) -> Result<String, serde_json::Error> {
        let mut kept = fields(form);
        for key in CHOSEN {
            kept.remove(key);
        }
        kept.insert("question".into(), self.question(&form.question).to_string().into());
        kept.insert("pace".into(), self.pace(&form.question, &form.pace).key().into());
        serde_json::to_string(&kept)
    }

    /// The form with another question or pace: what was left as it was follows, what was changed stays.
    pub fn switched(&self, form: PlanForm) -> PlanForm {
        let (mut question, mut pace) = (form.question.clone(), form.pace.clone());
        if self.own(&question).is_some() {
            if form.was_question == question && form.was_pace != pace {
                // A kept plan at another pace is its question at that pace.
                question = self.question(&question).to_string();
            } else {
                pace = self.pace(&question, &pace).key().to_owned();
            }
        }
        let before = fields(&self.form(&form.was_question, &form.was_pace));
        let after = fields(&self.form(&question, &pace));
        let mut own = fields(&form);
        for (key, value) in &mut own {
            if before.get(key) == Some(value)
                && !CHOSEN.contains(&key.as_str())
                && let Some(usual) = after.get(key)
            {
                *value = usual.clone();
            }
        }
        let switched = serde_json::from_value(Value::Object(own)).unwrap_or(form);
        let (was_question, was_pace) = (question.clone(), pace.clone());
        PlanForm { question, pace, was_question, was_pace, ..switched }
    }

    /// True where something was chosen otherwise than the question is usually planned.
    pub fn differs(&self, form: &PlanForm) -> bool {
        let usual = fields(&self.form(&form.question, &form.pace));
        fields(form).iter().any(|(key, value)| {
            let chosen = CHOSEN.contains(&key.as_str());
            !chosen && usual.get(key) != Some(value)
        })
    }
}

fn fields(form: &PlanForm) -> Map<String, Value> {
    let Ok(Value::Object(mut fields)) = serde_json::to_value(form) else { return Map::new() };
    // Each list of a page ends in an empty line, which is nothing that was chosen.
    for (key, value) in &mut fields {
        if let Value::Array(lines) = value {
            if key == "ladder_share" {
                lines.truncate(form.ladder_from.iter().filter(|it| !it.trim().is_empty()).count());
            }
            while lines.last().and_then(Value::as_str).is_some_and(|it| it.trim().is_empty()) {
                lines.pop();
            }
        }
    }
    fields
}

/// What a question is planned with, as most practitioners would (common practice, no source).
fn usual(question: Question, pace: PlanPace) -> PlanForm {
    let text = |text: &str| text.to_owned();
    let (ticked, empty) = (|| TICKED.to_owned(), String::new);
    let base = PlanForm {
        star: ticked(),
        thinning: "medium".into(),
        question: question.to_string(),
        pace: pace.key().into(),
        ..PlanForm::default()
    };
    let form = match pace {
        PlanPace::Measured => PlanForm { opacity: ticked(), anchors: ticked(), ..base },
        PlanPace::ByEye => PlanForm {
            repeats: text("0"),
            steps: text("own"),
            own_steps: text("4:1, 1:4"),
            whites_alone: text("4"),
            whites_mixed: text("4"),
            basis: study::Basis::Eye.to_string(),
            places: text("24"),
            dots: ticked(),
            ..base
        },
        PlanPace::Teaching => PlanForm {
            repeats: text("0"),
            steps: text("own"),
            own_steps: text("1:1"),
            whites_alone: empty(),
            whites_mixed: text("1, 2"),
            basis: study::Basis::Eye.to_string(),
            least_pile: text("2"),
            side_mm: text("30"),
            wash_always: ticked(),
            ..base
        },
    };
    let measured = pace == PlanPace::Measured;
    let around = |form: PlanForm, count: &str| match pace {
        PlanPace::Measured => PlanForm { step_count: text(count), ..form },
        _ => PlanForm { own_steps: text("2:1, 1:1, 1:2"), ..form },
    };
    match question {
        Question::Mixes | Question::Free => form,
        Question::Stronger => {
            PlanForm { star: empty(), whites_alone: text("1, 2, 4, 8, 16"), ..form }
        }
        Question::Warmer => PlanForm {
            star: empty(),
            whites_alone: text(if measured { "1, 4, 16" } else { "4" }),
            tints: text("all"),
            ..form
        },
        Question::Cleanest => around(form, "3"),
        Question::Neutral => around(form, "5"),
        Question::WhiteAndWater => PlanForm {
            star: empty(),
            thinning: text("both"),
            whites_alone: text("1, 4, 16"),
            opacity: ticked(),
            lift: ticked(),
            ..form
        },
        Question::Replaceable => PlanForm {
            star: empty(),
            tints: text("all"),
            whites_alone: text(if measured { "1, 4, 16" } else { "4" }),
            ..form
        },
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Another pace brings its own values, and leaves alone what the user chose.
    #[test]
    fn what_was_changed_stays_and_the_rest_follows() {
        let presets = Presets::new(Vec::new());
        let form = PlanForm {
            own_steps: "3:1".into(),
            tested: vec!["Leaf Green".into()],
            // As a page sends them: each list with its empty line.
            ladder_from: vec![String::new()],
            ladder_share: vec!["20".into()],
            pace: "measured".into(),
            was_question: "mixes".into(),
            was_pace: "eye".into(),
            ..presets.form("mixes", "eye")
        };
        let switched = presets.switched(form.clone());
        assert_eq!(
            (switched.own_steps.as_str(), switched.repeats.as_str(), switched.dots.as_str()),
            ("3:1", "3", "")
        );
        assert_eq!((&switched.tested, switched.was_pace.as_str()), (&form.tested, "measured"));
        assert!(presets.differs(&switched));
        let as_usual = PlanForm { own_steps: "4:1, 1:4".into(), ..form };
        assert!(!presets.differs(&presets.switched(as_usual)));
        for question in Question::ALL {
            for pace in PlanPace::ALL {
                let usual = presets.form(&question.to_string(), pace.key());
                assert!(!presets.differs(&usual), "{question}");
            }
        }
    }

    /// A kept plan has its own pace; at another one it is its question again.
    #[test]
    fn a_kept_plan_is_chosen_like_a_question() {
        let greens = PlanForm {
            own_steps: "8:1, 1:1".into(),
            ..Presets::new(Vec::new()).form("cleanest", "eye")
        };
        let form = serde_json::to_string(&greens).expect("fields");
        let broken = Preset { id: 8, name: "Old".into(), form: "7".into() };
        let presets = Presets::new(vec![Preset { id: 7, name: "Greens".into(), form }, broken]);
        assert_eq!(presets.own.len(), 1);
        let chosen = presets.switched(PlanForm {
            question: "own-7".into(),
            was_question: "mixes".into(),
            was_pace: "measured".into(),
            pace: "measured".into(),
            ..presets.form("mixes", "measured")
        });
        assert_eq!((chosen.own_steps.as_str(), chosen.pace.as_str()), ("8:1, 1:1", "eye"));
        assert_eq!(presets.question(&chosen.question), Question::Cleanest);
        let measured = presets.switched(PlanForm { pace: "measured".into(), ..chosen });
        assert_eq!((measured.question.as_str(), measured.repeats.as_str()), ("cleanest", "3"));
    }
}
