//! A recipe's target and tubes as fields of an address: what a page is asked, and what a recipe's design keeps of its
//! aim.

use colour::{Lab, UnknownName};
use serde::Deserialize;
use store::{Palette, PaletteId, TrialId, TubeId};

use super::recipe::{Aim, RecipeRequest};
use crate::knowledge::Which;

/// The target and the tubes of a recipe. A field that is left out is the usual one.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub struct RecipeAsked {
    /// Number of a tube.
    pub tube: Option<i64>,
    /// A square of a trial: `TRIAL.NUMBER`.
    pub swatch: String,
    /// `L,a,b`.
    pub lab: String,
    /// The light it is under, `D50/2`; that of the shelf's readings where nothing is said.
    pub light: String,
    /// `shelf`, or the number of a palette; the newest palette where nothing is said.
    pub from: String,
    /// Tubes that may be taken, in place of a palette.
    pub take: Vec<i64>,
    /// Most colours.
    pub most: String,
    /// `no` for recipes without white.
    pub white: String,
}

impl RecipeAsked {
    /// From the aim of a recipe's design; nothing is asked where it is none.
    #[must_use]
    pub fn from_fields(text: &str) -> Self {
        serde_html_form::from_str(text).unwrap_or_default()
    }

    /// The request; `None` where there is no target yet.
    ///
    /// # Errors
    /// What is wrong with a field, in words.
    pub fn request(&self, palettes: &[Palette]) -> Result<Option<RecipeRequest>, String> {
        let Some(aim) = self.aim()? else { return Ok(None) };
        let from = match (self.take.is_empty(), self.from.as_str()) {
            (false, _) => Which::These(self.take.iter().map(|id| TubeId(*id)).collect()),
            (true, "") => newest_palette(palettes).map_or(Which::Shelf, Which::Palette),
            (true, "shelf") => Which::Shelf,
            (true, number) => match number.parse().ok().and_then(|id| known(palettes, id)) {
                Some(palette) => Which::Palette(palette),
                None => return Err("there is no such palette: choose one of the list".into()),
            },
        };
        let most = match self.most.as_str() {
            "" => 3,
            number => number
                .parse()
                .ok()
                .filter(|most| (1..=decide::MOST_COLOURS).contains(most))
                .ok_or("a recipe takes 1 to 4 colours besides the white")?,
        };
        Ok(Some(RecipeRequest { aim, from, most, white: self.white != "no" }))
    }

    /// What is to be mixed; `None` where nothing is said.
    pub(super) fn aim(&self) -> Result<Option<Aim>, String> {
        let said =
            [self.tube.is_some(), !self.swatch.trim().is_empty(), !self.lab.trim().is_empty()];
        if said.into_iter().filter(|it| *it).count() > 1 {
            return Err(
                "either a tube is to be mixed, or a square, or a colour: leave the others empty"
                    .into(),
            );
        }
        if let Some(tube) = self.tube {
            return Ok(Some(Aim::Tube(TubeId(tube))));
        }
        if !self.swatch.trim().is_empty() {
            let numbers = self.swatch.trim().split_once('.');
            let numbers = numbers
                .and_then(|(trial, number)| Some((trial.parse().ok()?, number.parse().ok()?)));
            let (trial, number) =
                numbers.ok_or("a square is named by its trial and its number, as in 3.12")?;
            return Ok(Some(Aim::Swatch(TrialId(trial), number)));
        }
        if self.lab.trim().is_empty() {
            return Ok(None);
        }
        // A semicolon between, where a comma is the decimal mark.
        let by = if self.lab.contains(';') { ';' } else { ',' };
        let numbers = self.lab.split(by).map(|it| it.trim().replace(',', ".").replace('−', "-"));
        let numbers: Vec<Option<f64>> = numbers.map(|it| it.parse().ok()).collect();
        match numbers.as_slice() {
            [Some(l), Some(a), Some(b)]
                if (0.0..=100.0).contains(l) && a.abs() <= 150.0 && b.abs() <= 150.0 =>
            {
                let light = match self.light.as_str() {
                    "" => None,
                    light => Some(light.parse().map_err(|error: UnknownName| error.to_string())?),
                };
                Ok(Some(Aim::Colour(Lab::new(*l, *a, *b), light)))
            }
            _ => Err(format!(
                "“{}” is no colour: three numbers are, L* from 0 to 100, a* and b* within ±150, as in 45, -30, 20",
                self.lab
            )),
        }
    }
}

impl RecipeRequest {
    /// As fields of an address.
    #[must_use]
    pub fn as_fields(&self) -> String {
        let aim = match &self.aim {
            Aim::Tube(tube) => format!("tube={}", tube.0),
            Aim::Swatch(trial, number) => format!("swatch={}.{number}", trial.0),
            Aim::Colour(lab, light) => {
                let light = light.map(|it| format!("&light={}/{}", it.illuminant, it.observer));
                let light = light.unwrap_or_default();
                format!("lab={:.2},{:.2},{:.2}{light}", lab.l, lab.a, lab.b)
            }
        };
        let from = match &self.from {
            Which::Shelf => "&from=shelf".to_owned(),
            Which::Palette(id) => format!("&from={}", id.0),
            Which::These(tubes) => tubes.iter().map(|tube| format!("&take={}", tube.0)).collect(),
        };
        let white = if self.white { "" } else { "&white=no" };
        format!("{aim}{from}&most={}{white}", self.most)
    }
}

fn known(palettes: &[Palette], id: i64) -> Option<PaletteId> {
    palettes.iter().find(|it| it.id.0 == id).map(|it| it.id)
}

/// The newest palette that nothing took the place of.
#[must_use]
pub fn newest_palette(palettes: &[Palette]) -> Option<PaletteId> {
    let current = palettes.iter().filter(|it| it.replaced_by.is_none());
    current.map(|it| it.id).max_by_key(|id| id.0)
}
