//! What an import would do, line by line.

use std::collections::HashMap;

use study::Tube;

use super::fields::FIELDS;
use super::read::ShelfRow;

/// One line with its verdict.
#[derive(Debug, Clone, PartialEq)]
pub struct ShelfEntry {
    /// Line of the file, from 1.
    pub line: u64,
    /// The tube as the line calls it.
    pub name: String,
    /// What would happen.
    pub verdict: Verdict,
}

/// What would happen to a line.
#[derive(Debug, Clone, PartialEq)]
pub enum Verdict {
    /// A new tube.
    Add(Tube),
    /// A tube of the shelf would be corrected.
    Correct {
        /// Its place in the shelf.
        place: usize,
        /// How it would stand then.
        tube: Tube,
        /// What would be another.
        changes: Vec<Change>,
    },
    /// The shelf says the same already.
    Same,
    /// The line cannot be taken over; column and reason.
    Refuse(String),
}

/// One field that would change.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Change {
    /// Column.
    pub column: &'static str,
    /// As it stands.
    pub from: String,
    /// As it would stand.
    pub to: String,
}

/// Judges every row against the shelf. A tube is known again by maker, line and name, without
/// regard to capitals; the second row for one tube is refused.
#[must_use]
pub fn preview(rows: &[ShelfRow], shelf: &[&Tube]) -> Vec<ShelfEntry> {
    let places: HashMap<Key, usize> =
        shelf.iter().enumerate().rev().map(|(at, tube)| (key(tube), at)).collect();
    let mut seen: HashMap<Key, u64> = HashMap::new();
    rows.iter()
        .map(|row| {
            let verdict = judge(row, shelf, &places, &mut seen).unwrap_or_else(Verdict::Refuse);
            ShelfEntry { line: row.line, name: cell(row, "name").to_owned(), verdict }
        })
        .collect()
}

type Key = (String, String, String);

fn key(tube: &Tube) -> Key {
    (tube.maker.to_lowercase(), tube.line.to_lowercase(), tube.name.to_lowercase())
}

fn cell<'a>(row: &'a ShelfRow, column: &str) -> &'a str {
    let found = row.cells.iter().find(|(field, _)| FIELDS[*field].column == column);
    found.map_or("", |(_, cell)| cell.as_str())
}

fn judge(
    row: &ShelfRow,
    shelf: &[&Tube],
    places: &HashMap<Key, usize>,
    seen: &mut HashMap<Key, u64>,
) -> Result<Verdict, String> {
    if let Some((found, expected)) = row.ragged {
        return Err(format!("this row has {found} cells, and the header row has {expected}"));
    }
    let named = apply(row, Tube::default())?;
    let key = key(&named);
    if let Some(first) = seen.insert(key.clone(), row.line) {
        return Err(format!("the same maker, line and name as line {first}"));
    }
    let Some(place) = places.get(&key).copied() else { return Ok(Verdict::Add(named)) };
    let known = shelf[place];
    let tube = apply(row, known.clone())?;
    let changes: Vec<Change> = FIELDS
        .iter()
        .map(|field| (field.column, (field.get)(known), (field.get)(&tube)))
        .filter(|(_, from, to)| from != to)
        .map(|(column, from, to)| Change { column, from, to })
        .collect();
    if changes.is_empty() {
        return Ok(Verdict::Same);
    }
    Ok(Verdict::Correct { place, tube, changes })
}

/// Takes the row's cells over; the first that is wrong is named.
fn apply(row: &ShelfRow, mut tube: Tube) -> Result<Tube, String> {
    for (field, cell) in &row.cells {
        let field = &FIELDS[*field];
        (field.set)(&mut tube, cell).map_err(|why| format!("{}: {why}", field.column))?;
    }
    Ok(tube)
}
