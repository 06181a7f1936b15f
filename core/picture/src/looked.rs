//! What a picture's pixels say: where the sheet lies, how the light falls, and each square as the device saw it. All else
//! follows from this and from what is known of the squares.

use crate::camera::{Camera, Fitted};
use crate::cell::{CellLook, INNER, code_of, mean_at, median, paper_grain_at};
use crate::code::read_code;
use crate::edges::{followed, unbent};
use crate::marks::{FoundMark, FoundMarks, find_marks};
use crate::paper::PaperLight;
use crate::raster::Raster;
use crate::refusal::Refusal;
use crate::target::{PlacedByHand, Target, TargetCell};

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

/// Strips within this of a square, mm, and how far they may be off, as a share.
const NEAR_MM: f64 = 16.0;
const OFF: f64 = 0.03;
/// A printed bar goes so far beyond its square, mm.
const BAR_MM: f64 = 2.0;

/// A card of known colours. It numbers pigments as the sheet does.
#[derive(Debug, Clone, Copy)]
pub struct Card<'a> {
    /// What is on it.
    pub target: &'a Target,
    /// Its own scan by the same scanner, in the same session and at the same settings; `None` where it lies beside
    /// the sheet.
    pub scan: Option<&'a Raster>,
}

/// A picture that was looked at: nothing more is needed of its pixels.
#[derive(Debug, Clone)]
pub struct Looked {
    /// Why it cannot be read; empty where it can.
    pub(crate) refused: Vec<Refusal>,
    /// What the sheet's code says.
    pub(crate) code: Option<String>,
    /// Where the paper lies.
    pub(crate) camera: Option<Camera>,
    pub(crate) is_scan: bool,
    /// How far the farthest square lies from where flat paper would have it, mm.
    pub(crate) off_flat_mm: f64,
    /// The middle of each square, pixels; empty where the paper was not found.
    pub(crate) px: Vec<[f64; 2]>,
    /// `None` where the picture is refused.
    pub(crate) sheet: Option<SheetLook>,
    /// The card beside it, where it is seen.
    pub(crate) card: Option<SheetLook>,
}

/// The squares of a sheet as the device saw them.
#[derive(Debug, Clone)]
pub(crate) struct SheetLook {
    /// In the target's order; `None` for one that lies outside the picture.
    pub squares: Vec<Option<SquareLook>>,
    /// Grain of bare paper, L*.
    pub paper_grain: f64,
}

/// A square as the device saw it.
#[derive(Debug, Clone)]
pub(crate) struct SquareLook {
    pub look: CellLook,
    /// Encoded light on bare paper there, 0 to 1.
    pub paper: [f64; 3],
    /// The light beside it is not even.
    pub shaded: bool,
    /// Pixels to a millimetre.
    pub per_mm: f64,
    /// Its lifted half.
    pub lifted: Option<[f64; 3]>,
    /// The printed black at both sides of it.
    pub black: [Option<[f64; 3]>; 2],
}

impl Looked {
    /// Looks at a picture of a sheet, beside a card where there is one.
    #[must_use]
    pub fn at(picture: &Raster, target: &Target, card: Option<Card<'_>>) -> Self {
        let mut looked = Self {
            refused: Vec::new(),
            code: None,
            camera: None,
            is_scan: false,
            off_flat_mm: 0.0,
            px: Vec::new(),
            sheet: None,
            card: None,
        };
        let marks = find_marks(picture);
        match placed(&marks, target, picture) {
            Err(refusal) => looked.refused.push(refusal),
            Ok((fitted, refused)) => {
                looked.refused.extend(refused);
                looked.is_scan = fitted.is_scan;
                looked.squares(picture, target, &fitted.camera);
                looked.card =
                    card.filter(|_| looked.sheet.is_some()).and_then(|card| match card.scan {
                        Some(scan) => scanned(scan, card.target, &fitted),
                        None => beside(picture, card.target, &marks.marks).map(|(look, _)| look),
                    });
                looked.camera = Some(fitted.camera);
            }
        }
        looked
    }

    /// Looks at every square, where nothing speaks against the picture.
    fn squares(&mut self, picture: &Raster, target: &Target, camera: &Camera) {
        self.code = read_code(picture, target, camera);
        let is_other = |found: &&String| !target.code.is_empty() && **found != target.code;
        if let Some(found) = self.code.as_ref().filter(is_other) {
            let (found, wanted) = (found.clone(), target.code.clone());
            self.refused.push(Refusal::OtherSheet { found, wanted });
        }
        let in_photo = !self.is_scan && target.by_hand.is_none();
        let followed = in_photo.then(|| followed(picture, camera, target));
        if let Some((_, farthest)) = &followed {
            self.off_flat_mm = *farthest;
        }
        let target = followed.as_ref().map_or(target, |(target, _)| target);
        self.px = target.cells.iter().map(|cell| camera.to_pixels(cell.centre())).collect();
        match PaperLight::of(picture, camera, target, self.is_scan) {
            None => self.refused.push(Refusal::NoPaper),
            Some(paper) => {
                self.refused.extend(of_paper(&paper, target));
                if self.refused.is_empty() {
                    self.sheet = Some(SheetLook::of(picture, camera, target, &paper));
                }
            }
        }
    }

    /// Where the paper lies, where that could be told.
    #[must_use]
    pub fn camera(&self) -> Option<&Camera> {
        self.camera.as_ref()
    }

    /// Why the picture cannot be read, whatever is known of its squares; empty where it can.
    #[must_use]
    pub fn refused(&self) -> &[Refusal] {
        &self.refused
    }
}

impl SheetLook {
    fn of(picture: &Raster, camera: &Camera, target: &Target, paper: &PaperLight) -> Self {
        let square = |cell: &TargetCell| SquareLook::of(picture, camera, cell, paper);
        let grain =
            paper.strips.iter().filter_map(|strip| paper_grain_at(picture, camera, strip.at_mm));
        Self {
            squares: target.cells.iter().map(square).collect(),
            paper_grain: median(grain).unwrap_or_default(),
        }
    }
}

impl SquareLook {
    /// `None` where the square lies outside the picture.
    fn of(
        picture: &Raster,
        camera: &Camera,
        cell: &TargetCell,
        paper: &PaperLight,
    ) -> Option<Self> {
        let off = paper.off_near(cell.centre(), NEAR_MM);
        let lifted = cell.lifted();
        let [_, y] = cell.centre();
        let beside = [cell.x_mm - BAR_MM / 2.0, cell.x_mm + cell.side_mm + BAR_MM / 2.0];
        let black = |x: f64| {
            let at = cell.on_black.then_some([x, y])?;
            mean_at(picture, camera, at, BAR_MM / 2.0)
        };
        Some(Self {
            look: CellLook::of(picture, camera, cell)?,
            paper: paper.v_at(cell.centre()),
            shaded: off.iter().filter(|off| **off > OFF).count() >= 2,
            per_mm: camera.pixels_per_mm(cell.centre())[0],
            lifted: lifted.and_then(|(at, side_mm)| mean_at(picture, camera, at, INNER * side_mm)),
            black: beside.map(black),
        })
    }
}

/// A camera, and what speaks against it.
type Placed = Result<(Fitted, Vec<Refusal>), Refusal>;

fn placed(marks: &FoundMarks, target: &Target, picture: &Raster) -> Placed {
    if marks.mirrored {
        return Err(Refusal::Mirrored);
    }
    let is_own = |tag: &usize| target.marks.iter().any(|mark| mark.tag == *tag);
    if target.by_hand.is_none() && marks.twice.iter().any(is_own) {
        return Err(Refusal::Twice);
    }
    match &target.by_hand {
        Some(placed) => by_hand(placed, target, picture),
        None => by_marks(marks, target, picture),
    }
}

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

/// Two scans of one session have as many pixels to a millimetre, within this, as ln.
const SAME_SCALE: f64 = 0.03;

/// The card, and where it lies; `None` where it is not seen well enough.
fn beside(picture: &Raster, card: &Target, marks: &[FoundMark]) -> Option<(SheetLook, Camera)> {
    let own = marks.iter().filter(|mark| card.marks.iter().any(|it| it.tag == mark.tag)).count();
    let fitted = Camera::fit(card, marks, [picture.width(), picture.height()])?;
    if own < 4 || fitted.residual_px > LARGEST_RESIDUAL {
        return None;
    }
    let paper = PaperLight::of(picture, &fitted.camera, card, fitted.is_scan)?;
    Some((SheetLook::of(picture, &fitted.camera, card, &paper), fitted.camera))
}

/// From a scan of its own: only one at the settings of the sheet's scan tells how the scanner sees.
fn scanned(scan: &Raster, card: &Target, sheet: &Fitted) -> Option<SheetLook> {
    let (look, camera) = beside(scan, card, &find_marks(scan).marks).filter(|_| sheet.is_scan)?;
    let middle = [card.width_mm / 2.0, card.height_mm / 2.0];
    let [own, of_sheet] = [&camera, &sheet.camera].map(|it| it.pixels_per_mm(middle)[0]);
    ((own / of_sheet).ln().abs() < SAME_SCALE).then_some(look)
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
