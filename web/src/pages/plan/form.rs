//! A trial as it is chosen and typed.

use colour::{Conditions, Illuminant, Observer};
use garde::Validate;
use mixing::{Geometry, Sheen};
use serde::Deserialize;
use store::{Circumstances, NewTrial, TubeId};
use trial::plan::ChartError;
use trial::{Basis, Protocol};

use crate::pages::fields::{FieldErrors, amount, parses, read_number, required};

/// Most readings of one swatch.
const MOST_REPEATS: u32 = 10;

/// The fields of the trial form, as typed.
#[derive(Debug, Clone, Deserialize, Validate)]
pub(crate) struct TrialForm {
    #[garde(custom(required("give the trial a name that you will know it by")))]
    #[serde(default)]
    pub name: String,
    #[garde(skip)]
    #[serde(default)]
    pub tested: Vec<String>,
    #[garde(custom(required("choose the tube that each is mixed with")))]
    #[serde(default)]
    pub reference: String,
    #[garde(custom(required("choose the white")))]
    #[serde(default)]
    pub white: String,
    #[garde(custom(whole_repeats))]
    #[serde(default)]
    pub repeats: String,
    #[garde(custom(parses::<Basis>))]
    #[serde(default)]
    pub basis: String,
    #[garde(custom(amount(10.0, "g")))]
    #[serde(default)]
    pub scale_g: String,
    #[garde(custom(amount(100.0, "g")))]
    #[serde(default)]
    pub pile_g: String,
    #[garde(custom(parses::<Sheen>))]
    #[serde(default)]
    pub sheen: String,
    #[garde(custom(parses::<Illuminant>))]
    #[serde(default)]
    pub illuminant: String,
    #[garde(custom(parses::<Observer>))]
    #[serde(default)]
    pub observer: String,
}

fn whole_repeats(text: &str, _: &()) -> garde::Result {
    match text.trim().parse::<u32>() {
        Ok(1..=MOST_REPEATS) => Ok(()),
        _ => Err(garde::Error::new(format!("write a whole number from 1 to {MOST_REPEATS}"))),
    }
}

impl Default for TrialForm {
    fn default() -> Self {
        Self {
            name: String::new(),
            tested: Vec::new(),
            reference: String::new(),
            white: String::new(),
            repeats: "3".into(),
            basis: Basis::default().to_string(),
            scale_g: Protocol::ASSUMED_SCALE_G.to_string(),
            pile_g: "4".into(),
            sheen: Sheen::default().to_string(),
            illuminant: Illuminant::D65.to_string(),
            observer: Observer::Ten.to_string(),
        }
    }
}

impl TrialForm {
    /// The trial, or what is wrong at which field.
    pub fn trial(&self, geometry: Geometry, repeatability: f64) -> Result<NewTrial, FieldErrors> {
        let mut errors = self.validate().err().map(FieldErrors::from).unwrap_or_default();
        let id = |text: &String| text.trim().parse().map(TubeId).ok();
        let tested: Vec<TubeId> = self.tested.iter().filter_map(id).collect();
        let (Some(reference), Some(white), true) =
            (id(&self.reference), id(&self.white), errors.is_empty())
        else {
            if tested.is_empty() {
                errors.add("tested", ChartError::NothingTested.to_string());
            }
            errors.add("reference", "choose the tube that each is mixed with");
            errors.add("white", "choose the white");
            return Err(errors);
        };
        let (tubes, chart) = NewTrial::chart(&tested, reference, white);
        let swatches = chart.swatches().map_err(|error| {
            errors.add("tested", error.to_string());
            errors
        })?;
        let number = |text: &str| read_number(text).unwrap_or_default();
        Ok(NewTrial {
            name: self.name.trim().to_owned(),
            tubes,
            circumstances: Circumstances {
                conditions: Conditions {
                    illuminant: self.illuminant.parse().unwrap_or(Illuminant::D65),
                    observer: self.observer.parse().unwrap_or(Observer::Ten),
                },
                protocol: Protocol {
                    basis: self.basis.parse().unwrap_or_default(),
                    scale_g: number(&self.scale_g),
                    pile_g: number(&self.pile_g),
                    repeatability: Some(repeatability),
                    geometry,
                    sheen: self.sheen.parse().unwrap_or_default(),
                },
                repeats: self.repeats.trim().parse().unwrap_or(1),
            },
            swatches,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn form(tested: &[&str], reference: &str, white: &str) -> TrialForm {
        TrialForm {
            name: "Blues".into(),
            tested: tested.iter().map(|id| (*id).to_owned()).collect(),
            reference: reference.into(),
            white: white.into(),
            ..TrialForm::default()
        }
    }

    #[test]
    fn every_mistake_is_answered_at_its_field() {
        let cases = [
            (form(&[], "2", "3"), "tested", "choose at least one tube to test"),
            (form(&["1", "2"], "2", "3"), "tested", "a tube cannot be tried against itself"),
            (form(&["1"], "2", "2"), "tested", "a tube cannot be tried against itself"),
            (form(&["1", "4", "5", "6", "7"], "2", "3"), "tested", "5 tubes are too many"),
            (form(&["1"], "", "3"), "reference", "choose the tube that each is mixed with"),
            (
                TrialForm { scale_g: "0".into(), ..form(&["1"], "2", "3") },
                "scale_g",
                "0 g is out of range",
            ),
            (
                TrialForm { repeats: "0".into(), ..form(&["1"], "2", "3") },
                "repeats",
                "write a whole number",
            ),
            (
                TrialForm { name: String::new(), ..form(&["1"], "2", "3") },
                "name",
                "give the trial a name",
            ),
        ];
        for (form, field, message) in cases {
            let errors = form.trial(Geometry::default(), 0.05).expect_err(message);
            assert!(errors.at(field).starts_with(message), "{field}: {errors:?}");
        }
        let good =
            form(&["1", "4"], "2", "3").trial(Geometry::default(), 0.05).expect("a good form");
        // Bare backings, white, three tubes of eight squares, two pairs of nine.
        assert_eq!(good.swatches.len(), 3 + 3 + 3 * 8 + 2 * 9);
    }
}
