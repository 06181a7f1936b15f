//! What is asked, as it stands in the address.

use colour::Lab;
use serde::Deserialize;
use store::{Palette, PaletteId, TrialId, TubeId};
use workshop::{Aim, RecipeRequest, Which};

/// The target and the tubes of a recipe. A field that is left out is the usual one.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct RecipeAsked {
    /// Number of a tube.
    pub tube: Option<i64>,
    /// A square of a trial: `TRIAL.NUMBER`.
    pub swatch: String,
    /// `L,a,b`.
    pub lab: String,
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
    /// The request; `None` where there is no target yet.
    pub fn request(&self, palettes: &[Palette]) -> Result<Option<RecipeRequest>, String> {
        let Some(aim) = self.aim()? else { return Ok(None) };
        let from = match (self.take.is_empty(), self.from.as_str()) {
            (false, _) => Which::These(self.take.iter().map(|id| TubeId(*id)).collect()),
            (true, "") => newest(palettes).map_or(Which::Shelf, Which::Palette),
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

    fn aim(&self) -> Result<Option<Aim>, String> {
        if let Some(tube) = self.tube {
            if !self.lab.trim().is_empty() {
                return Err(
                    "either a tube is to be mixed or a colour: leave one of the two empty".into()
                );
            }
            return Ok(Some(Aim::Tube(TubeId(tube))));
        }
        if !self.swatch.is_empty() {
            let numbers = self.swatch.split_once('.');
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
                Ok(Some(Aim::Colour(Lab::new(*l, *a, *b))))
            }
            _ => Err(format!(
                "“{}” is no colour: three numbers are, L* from 0 to 100, a* and b* within ±150, as in 45, -30, 20",
                self.lab
            )),
        }
    }
}

/// A request as fields of an address.
pub(super) fn fields(request: &RecipeRequest) -> String {
    let aim = match &request.aim {
        Aim::Tube(tube) => format!("tube={}", tube.0),
        Aim::Swatch(trial, number) => format!("swatch={}.{number}", trial.0),
        Aim::Colour(lab) => format!("lab={:.2},{:.2},{:.2}", lab.l, lab.a, lab.b),
    };
    let from = match &request.from {
        Which::Shelf => "&from=shelf".to_owned(),
        Which::Palette(id) => format!("&from={}", id.0),
        Which::These(tubes) => tubes.iter().map(|tube| format!("&take={}", tube.0)).collect(),
    };
    let white = if request.white { "" } else { "&white=no" };
    format!("{aim}{from}&most={}{white}", request.most)
}

fn known(palettes: &[Palette], id: i64) -> Option<PaletteId> {
    palettes.iter().find(|it| it.id.0 == id).map(|it| it.id)
}

/// The newest palette that nothing took the place of.
fn newest(palettes: &[Palette]) -> Option<PaletteId> {
    let current = palettes.iter().filter(|it| it.replaced_by.is_none());
    current.map(|it| it.id).max_by_key(|id| id.0)
}

/// Which palette's reach is asked for, and beside which.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct ReachAsked {
    pub palette: String,
    pub beside: String,
}

/// The palettes that can be chosen, with those that are.
pub(crate) struct PaletteChoice {
    /// Value, name, whether it is chosen, and whether it stands beside.
    pub options: Vec<(String, String, bool, bool)>,
    chosen: String,
    beside: String,
}

impl PaletteChoice {
    pub fn new(palettes: &[Palette], chosen: &str, beside: &str) -> Self {
        let usual = newest(palettes).map_or("shelf".to_owned(), |id| id.0.to_string());
        let mut options: Vec<(String, String)> = palettes
            .iter()
            .filter(|it| it.replaced_by.is_none())
            .map(|it| (it.id.0.to_string(), it.name.clone()))
            .collect();
        options.push(("shelf".into(), "the whole shelf".into()));
        let is_known = |value: &str| options.iter().any(|(known, _)| known == value);
        let chosen = if is_known(chosen) { chosen.to_owned() } else { usual };
        let beside =
            if is_known(beside) && beside != chosen { beside.to_owned() } else { String::new() };
        let options = options
            .into_iter()
            .map(|(value, name)| {
                let (is_chosen, is_beside) = (value == chosen, value == beside);
                (value, name, is_chosen, is_beside)
            })
            .collect();
        Self { options, chosen, beside }
    }

    pub fn which(&self) -> Which {
        which(&self.chosen)
    }

    pub fn beside_which(&self) -> Option<Which> {
        (!self.beside.is_empty()).then(|| which(&self.beside))
    }

    /// What the chosen one is called.
    pub fn name(&self) -> &str {
        self.options.iter().find(|it| it.2).map_or("the whole shelf", |it| it.1.as_str())
    }

    /// What the one beside it is called.
    pub fn beside_name(&self) -> &str {
        self.options.iter().find(|it| it.3).map_or("", |it| it.1.as_str())
    }
}

fn which(value: &str) -> Which {
    value.parse().map_or(Which::Shelf, |id| Which::Palette(PaletteId(id)))
}
