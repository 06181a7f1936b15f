//! A ruled sheet as JSON, so that a picture of it can be read without the workshop it comes from.

use std::collections::HashMap;

use picture::{Known, Target, TargetCell, TargetMark};
use plan::{CellNumber, Naming, Swatch};
use serde::{Deserialize, Serialize};
use sheet::{EDGE_MM, Ruling, Sheet, SheetCode};
use study::{Backing, ColourIndexName, FilmKind, Mixture, TubeLabel, TubeRef};
use thiserror::Error;

/// What stands first in such a file.
pub const FORMAT: &str = "upright-swatch sheet 1";
/// Anchors that are worth having on one sheet.
const WANTED: usize = 24;
/// More squares than this are on no sheet.
const MOST_CELLS: usize = 2000;

/// A sheet or a card: everything in mm from its top left.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct SheetFile {
    /// [`FORMAT`].
    pub format: String,
    /// What its code says.
    pub code: String,
    /// Width of the paper, mm.
    pub width_mm: f64,
    /// Height of the paper, mm.
    pub height_mm: f64,
    /// The corner marks.
    pub marks: Vec<MarkEntry>,
    /// The white that tints are made with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub white: Option<TubeEntry>,
    /// The squares that are read.
    pub cells: Vec<CellEntry>,
    /// Numbers of the squares whose colour is best known from a meter, the most telling first.
    #[serde(default)]
    pub anchors: Vec<u32>,
}

/// Pigments and tubes by number, in the order in which they were met.
#[derive(Debug, Clone, Default)]
pub struct PaintNumbers {
    pigments: Vec<String>,
    tubes: Vec<TubeLabel>,
}

/// A corner mark.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct MarkEntry {
    /// From the top left clockwise: 0 to 3 on a sheet, 4 to 7 on a card.
    pub tag: usize,
    /// From the left, mm.
    pub x: f64,
    /// From the top, mm.
    pub y: f64,
    /// Side, mm.
    pub side: f64,
}

/// A square.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct CellEntry {
    /// Its number.
    pub number: u32,
    /// From the left, mm.
    pub x: f64,
    /// From the top, mm.
    pub y: f64,
    /// Side, mm.
    pub side: f64,
    /// `paper`, `white` or `black`.
    pub backing: String,
    /// The tubes in it but for the white; none for the white alone and for bare backings.
    pub tubes: Vec<TubeEntry>,
    /// Parts of white to one part of the tubes together; 1 for the white alone.
    pub white_parts: f64,
    /// It is scraped down or a wash.
    #[serde(default, skip_serializing_if = "is_false")]
    pub thin: bool,
    /// Its right half was lifted with a damp brush, its left half left as it was.
    #[serde(default, skip_serializing_if = "is_false")]
    pub half_lifted: bool,
    /// What is written under it.
    pub label: String,
}

#[allow(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
fn is_false(value: &bool) -> bool {
    !value
}

/// A tube in a square.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct TubeEntry {
    /// Its name.
    pub tube: String,
    /// Its maker.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub maker: String,
    /// Its Colour Index names.
    #[serde(default)]
    pub code: String,
    /// Its parts.
    pub parts: f64,
}

/// Why a file is no sheet.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum SheetFileError {
    /// It is no such JSON.
    #[error("this is no sheet file: {0}; save one from the address of a sheet that ends in .json")]
    NotASheet(String),
    /// It is of another kind or of a later version.
    #[error("the file says it is “{0}”; this version reads “{FORMAT}”")]
    OtherFormat(String),
    /// A number cannot be right.
    #[error("{what} is {value}; {right}")]
    Impossible {
        /// Which.
        what: String,
        /// What it is.
        value: String,
        /// What would be right.
        right: &'static str,
    },
}

impl SheetFile {
    /// A sheet of a plan.
    #[must_use]
    pub fn of(sheet: &Sheet, code: &SheetCode, swatches: &[Swatch], naming: &Naming) -> Self {
        let (width_mm, height_mm) = sheet.paper.size_mm();
        let marks = Target::usual_marks([width_mm, height_mm], EDGE_MM, sheet.paper.first_mark());
        let marks = marks.into_iter().map(|mark| MarkEntry {
            tag: mark.tag,
            x: mark.x_mm,
            y: mark.y_mm,
            side: mark.side_mm,
        });
        let placed: Vec<(CellEntry, &Swatch)> = sheet
            .cells
            .iter()
            .filter(|cell| !cell.again)
            .filter_map(|cell| {
                let swatch = swatches.iter().find(|swatch| swatch.number == cell.number)?;
                let place = ([cell.x_mm, cell.y_mm], sheet.side_mm);
                Some((CellEntry::of(swatch, place, cell.backing, naming), swatch))
            })
            .collect();
        let anchors = wanted(&placed, naming.white);
        Self {
            format: FORMAT.into(),
            code: code.to_string(),
            width_mm,
            height_mm,
            marks: marks.collect(),
            white: naming.white.map(|white| TubeEntry::of(naming, white, 1.0)),
            cells: placed.into_iter().map(|(entry, _)| entry).collect(),
            anchors,
        }
    }

    /// A chart that was ruled by hand; `numbers` tells the swatch of each square, row by row. It has no marks.
    #[must_use]
    pub fn ruled(
        ruling: &Ruling,
        numbers: &[Option<CellNumber>],
        swatches: &[Swatch],
        naming: &Naming,
    ) -> Self {
        let [width_mm, height_mm] = ruling.size_mm();
        let squares = numbers.iter().enumerate().take(ruling.squares());
        let cells = squares.filter_map(|(at, number)| {
            let swatch = swatches.iter().find(|swatch| Some(swatch.number) == *number)?;
            let place = (ruling.place_mm(at), ruling.side_mm);
            Some(CellEntry::of(swatch, place, swatch.backing, naming))
        });
        Self {
            format: FORMAT.into(),
            code: String::new(),
            width_mm,
            height_mm,
            marks: Vec::new(),
            white: naming.white.map(|white| TubeEntry::of(naming, white, 1.0)),
            cells: cells.collect(),
            anchors: Vec::new(),
        }
    }

    /// Reads such a file.
    ///
    /// # Errors
    /// With what is wrong in it.
    pub fn read(bytes: &[u8]) -> Result<Self, SheetFileError> {
        let file: Self = serde_json::from_slice(bytes)
            .map_err(|error| SheetFileError::NotASheet(error.to_string()))?;
        if file.format != FORMAT {
            return Err(SheetFileError::OtherFormat(file.format));
        }
        file.check()?;
        Ok(file)
    }

    fn check(&self) -> Result<(), SheetFileError> {
        let wrong = |what: String, value: f64, right| {
            Err(SheetFileError::Impossible { what, value: value.to_string(), right })
        };
        for (name, value) in [("width_mm", self.width_mm), ("height_mm", self.height_mm)] {
            if !(20.0..=2000.0).contains(&value) {
                return wrong(name.into(), value, "write 20 to 2000 mm");
            }
        }
        if self.cells.len() > MOST_CELLS {
            let count = self.cells.len() as f64;
            return wrong("the number of cells".into(), count, "2000 at most are read");
        }
        for cell in &self.cells {
            let inside = cell.x >= 0.0
                && cell.y >= 0.0
                && cell.x + cell.side <= self.width_mm
                && cell.y + cell.side <= self.height_mm;
            if !(2.0..=500.0).contains(&cell.side) || !inside {
                let what = format!("the place of cell {}", cell.number);
                return wrong(what, cell.side, "every square lies on the paper");
            }
            let parts = cell.tubes.iter().map(|tube| tube.parts).chain([cell.white_parts]);
            if let Some(parts) = parts.into_iter().find(|it| !(0.0..=1e6).contains(it)) {
                return wrong(
                    format!("a part in cell {}", cell.number),
                    parts,
                    "write 0 to 1000000",
                );
            }
        }
        let mut tags: Vec<usize> = self.marks.iter().map(|mark| mark.tag).collect();
        tags.sort_unstable();
        if tags != [0, 1, 2, 3] && tags != [4, 5, 6, 7] {
            let count = self.marks.len() as f64;
            return wrong(
                "the number of marks".into(),
                count,
                "there are four, 0 to 3 or on a card 4 to 7, each once",
            );
        }
        let mut numbers: Vec<u32> = self.cells.iter().map(|cell| cell.number).collect();
        numbers.sort_unstable();
        if let Some(twice) = numbers.windows(2).find(|pair| pair[0] == pair[1]) {
            let number = f64::from(twice[0]);
            return wrong("a cell's number".into(), number, "it stands there twice");
        }
        if let Some(mark) = self.marks.iter().find(|mark| !(0.5..=200.0).contains(&mark.side)) {
            return wrong(format!("mark {}", mark.tag), mark.side, "marks have a side");
        }
        Ok(())
    }

    /// What a picture of it should show; `known` holds colours by number.
    #[must_use]
    pub fn target(&self, known: &HashMap<u32, Known>) -> Target {
        self.target_beside(known, &mut PaintNumbers::default())
    }

    /// The same for a sheet and a card in one picture: both number pigments and tubes alike.
    #[must_use]
    pub fn target_beside(&self, known: &HashMap<u32, Known>, numbers: &mut PaintNumbers) -> Target {
        let marks = self.marks.iter().map(|mark| TargetMark {
            tag: mark.tag,
            x_mm: mark.x,
            y_mm: mark.y,
            side_mm: mark.side,
        });
        let cells = self.cells.iter().map(|cell| TargetCell {
            number: cell.number,
            on_black: cell.backing == Backing::Black.to_string(),
            on_white: cell.backing == Backing::White.to_string(),
            film: self.cells.iter().position(|it| it.is_same_film(cell)).unwrap_or_default(),
            x_mm: cell.x,
            y_mm: cell.y,
            side_mm: cell.side,
            half_lifted: cell.half_lifted,
            colours: cell.shares(&mut numbers.pigments),
            is_bare: cell.tubes.is_empty() && cell.white_parts == 0.0,
            is_white: cell.tubes.is_empty() && cell.white_parts > 0.0,
            tubes: cell.tube_shares(&mut numbers.tubes),
            tint: cell.tint(),
            expected: None,
            known: known.get(&cell.number).copied(),
        });
        Target {
            code: self.code.clone(),
            width_mm: self.width_mm,
            height_mm: self.height_mm,
            marks: marks.collect(),
            by_hand: None,
            cells: cells.collect(),
            likely: Vec::new(),
        }
    }
}

impl CellEntry {
    fn of(
        swatch: &Swatch,
        ([x, y], side): ([f64; 2], f64),
        backing: Backing,
        naming: &Naming,
    ) -> Self {
        let label = naming.swatch(swatch);
        let (tubes, white_parts) = tubes_of(&swatch.mixture, naming);
        Self {
            number: swatch.number.0,
            x,
            y,
            side,
            backing: backing.to_string(),
            tubes,
            white_parts,
            thin: swatch.film == FilmKind::Thin,
            half_lifted: false,
            label: format!("{} {}", label.tubes, label.ratio).trim().to_owned(),
        }
    }

    fn is_same_film(&self, other: &Self) -> bool {
        let parts = |cell: &Self| (cell.tubes.clone(), cell.white_parts, cell.thin);
        parts(self) == parts(other)
    }

    /// How thick it is.
    #[must_use]
    pub fn film(&self) -> FilmKind {
        if self.thin { FilmKind::Thin } else { FilmKind::Full }
    }

    /// The white's share where it is one tube, alone or with white, as a full film over paper.
    fn tint(&self) -> Option<f64> {
        let is_film = !self.thin && self.backing == Backing::Paper.to_string();
        (is_film && self.tubes.len() == 1).then(|| self.white_parts / (1.0 + self.white_parts))
    }

    /// Shares of its tubes, each with its number in a list that grows.
    fn tube_shares(&self, known: &mut Vec<TubeLabel>) -> Vec<(usize, f64)> {
        let whole: f64 = self.tubes.iter().map(|tube| tube.parts).sum();
        let share = |tube: &TubeEntry| (number(known, tube.label()), tube.parts / whole);
        self.tubes.iter().map(share).collect()
    }

    /// Shares of its pigments, each with its number in a list that grows.
    fn shares(&self, known: &mut Vec<String>) -> Vec<(usize, f64)> {
        let whole: f64 = self.tubes.iter().map(|tube| tube.parts).sum();
        let mut shares: Vec<(usize, f64)> = Vec::new();
        for tube in &self.tubes {
            let names = tube.pigments();
            let share = tube.parts / whole / names.len() as f64;
            for name in names {
                let at = number(known, name);
                match shares.iter_mut().find(|(known, _)| *known == at) {
                    Some((_, sum)) => *sum += share,
                    None => shares.push((at, share)),
                }
            }
        }
        shares
    }
}

/// The place of something in a list, at its end where it was not in it.
fn number<T: PartialEq>(known: &mut Vec<T>, wanted: T) -> usize {
    known.iter().position(|it| *it == wanted).unwrap_or_else(|| {
        known.push(wanted);
        known.len() - 1
    })
}

/// Words that tell earths of one Colour Index name apart.
const FIRED: [&str; 4] = ["burnt", "roasted", "calcined", "raw"];

impl TubeEntry {
    fn of(naming: &Naming, tube: TubeRef, parts: f64) -> Self {
        let label = naming.tubes.get(tube.0).cloned().unwrap_or_default();
        Self { tube: label.name, maker: label.maker, code: label.code, parts }
    }

    /// The white of a sheet that names none.
    #[must_use]
    pub fn usual_white() -> Self {
        Self { tube: "White".into(), maker: String::new(), code: "PW6".into(), parts: 1.0 }
    }

    /// What a reading knows of it.
    #[must_use]
    pub fn label(&self) -> TubeLabel {
        let Self { tube, maker, code, .. } = self.clone();
        TubeLabel { name: tube, maker, code }
    }

    /// Its Colour Index names, raw and roasted earths apart; the tube itself where it gives none.
    fn pigments(&self) -> Vec<String> {
        let codes = ColourIndexName::parse_list(&self.code).unwrap_or_default();
        if codes.is_empty() {
            return vec![format!("{} {}", self.maker, self.tube)];
        }
        let name = self.tube.to_lowercase();
        let fired = FIRED.into_iter().find(|word| name.contains(word)).unwrap_or_default();
        codes.iter().map(|code| format!("{} {fired}", code.as_str())).collect()
    }
}

fn tubes_of(mixture: &Mixture, naming: &Naming) -> (Vec<TubeEntry>, f64) {
    let tubes: Vec<TubeEntry> = mixture
        .colours(naming.white)
        .map(|part| TubeEntry::of(naming, part.tube, part.parts))
        .collect();
    let white = match mixture.white_per_colour(naming.white) {
        Some(parts) => parts,
        None if mixture.is_bare() => 0.0,
        None => 1.0,
    };
    (tubes, white)
}

/// Squares to be read by a meter, the most telling first: paper, printed black and white, each tube at 1 : 4 and then
/// alone, then at 1 : 1, where colours are most vivid, then at 1 : 16.
fn wanted(placed: &[(CellEntry, &Swatch)], white: Option<TubeRef>) -> Vec<u32> {
    let rank = |(cell, swatch): &(CellEntry, &Swatch)| {
        let is_full = swatch.film == FilmKind::Full && swatch.backing == Backing::Paper;
        let near = |parts: f64| (cell.white_parts / parts).ln().abs() < 0.3;
        match swatch.mixture.only_colour(white) {
            None if cell.tubes.is_empty() => {
                let bare = swatch.mixture.is_bare() && swatch.backing != Backing::White;
                (bare || is_full && !swatch.mixture.is_bare()).then_some(0)
            }
            Some(_) if !is_full => None,
            // With few of them every tube has one.
            Some(_) if near(4.0) => Some(1),
            Some(_) if cell.white_parts == 0.0 => Some(2),
            Some(_) if near(1.0) => Some(3),
            Some(_) if near(16.0) => Some(4),
            _ => None,
        }
    };
    let mut ranked: Vec<(u8, u32)> =
        placed.iter().filter_map(|it| Some((rank(it)?, it.0.number))).collect();
    ranked.sort_unstable();
    ranked.into_iter().take(WANTED).map(|(_, number)| number).collect()
}
