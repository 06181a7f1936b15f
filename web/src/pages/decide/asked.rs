//! Which palettes are asked for, as it stands in the address.

use serde::Deserialize;
use workshop::{Palette, PaletteId, Which, newest_palette};

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
        let usual = newest_palette(palettes).map_or("shelf".to_owned(), |id| id.0.to_string());
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
