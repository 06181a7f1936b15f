//! A picture to readings.

use colour::Conditions;

use crate::calibrate::Under;
use crate::camera::{Camera, Fitted};
use crate::cell::code_of;
use crate::code::read_code;
use crate::colours::{Seen, View};
use crate::edges::{followed, unbent};
use crate::marks::{FoundMark, FoundMarks, find_marks};
use crate::paper::PaperLight;
use crate::raster::Raster;
use crate::refusal::Refusal;
use crate::target::{PlacedByHand, Target};
use crate::told::{CellReading, PictureReading};

/// Pixels to a millimetre, at least.
const COARSEST: f64 = 4.0;
/// Corners may be off by this, root mean square, pixels.
const LARGEST_RESIDUAL: f64 = 1.5;
/// The paper may be tilted by this, degrees.
const TILT: f64 = 35.0;
/// Edges may take this from dark to bright, mm (ours).
const BLURRED_MM: f64 = 0.7;
/// The paper's codes, at most and at least.
const BRIGHTEST: f64 = 250.0;
const DARKEST: f64 = 100.0;
/// The strongest light over the weakest.
const UNEVEN: f64 = 2.0;

/// Reads a picture of a sheet under the conditions of the analysis.
#[must_use]
pub fn read(picture: &Raster, target: &Target, conditions: Conditions) -> PictureReading {
    read_beside(picture, target, None, conditions)
}

/// A card of known colours. It numbers pigments as the sheet does.
#[derive(Debug, Clone, Copy)]
pub struct Card<'a> {
    /// What is on it.
    pub target: &'a Target,
    /// Its own scan by the same scanner, in the same session and at the same settings; `None` where it lies beside
    /// the sheet.
    pub scan: Option<&'a Raster>,
}

/// The same with a card of known colours, where it is seen.
#[must_use]
pub fn read_beside(
    picture: &Raster,
    target: &Target,
    card: Option<Card<'_>>,
    conditions: Conditions,
) -> PictureReading {
    let marks = find_marks(picture);
    let mut reading = PictureReading {
        cells: target.cells.iter().map(CellReading::refused).collect(),
        calibration: None,
        refused: Vec::new(),
        code: None,
        camera: None,
        is_scan: false,
        off_flat_mm: 0.0,
    };
    if marks.mirrored {
        reading.refused.push(Refusal::Mirrored);
        return reading;
    }
    let is_own = |tag: &usize| target.marks.iter().any(|mark| mark.tag == *tag);
    if target.by_hand.is_none() && marks.twice.iter().any(is_own) {
        reading.refused.push(Refusal::Twice);
        return reading;
    }
    let placed = match &target.by_hand {
        Some(placed) => by_hand(placed, target, picture),
        None => by_marks(&marks, target, picture),
    };
    let (fitted, refused) = match placed {
        Ok(placed) => placed,
        Err(refusal) => {
            reading.refused.push(refusal);
            return reading;
        }
    };
    reading.is_scan = fitted.is_scan;
    reading.refused.extend(refused);
    let camera = fitted.camera;
    reading.code = read_code(picture, target, &camera);
    if let Some(found) =
        reading.code.as_ref().filter(|found| !target.code.is_empty() && **found != target.code)
    {
        let (found, wanted) = (found.clone(), target.code.clone());
        reading.refused.push(Refusal::OtherSheet { found, wanted });
    }
    let followed =
        (!fitted.is_scan && target.by_hand.is_none()).then(|| followed(picture, &camera, target));
    if let Some((_, farthest)) = &followed {
        reading.off_flat_mm = *farthest;
    }
    let target = followed.as_ref().map_or(target, |(target, _)| target);
    for (cell, told) in target.cells.iter().zip(&mut reading.cells) {
        told.px = Some(camera.to_pixels(cell.centre()));
    }
    match PaperLight::of(picture, &camera, target, fitted.is_scan) {
        None => reading.refused.push(Refusal::NoPaper),
        Some(paper) => {
            reading.refused.extend(of_paper(&paper, target));
            if reading.refused.is_empty() {
                let under = Under { conditions, likely: target.likely.clone() };
                let view = View { picture, target, camera: &camera, paper: &paper, under: &under };
                let beside = card.and_then(|card| {
                    let found = match card.scan {
                        Some(scan) => Beside::scanned(scan, card.target, &camera, fitted.is_scan),
                        None => Beside::of(picture, card.target, &marks.marks),
                    };
                    Some((found?, card.scan.unwrap_or(picture)))
                });
                let beside = beside.as_ref().map(|(card, seen)| card.known(seen, &under));
                view.colours(&mut reading, &beside.unwrap_or_default());
            }
        }
    }
    reading.camera = Some(camera);
    reading
}

/// A camera, and what speaks against it.
type Placed = Result<(Fitted, Vec<Refusal>), Refusal>;

fn by_hand(placed: &PlacedByHand, target: &Target, picture: &Raster) -> Placed {
    let fitted = Camera::by_hand(placed, [picture.width(), picture.height()]);
    let fitted = fitted.ok_or(Refusal::NoSheet)?;
    let refused = of_camera(&fitted, target, (&[], None));
    Ok((fitted, refused))
}

fn by_marks(marks: &FoundMarks, target: &Target, picture: &Raster) -> Placed {
    let is_own = |mark: &&FoundMark| target.marks.iter().any(|it| it.tag == mark.tag);
    let own: Vec<FoundMark> = marks.marks.iter().filter(is_own).copied().collect();
    let first = target.marks.iter().map(|mark| mark.tag).min().unwrap_or_default();
    let missing: Vec<usize> =
        (0..4).filter(|at| own.iter().all(|mark| mark.tag != first + at)).collect();
    if missing.len() > 1 {
        // A mark that is seen from the side says why others are not found.
        let tilt = own.iter().map(FoundMark::tilt_degrees).fold(0.0, f64::max);
        return Err(match (missing.len(), tilt) {
            (4, _) => Refusal::NoSheet,
            (_, tilt) if tilt > TILT => Refusal::Oblique(tilt),
            _ => Refusal::MarksMissing(missing),
        });
    }
    let fitted = Camera::fit(target, &own, [picture.width(), picture.height()]);
    let fitted = unbent(fitted.ok_or(Refusal::NoSheet)?, picture, target, &own);
    let refused = of_camera(&fitted, target, (&missing, marks.edge_px));
    Ok((fitted, refused))
}

/// A card beside the sheet.
struct Beside {
    target: Target,
    camera: Camera,
    paper: PaperLight,
}

/// Two scans of one session have as many pixels to a millimetre, within this, as ln.
const SAME_SCALE: f64 = 0.03;
/// Numbers of a card's squares begin here, so that none is a sheet's.
pub(crate) const OF_CARD: u32 = 1_000_000;

impl Beside {
    /// `None` where it is not seen well enough.
    fn of(picture: &Raster, card: &Target, marks: &[FoundMark]) -> Option<Self> {
        let own =
            marks.iter().filter(|mark| card.marks.iter().any(|it| it.tag == mark.tag)).count();
        let fitted = Camera::fit(card, marks, [picture.width(), picture.height()])?;
        if own < 4 || fitted.residual_px > LARGEST_RESIDUAL {
            return None;
        }
        let paper = PaperLight::of(picture, &fitted.camera, card, fitted.is_scan)?;
        let mut target = card.clone();
        for cell in &mut target.cells {
            cell.number += OF_CARD;
        }
        Some(Self { target, camera: fitted.camera, paper })
    }

    /// From a scan of its own: only one at the settings of the sheet's scan tells how the scanner sees.
    fn scanned(scan: &Raster, card: &Target, sheet: &Camera, is_scan: bool) -> Option<Self> {
        let found = Self::of(scan, card, &find_marks(scan).marks).filter(|_| is_scan)?;
        let middle = [card.width_mm / 2.0, card.height_mm / 2.0];
        let [own, of_sheet] = [&found.camera, sheet].map(|it| it.pixels_per_mm(middle)[0]);
        ((own / of_sheet).ln().abs() < SAME_SCALE).then_some(found)
    }

    /// Its squares whose colour is known, as the device saw them.
    fn known<'a>(&'a self, picture: &'a Raster, under: &'a Under) -> Vec<Seen<'a>> {
        let (target, camera, paper) = (&self.target, &self.camera, &self.paper);
        View { picture, target, camera, paper, under }.known()
    }
}

fn of_camera(
    fitted: &Fitted,
    target: &Target,
    (missing, edge_px): (&[usize], Option<f64>),
) -> Vec<Refusal> {
    let middle = [target.width_mm / 2.0, target.height_mm / 2.0];
    let [least, _] = fitted.camera.pixels_per_mm(middle);
    let tilt = fitted.camera.tilt_degrees();
    let mut refused = Vec::new();
    if tilt > TILT {
        // What else is wrong comes of it.
        refused.push(Refusal::Oblique(tilt));
        return refused;
    }
    if !fitted.is_scan && !missing.is_empty() {
        refused.push(Refusal::MarksMissing(missing.to_vec()));
    }
    if least < COARSEST {
        refused.push(Refusal::TooCoarse(least));
    }
    let edge_mm = edge_px.unwrap_or_default() / least;
    if edge_mm > BLURRED_MM {
        refused.push(Refusal::Blurred(edge_mm));
    } else if fitted.residual_px > LARGEST_RESIDUAL {
        refused.push(Refusal::NotFlat(fitted.residual_px));
    }
    refused
}

fn of_paper(paper: &PaperLight, target: &Target) -> Vec<Refusal> {
    let v = paper.v_at([target.width_mm / 2.0, target.height_mm / 2.0]).map(code_of);
    let brightest = v.iter().copied().fold(0.0, f64::max);
    let range = paper.range();
    let mut refused = Vec::new();
    if brightest >= BRIGHTEST {
        refused.push(Refusal::TooBright);
    } else if brightest < DARKEST {
        refused.push(Refusal::TooDark);
    }
    if range > UNEVEN {
        refused.push(Refusal::Uneven(range));
    }
    refused
}
