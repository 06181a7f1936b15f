//! A tube as it is typed.

use garde::Validate;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value};
use study::{ColourIndexName, Day, Grade, Medium, Tube, TubeLook};

use crate::pages::fields::{FieldErrors, amount, long, parses, read_number, required, short};

/// The fields of the tube form, as typed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, Validate)]
pub(crate) struct TubeForm {
    /// The record as the page was opened with, as JSON of these fields; empty for a new tube.
    #[garde(skip)]
    #[serde(default, skip_serializing)]
    pub read: String,
    #[garde(custom(short))]
    #[serde(default)]
    pub maker: String,
    #[garde(custom(short))]
    #[serde(default)]
    pub line: String,
    #[garde(custom(required("give the tube the name on its label")))]
    #[serde(default)]
    pub name: String,
    #[garde(custom(colour_index_names))]
    #[serde(default)]
    pub codes: String,
    #[garde(custom(parses::<Grade>))]
    #[serde(default)]
    pub grade: String,
    #[garde(custom(parses::<Medium>))]
    #[serde(default)]
    pub medium: String,
    #[garde(custom(amount(5000.0, "ml")))]
    #[serde(default)]
    pub volume_ml: String,
    #[garde(custom(what_is_left))]
    #[serde(default)]
    pub left_ml: String,
    #[garde(custom(density))]
    #[serde(default)]
    pub density_g_ml: String,
    #[garde(custom(short))]
    #[serde(default)]
    pub opacity: String,
    #[garde(custom(short))]
    #[serde(default)]
    pub lightfastness: String,
    #[garde(custom(short))]
    #[serde(default)]
    pub series: String,
    #[garde(custom(short))]
    #[serde(default)]
    pub price: String,
    #[garde(custom(short))]
    #[serde(default)]
    pub batch: String,
    #[garde(custom(day))]
    #[serde(default)]
    pub bought_on: String,
    #[garde(custom(day))]
    #[serde(default)]
    pub tested_on: String,
    #[garde(custom(long))]
    #[serde(default)]
    pub notes: String,
}

fn density(text: &str, _: &()) -> garde::Result {
    match read_number(text) {
        Ok(None) => Ok(()),
        Ok(Some(density)) if Tube::DENSITIES.contains(&density) => Ok(()),
        _ => Err(garde::Error::new(
            "1 ml of paint weighs 0.5 to 5 g; write g/ml such as 1.3, or leave it empty",
        )),
    }
}

/// An empty tube still stands on the shelf.
fn what_is_left(text: &str, context: &()) -> garde::Result {
    match read_number(text) {
        Ok(Some(0.0)) => Ok(()),
        _ => amount(5000.0, "ml")(text, context),
    }
}

fn day(text: &str, context: &()) -> garde::Result {
    if text.trim().is_empty() { Ok(()) } else { parses::<Day>(text, context) }
}

fn colour_index_names(text: &str, _: &()) -> garde::Result {
    ColourIndexName::parse_list(text).map(|_| ()).map_err(garde::Error::new)
}

impl Default for TubeForm {
    fn default() -> Self {
        Self::of(&Tube::default())
    }
}

impl TubeForm {
    /// The form filled with what is known of a tube.
    pub fn of(tube: &Tube) -> Self {
        let number = |amount: Option<f64>| amount.map_or_else(String::new, |it| it.to_string());
        let day = |day: Option<Day>| day.map_or_else(String::new, |it| it.to_string());
        Self {
            read: String::new(),
            maker: tube.maker.clone(),
            line: tube.line.clone(),
            name: tube.name.clone(),
            codes: tube.code(),
            grade: tube.grade.to_string(),
            medium: tube.medium.to_string(),
            volume_ml: number(tube.volume_ml),
            left_ml: number(tube.left_ml),
            density_g_ml: number(tube.density_g_ml),
            opacity: tube.opacity.clone(),
            lightfastness: tube.lightfastness.clone(),
            series: tube.series.clone(),
            price: tube.price.clone(),
            batch: tube.batch.clone(),
            bought_on: day(tube.bought_on),
            tested_on: day(tube.tested_on),
            notes: tube.notes.clone(),
        }
    }

    /// The same, to be changed: it keeps the record as it is now.
    pub fn to_change(tube: &Tube) -> Self {
        Self::of(tube).read_as(tube)
    }

    fn read_as(self, tube: &Tube) -> Self {
        // A list of texts can always be written.
        Self { read: serde_json::to_string(&Self::of(tube)).unwrap_or_default(), ..self }
    }

    /// What was typed, put into the record as it is `now`, which another page may have changed meanwhile. Fields that
    /// only one of the two changed are taken from it; at those that both changed what was typed stays, and the other
    /// one is told.
    pub fn merged(self, now: &Tube) -> (Self, FieldErrors) {
        let mut told = FieldErrors::default();
        let stored = Self::of(now);
        let fields = |form: &Self| match serde_json::to_value(form) {
            Ok(Value::Object(fields)) => fields,
            _ => Map::new(),
        };
        let read = serde_json::from_str::<Self>(&self.read)
            .map_or_else(|_| fields(&stored), |it| fields(&it));
        let (stored, mut merged) = (fields(&stored), fields(&self));
        for (field, typed) in &mut merged {
            let (was, is) = (text_of(read.get(field)), text_of(stored.get(field)));
            let mine = text_of(Some(typed));
            if mine == was {
                *typed = Value::String(is);
            } else if is != was && is != mine {
                let is = if is.is_empty() { "nothing".into() } else { format!("“{is}”") };
                told.add(
                    field,
                    format!(
                        "another page stored {is} here meanwhile; save again to keep what you typed"
                    ),
                );
            }
        }
        let form = serde_json::from_value::<Self>(Value::Object(merged)).unwrap_or(self);
        (form.read_as(now), told)
    }

    /// The tube, or what is wrong at which field.
    pub fn tube(&self) -> Result<Tube, FieldErrors> {
        self.validate()?;
        let text = |text: &str| text.trim().to_owned();
        Ok(Tube {
            maker: text(&self.maker),
            line: text(&self.line),
            name: text(&self.name),
            codes: ColourIndexName::parse_list(&self.codes).unwrap_or_default(),
            grade: self.grade.parse().unwrap_or_default(),
            medium: self.medium.parse().unwrap_or_default(),
            volume_ml: read_number(&self.volume_ml).unwrap_or_default(),
            left_ml: read_number(&self.left_ml).unwrap_or_default(),
            density_g_ml: read_number(&self.density_g_ml).unwrap_or_default(),
            opacity: text(&self.opacity),
            lightfastness: text(&self.lightfastness),
            series: text(&self.series),
            price: text(&self.price),
            batch: text(&self.batch),
            bought_on: self.bought_on.parse().ok(),
            tested_on: self.tested_on.parse().ok(),
            notes: text(&self.notes),
            look: TubeLook::default(),
        })
    }
}

/// A field without the spaces at its ends, lines ended as they are stored.
fn text_of(value: Option<&Value>) -> String {
    value.and_then(Value::as_str).unwrap_or_default().replace("\r\n", "\n").trim().to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Two pages were opened with one record; the first stored notes.
    #[test]
    fn what_two_pages_changed_is_put_together_and_told_where_they_differ() {
        let read = Tube { name: "Lantern Yellow".into(), ..Tube::default() };
        let now = Tube { notes: "for the roof".into(), volume_ml: Some(60.0), ..read.clone() };
        let typed =
            TubeForm { volume_ml: "59".into(), left_ml: "12".into(), ..TubeForm::to_change(&read) };
        let (merged, told) = typed.merged(&now);
        assert_eq!(
            (&*merged.notes, &*merged.left_ml, &*merged.volume_ml),
            ("for the roof", "12", "59")
        );
        let all: Vec<_> = told.all().collect();
        let both = "another page stored “60” here meanwhile; save again to keep what you typed";
        assert_eq!(all, [("volume_ml", both)]);
        // Saved again, it is what is kept.
        let (kept, told) = merged.merged(&now);
        assert!(told.is_empty());
        assert_eq!(
            kept.tube().expect("a tube"),
            Tube { volume_ml: Some(59.0), left_ml: Some(12.0), ..now }
        );
    }

    #[test]
    fn a_good_form_is_a_tube_and_a_bad_one_says_where() {
        let good = TubeForm {
            name: " Canopy Ultramarine ".into(),
            codes: "pb29, PB15:3".into(),
            volume_ml: "59,5".into(),
            ..TubeForm::default()
        };
        let tube = good.tube().expect("a good form");
        assert_eq!(
            (tube.name.as_str(), tube.code().as_str()),
            ("Canopy Ultramarine", "PB29 PB15:3")
        );
        assert_eq!(tube.volume_ml, Some(59.5));

        let bad = TubeForm {
            name: "  ".into(),
            codes: "PB29 Blue".into(),
            grade: "studio".into(),
            volume_ml: "-3".into(),
            left_ml: "0".into(),
            bought_on: "3.10.2026".into(),
            batch: "K\u{202e}114".into(),
            series: "=1+1".into(),
            ..TubeForm::default()
        };
        let errors = bad.tube().expect_err("a bad form");
        assert_eq!(errors.at("name"), "give the tube the name on its label");
        assert!(errors.at("codes").starts_with("“Blue” is not a Colour Index name"));
        assert_eq!(errors.at("grade"), "unknown grade “studio”; use artist or student");
        assert_eq!(
            errors.at("volume_ml"),
            "-3 ml is out of range; write more than 0 and up to 5000"
        );
        assert_eq!(errors.at("bought_on"), "unknown day “3.10.2026”; use a day as 2026-11-25");
        assert!(errors.at("batch").starts_with("letter 2 is one that is not seen"));
        assert!(errors.at("series").is_empty());
        assert!(errors.at("maker").is_empty() && errors.at("left_ml").is_empty());
    }
}
