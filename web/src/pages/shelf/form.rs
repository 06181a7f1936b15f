//! A tube as it is typed.

use garde::Validate;
use serde::Deserialize;
use trial::{ColourIndexName, Grade, Medium, Tube};

use crate::pages::fields::{FieldErrors, amount, parses, read_number, required, short};

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
}

fn colour_index_names(text: &str, _: &()) -> garde::Result {
    ColourIndexName::parse_list(text).map(|_| ()).map_err(garde::Error::new)
}

impl Default for TubeForm {
    fn default() -> Self {
        let empty = String::new;
        Self {
            maker: empty(),
            line: empty(),
            name: empty(),
            codes: empty(),
            grade: Grade::default().to_string(),
            medium: Medium::default().to_string(),
            volume_ml: empty(),
        }
    }
}

impl TubeForm {
    /// The form filled with what is known of a tube.
    pub fn of(tube: &Tube) -> Self {
        Self {
            maker: tube.maker.clone(),
            line: tube.line.clone(),
            name: tube.name.clone(),
            codes: tube.code(),
            grade: tube.grade.to_string(),
            medium: tube.medium.to_string(),
            volume_ml: tube.volume_ml.map_or_else(String::new, |volume| volume.to_string()),
        }
    }

    /// The tube, or what is wrong at which field.
    pub fn tube(&self) -> Result<Tube, FieldErrors> {
        self.validate()?;
        Ok(Tube {
            maker: self.maker.trim().to_owned(),
            line: self.line.trim().to_owned(),
            name: self.name.trim().to_owned(),
            codes: ColourIndexName::parse_list(&self.codes).unwrap_or_default(),
            grade: self.grade.parse().unwrap_or_default(),
            medium: self.medium.parse().unwrap_or_default(),
            volume_ml: read_number(&self.volume_ml).unwrap_or_default(),
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
        assert!(errors.at("maker").is_empty());
    }
}
