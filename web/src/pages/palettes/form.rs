//! A palette as it is filled in: one field for each role, named after it.

use study::palette::{Filled, PaletteRole, School};
use workshop::{NewPalette, Palette, ShelfTube};

use crate::pages::fields::{FieldErrors, required};
use crate::pages::names::TubeNames;

/// The fields, as typed.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub(crate) struct PaletteForm {
    pub name: String,
    pub school: School,
    /// One for each role of the school, in its order.
    pub tubes: Vec<String>,
}

/// What was understood of a form.
pub(crate) struct Understood<'a> {
    pub filled: Vec<(PaletteRole, &'a ShelfTube)>,
    pub errors: FieldErrors,
}

impl PaletteForm {
    /// From the pairs of a request. What was typed for another school's role of the same name is
    /// kept; a free palette takes every colour.
    pub fn read(pairs: &[(String, String)]) -> Self {
        let value = |name: &str| {
            pairs.iter().find(|(key, _)| key == name).map(|(_, text)| text.trim().to_owned())
        };
        // A button that asks for another template sends its school after the present one.
        let asked = pairs.iter().rev().find(|(key, _)| key == "school");
        let school: School = asked.and_then(|(_, text)| text.parse().ok()).unwrap_or_default();
        let mut free = pairs
            .iter()
            .filter(|(key, text)| {
                let role = key.parse::<PaletteRole>();
                role.is_ok_and(|role| role != PaletteRole::White) && !text.trim().is_empty()
            })
            .map(|(_, text)| text.trim().to_owned());
        let field = |role: &PaletteRole| match role {
            PaletteRole::Any => free.next().unwrap_or_default(),
            role => value(&role.to_string()).unwrap_or_default(),
        };
        Self {
            name: value("name").unwrap_or_default(),
            tubes: school.roles().iter().map(field).collect(),
            school,
        }
    }

    /// From a palette, to be changed.
    pub fn of(palette: &Palette, names: &TubeNames<'_>) -> Self {
        let mut left: Vec<_> = palette.tubes.iter().collect();
        let field = |role: &PaletteRole| {
            let at = left.iter().position(|(known, _)| known == role);
            at.map_or_else(String::new, |at| names.of(left.remove(at).1.id))
        };
        Self {
            name: palette.name.clone(),
            school: palette.school,
            tubes: palette.school.roles().iter().map(field).collect(),
        }
    }

    /// The tubes, and what is wrong at which field.
    pub fn understood<'a>(&self, names: &'a TubeNames<'a>) -> Understood<'a> {
        let mut errors = FieldErrors::default();
        errors.check("name", required("give the palette a name")(&self.name, &()));
        let mut filled = Vec::new();
        for (at, (role, text)) in self.school.roles().into_iter().zip(&self.tubes).enumerate() {
            if text.is_empty() {
                continue;
            }
            match names.find(text) {
                Ok(tube) => filled.push((role, tube)),
                Err(message) => errors.add(&format!("role-{at}"), message),
            }
        }
        if filled.is_empty() {
            errors.add("role-0", "choose at least one tube");
        }
        Understood { filled, errors }
    }
}

impl Understood<'_> {
    /// The palette to be stored.
    pub fn palette(&self, form: &PaletteForm) -> NewPalette {
        NewPalette {
            name: form.name.clone(),
            school: form.school,
            tubes: self.filled.iter().map(|(role, tube)| (*role, tube.id)).collect(),
        }
    }

    /// For the remarks of the core.
    pub fn roles(&self, hue: impl Fn(&ShelfTube) -> Option<colour::Hue>) -> Vec<Filled> {
        let role = |(role, tube): &(PaletteRole, &ShelfTube)| Filled {
            role: *role,
            tube: tube.id.0,
            label: tube.tube.label(),
            hue: hue(tube),
            medium: tube.tube.medium,
        };
        self.filled.iter().map(role).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn another_template_keeps_what_it_can() {
        let pairs: Vec<(String, String)> = [
            ("name", " Workshop "),
            ("school", "split"),
            ("school", "free"),
            ("cool-yellow", "Lantern Yellow"),
            ("warm-blue", ""),
            ("orange", "Organ Orange"),
            ("white", "Workshop Titanium"),
        ]
        .map(|(key, text)| (key.to_owned(), text.to_owned()))
        .into();
        let form = PaletteForm::read(&pairs);
        assert_eq!((form.name.as_str(), form.school), ("Workshop", School::Free));
        assert_eq!(form.tubes[..2], ["Lantern Yellow", "Organ Orange"]);
        assert_eq!(form.tubes.last().map(String::as_str), Some("Workshop Titanium"));
        let split: Vec<_> = pairs.into_iter().filter(|(key, _)| key != "school").collect();
        let form = PaletteForm::read(&split);
        assert_eq!(form.tubes[0], "Lantern Yellow");
        assert_eq!(form.tubes[2], "Organ Orange");
    }
}
