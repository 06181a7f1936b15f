//! Which colours of a sheet are known from a readings file, and what the others should look like.

use std::collections::HashMap;

use colour::{Lab, Reflectance};
use mixing::typical::{TypicalPaint, typical_constants};
use mixing::{Surface, predict};
use picture::{Known, LikelySpectrum, Target};
use plan::prior::{Prior, PriorLevel, learn};
use study::{
    Averages, Backing, ColourIndexName, FilmKind, Measured, Mixture, State, Study, TubeLabel,
    TubeRef,
};

use super::described::{CellEntry, SheetFile, TubeEntry};
use crate::readings::ReadingsFile;

/// Colours by number of the square: by a column `number` where the file has one, else by what was mixed. `sigma` is
/// one standard deviation per axis.
#[must_use]
pub fn known_colours(sheet: &SheetFile, file: &ReadingsFile, sigma: f64) -> HashMap<u32, Known> {
    let known = |(lab, spectrum)| Known { lab, sigma, spectrum };
    if let Some(by_number) = by_number(file) {
        return by_number.into_iter().map(|(number, it)| (number, known(it))).collect();
    }
    let (study, averages) = (&file.study, Averages::of(&file.study));
    let found = sheet.cells.iter().filter_map(|cell| {
        let mixture = mixture_in(study, cell)?;
        let backing: Backing = cell.backing.parse().ok()?;
        let colour = averages.of_square(&mixture, backing, cell.film())?;
        Some((cell.number, known((colour.lab, colour.reflectance))))
    });
    found.collect()
}

/// The file numbers its rows by square.
#[must_use]
pub fn numbers_squares(file: &ReadingsFile) -> bool {
    number_column(file).is_some()
}

fn number_column(file: &ReadingsFile) -> Option<usize> {
    let head = file.source.head().lines().rfind(|line| !line.starts_with('#'))?;
    let columns = csv::Reader::from_reader(head.as_bytes()).headers().ok()?.clone();
    columns.iter().position(|name| name.trim().eq_ignore_ascii_case("number"))
}

/// A colour, with its spectrum where that was read.
type Colour = (Lab, Option<Reflectance>);

/// Mean dry colours by the column `number`.
fn by_number(file: &ReadingsFile) -> Option<HashMap<u32, Colour>> {
    let at = number_column(file)?;
    let mut colours: HashMap<u32, Vec<Colour>> = HashMap::new();
    for (row, reading) in file.source.rows().zip(&file.study.readings) {
        let counts = reading.void.is_none() && reading.state == State::Dry;
        let cells = csv::ReaderBuilder::new()
            .has_headers(false)
            .comment(Some(b'#'))
            .from_reader(row.as_bytes())
            .into_records()
            .next();
        let number = cells.and_then(|cells| cells.ok()?.get(at)?.trim().parse::<u32>().ok());
        let lab = reading.measured.lab(file.study.conditions).ok();
        if let (Some(number), Some(lab), true) = (number, lab, counts) {
            let spectrum = match &reading.measured {
                Measured::Spectrum(reflectance) => Some(*reflectance),
                _ => None,
            };
            colours.entry(number).or_default().push((lab, spectrum));
        }
    }
    let means = colours.into_iter().filter_map(|(number, read)| {
        let labs: Vec<Lab> = read.iter().map(|(lab, _)| *lab).collect();
        // Repeats hardly differ: the first spectrum stands for them.
        Some((number, (Lab::mean(&labs)?, read.first()?.1)))
    });
    Some(means.collect())
}

/// A square's mixture by the tubes of a study; `None` where it does not hold them all.
fn mixture_in(study: &Study, cell: &CellEntry) -> Option<Mixture> {
    let mut parts: Vec<(TubeRef, f64)> = Vec::new();
    for tube in &cell.tubes {
        parts.push((place(&study.tubes, tube)?, tube.parts));
    }
    let colour: f64 = if parts.is_empty() { 1.0 } else { parts.iter().map(|it| it.1).sum() };
    if cell.white_parts > 0.0 {
        parts.push((study.white?, cell.white_parts * colour));
    }
    Some(Mixture::of(&parts))
}

fn place(tubes: &[TubeLabel], wanted: &TubeEntry) -> Option<TubeRef> {
    let same = |one: &str, other: &str| one.trim().to_lowercase() == other.trim().to_lowercase();
    let found = tubes.iter().position(|tube| {
        let by_maker =
            wanted.maker.is_empty() || tube.maker.is_empty() || same(&wanted.maker, &tube.maker);
        by_maker && same(&wanted.tube, &tube.name)
    });
    found.map(TubeRef)
}

/// Says of every square over paper what it should look like: by K and S or the strengths of its tubes, where the
/// readings tell them; and which spectra such paints have.
pub fn expect(target: &mut Target, sheet: &SheetFile, study: &Study) {
    let mut study = study.clone();
    let white = sheet.white.clone().unwrap_or_else(TubeEntry::usual_white);
    for tube in sheet.cells.iter().flat_map(|cell| &cell.tubes).chain([&white]) {
        if place(&study.tubes, tube).is_none() {
            study.tubes.push(tube.label());
        }
    }
    study.white = study.white.or_else(|| place(&study.tubes, &white));
    let prior = learn(&study);
    let mixture_of = |cell: &CellEntry| mixture_in(&study, cell);
    expect_by(target, sheet, (&prior, study.white), mixture_of);
}

/// The same by what is known of a sheet's tubes already; `mixture_of` tells what a square holds.
pub fn expect_by(
    target: &mut Target,
    sheet: &SheetFile,
    (prior, white): (&Prior, Option<TubeRef>),
    mixture_of: impl Fn(&CellEntry) -> Option<Mixture>,
) {
    let held: Vec<Option<Mixture>> = sheet.cells.iter().map(mixture_of).collect();
    target.likely = likely(target, &held, sheet, (prior, white));
    for ((cell, mixture), told) in sheet.cells.iter().zip(&held).zip(&mut target.cells) {
        if cell.backing == Backing::Paper.to_string() && cell.film() == FilmKind::Full {
            told.expected = mixture
                .as_ref()
                .filter(|mixture| !mixture.is_bare())
                // A typical paint is too far off to say that something is wrong.
                .filter(|mixture| {
                    let level = prior.level(mixture.parts().iter().map(|part| part.tube));
                    level.is_some_and(|level| level != PriorLevel::Typical)
                })
                .and_then(|mixture| prior.colour(mixture));
        }
    }
}

/// Parts of white to one of a tube alone that stand for all its tints.
const WHITES: [f64; 5] = [0.0, 0.5, 2.0, 8.0, 16.0];

/// What the paints of a sheet's squares have for spectra: by K and S where these are known of all tubes of a square, else
/// by typical paints of a tube alone.
fn likely(
    target: &Target,
    held: &[Option<Mixture>],
    sheet: &SheetFile,
    (prior, white): (&Prior, Option<TubeRef>),
) -> Vec<LikelySpectrum> {
    let mut all: Vec<LikelySpectrum> = Vec::new();
    for ((cell, told), mixture) in sheet.cells.iter().zip(&target.cells).zip(held) {
        let is_first = !all.iter().any(|it| it.tubes == told.tubes);
        let is_film = cell.backing == Backing::Paper.to_string() && cell.film() == FilmKind::Full;
        let Some(mixture) = mixture.as_ref().filter(|_| is_film && !told.tubes.is_empty()) else {
            continue;
        };
        let tubes = || mixture.parts().iter().map(|part| part.tube).chain(white);
        let has_k_and_s = prior.level(tubes()) == Some(PriorLevel::KAndS);
        // Another maker's tube of the same pigments stands in for this one: no nearer than a typical paint is.
        let is_own = tubes().all(|tube| prior.known(tube).is_some_and(|known| !known.guessed));
        let is_known = has_k_and_s && is_own;
        let spectra: Vec<Reflectance> = match &cell.tubes[..] {
            [_] if !is_first => Vec::new(),
            [_] if has_k_and_s => tints(mixture, white, prior),
            [tube] => typical(tube, prior.surface),
            _ if is_known => prior.spectrum(mixture).into_iter().collect(),
            _ => Vec::new(),
        };
        all.extend(spectra.into_iter().map(|spectrum| LikelySpectrum {
            colours: told.colours.clone(),
            tubes: told.tubes.clone(),
            spectrum,
            is_typical: !is_known,
        }));
    }
    all
}

/// A tube's mass tone and tints.
fn tints(mixture: &Mixture, white: Option<TubeRef>, prior: &Prior) -> Vec<Reflectance> {
    let tube = mixture.colours(white).next().map(|part| part.tube);
    let tint = |parts: f64| prior.spectrum(&Mixture::of(&[(tube?, 1.0), (white?, parts)]));
    WHITES.into_iter().filter_map(tint).collect()
}

/// The same of a typical paint of a tube's pigments.
fn typical(tube: &TubeEntry, surface: Option<Surface>) -> Vec<Reflectance> {
    let codes = ColourIndexName::parse_list(&tube.code).unwrap_or_default();
    let paint = typical_constants(&tube.tube, codes.iter().map(ColourIndexName::as_str));
    let white = TypicalPaint::named("PW6").map(TypicalPaint::constants);
    let Some((paint, white)) = paint.zip(white) else { return Vec::new() };
    let tint = |parts: f64| {
        let share = 1.0 / (1.0 + parts);
        predict(&[(share, &paint), (1.0 - share, &white)], None).to_measured(surface)
    };
    WHITES.map(tint).into()
}
