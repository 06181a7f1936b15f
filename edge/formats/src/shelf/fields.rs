//! Every column of the shelf, once: how it is read, written and compared.

use std::fmt::Display;
use std::str::FromStr;

use study::names::{self, NameError};
use study::{ColourIndexName, Tube};

/// One column.
pub(super) struct Field {
    pub column: &'static str,
    pub get: fn(&Tube) -> String,
    /// Takes a cell over, or says what would be right.
    pub set: fn(&mut Tube, &str) -> Result<(), String>,
}

/// Most letters of a note.
const LONGEST_NOTE: usize = 500;

pub(super) const FIELDS: [Field; 19] = [
    Field { column: "maker", get: |t| t.maker.clone(), set: |t, cell| text(&mut t.maker, cell) },
    Field { column: "line", get: |t| t.line.clone(), set: |t, cell| text(&mut t.line, cell) },
    Field { column: "name", get: |t| t.name.clone(), set: name },
    Field { column: "codes", get: Tube::code, set: codes },
    Field {
        column: "grade",
        get: |t| t.grade.to_string(),
        set: |t, cell| word(&mut t.grade, cell),
    },
    Field {
        column: "medium",
        get: |t| t.medium.to_string(),
        set: |t, cell| word(&mut t.medium, cell),
    },
    Field { column: "volume_ml", get: |t| maybe(t.volume_ml), set: volume },
    Field { column: "left_ml", get: |t| maybe(t.left_ml), set: left },
    Field { column: "density_g_ml", get: |t| maybe(t.density_g_ml), set: density },
    Field {
        column: "opacity",
        get: |t| t.opacity.clone(),
        set: |t, cell| text(&mut t.opacity, cell),
    },
    Field {
        column: "lightfastness",
        get: |t| t.lightfastness.clone(),
        set: |t, cell| text(&mut t.lightfastness, cell),
    },
    Field { column: "series", get: |t| t.series.clone(), set: |t, cell| text(&mut t.series, cell) },
    Field { column: "price", get: |t| t.price.clone(), set: |t, cell| text(&mut t.price, cell) },
    Field { column: "batch", get: |t| t.batch.clone(), set: |t, cell| text(&mut t.batch, cell) },
    Field {
        column: "bought_on",
        get: |t| maybe(t.bought_on),
        set: |t, cell| optional(&mut t.bought_on, cell),
    },
    Field {
        column: "tested_on",
        get: |t| maybe(t.tested_on),
        set: |t, cell| optional(&mut t.tested_on, cell),
    },
    Field { column: "notes", get: |t| t.notes.clone(), set: notes },
    Field {
        column: "chosen_mass_tone",
        get: |t| maybe(t.look.mass_tone),
        set: |t, cell| optional(&mut t.look.mass_tone, cell),
    },
    Field {
        column: "chosen_tint",
        get: |t| maybe(t.look.tint),
        set: |t, cell| optional(&mut t.look.tint, cell),
    },
];

fn text(into: &mut String, cell: &str) -> Result<(), String> {
    names::check(cell).map_err(|error| error.to_string())?;
    cell.clone_into(into);
    Ok(())
}

/// Notes may have lines and be longer than a name.
fn notes(tube: &mut Tube, cell: &str) -> Result<(), String> {
    if cell.chars().count() > LONGEST_NOTE {
        return Err(format!("more than {LONGEST_NOTE} letters; shorten it"));
    }
    if let Some(at) = cell.chars().position(|it| names::is_hidden(it) && !"\r\n\t".contains(it)) {
        return Err(NameError::Hidden(at + 1).to_string());
    }
    cell.clone_into(&mut tube.notes);
    Ok(())
}

fn name(tube: &mut Tube, cell: &str) -> Result<(), String> {
    if cell.is_empty() {
        return Err("empty; give the tube the name on its label".into());
    }
    text(&mut tube.name, cell)
}

fn codes(tube: &mut Tube, cell: &str) -> Result<(), String> {
    tube.codes = ColourIndexName::parse_list(cell).map_err(|error| error.to_string())?;
    Ok(())
}

/// An empty cell is the usual value.
fn word<T: FromStr<Err: Display> + Default>(into: &mut T, cell: &str) -> Result<(), String> {
    *into = if cell.is_empty() {
        T::default()
    } else {
        cell.parse().map_err(|error: T::Err| error.to_string())?
    };
    Ok(())
}

fn optional<T: FromStr<Err: Display>>(into: &mut Option<T>, cell: &str) -> Result<(), String> {
    *into = if cell.is_empty() {
        None
    } else {
        Some(cell.parse().map_err(|error: T::Err| error.to_string())?)
    };
    Ok(())
}

fn volume(tube: &mut Tube, cell: &str) -> Result<(), String> {
    tube.volume_ml = millilitres(cell)?;
    match tube.volume_ml {
        Some(volume) if volume <= 0.0 => Err("0 ml; write more than 0, or leave it empty".into()),
        _ => Ok(()),
    }
}

fn left(tube: &mut Tube, cell: &str) -> Result<(), String> {
    tube.left_ml = millilitres(cell)?;
    Ok(())
}

fn density(tube: &mut Tube, cell: &str) -> Result<(), String> {
    if cell.is_empty() {
        tube.density_g_ml = None;
        return Ok(());
    }
    match cell.replace(',', ".").parse::<f64>() {
        Ok(density) if Tube::DENSITIES.contains(&density) => tube.density_g_ml = Some(density),
        Ok(density) => return Err(format!("{density} g/ml; paint weighs 0.5 to 5 g/ml")),
        Err(_) => return Err(format!("“{cell}” is not a number; write g/ml such as 1.3")),
    }
    Ok(())
}

fn millilitres(cell: &str) -> Result<Option<f64>, String> {
    if cell.is_empty() {
        return Ok(None);
    }
    match cell.replace(',', ".").parse::<f64>() {
        Ok(amount) if (0.0..=5000.0).contains(&amount) => Ok(Some(amount)),
        Ok(_) => Err(format!("“{cell}” is out of range; write 0 to 5000 ml")),
        Err(_) => Err(format!("“{cell}” is not a number; write ml such as 60")),
    }
}

fn maybe(value: Option<impl Display>) -> String {
    value.map_or_else(String::new, |value| value.to_string())
}
