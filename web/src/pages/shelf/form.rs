//! A tube as it is typed.

use garde::Validate;
use serde::Deserialize;
use study::{ColourIndexName, Day, Grade, Medium, Tube};

use crate::pages::fields::{FieldErrors, amount, long, parses, read_number, required, short};

/// The fields of the tube form, as typed.
#[derive(Debug, Clone, Deserialize, Validate)]
pub(crate) struct TubeForm {
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
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

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
