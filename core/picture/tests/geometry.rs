//! From corners back to places: whatever the view and the lens, every square is found again.

use colour::Conditions;
use nalgebra::{Matrix3, Vector3};
use picture::{Camera, FoundMark, Raster, Refusal, Target, find_marks, read};
use proptest::prelude::*;
use sheet::corner_marks;

const A4: [f64; 2] = [297.0, 210.0];
const SIZE: [usize; 2] = [4000, 3000];

fn target() -> Target {
    Target {
        width_mm: A4[0],
        height_mm: A4[1],
        marks: Target::usual_marks(A4, 7.0, 0),
        ..Target::default()
    }
}

/// A camera of its own: a plane turned and tilted in space, then a lens.
struct View {
    plane: Matrix3<f64>,
    k1: f64,
}

impl View {
    fn of(turn: f64, tilt: [f64; 2], far: f64, k1: f64) -> Self {
        let (s, c) = turn.to_radians().sin_cos();
        let ((sx, cx), (sy, cy)) = (tilt[0].to_radians().sin_cos(), tilt[1].to_radians().sin_cos());
        let turned = Matrix3::new(c, -s, 0.0, s, c, 0.0, 0.0, 0.0, 1.0);
        let tilted = Matrix3::new(cx, sx * sy, 0.0, 0.0, cy, 0.0, -sx, cx * sy, far);
        let middle = Matrix3::new(1.0, 0.0, -A4[0] / 2.0, 0.0, 1.0, -A4[1] / 2.0, 0.0, 0.0, 1.0);
        Self { plane: tilted * turned * middle, k1 }
    }

    fn px(&self, [x, y]: [f64; 2]) -> [f64; 2] {
        let seen = self.plane * Vector3::new(x, y, 1.0);
        // Half a diagonal is one: 2500 px.
        let u = [seen.x / seen.z * 2.0, seen.y / seen.z * 2.0];
        let bent = 1.0 + self.k1 * (u[0] * u[0] + u[1] * u[1]);
        [2000.0 + 2500.0 * u[0] * bent, 1500.0 + 2500.0 * u[1] * bent]
    }

    fn marks(&self, spread_mm: f64) -> Vec<FoundMark> {
        let marks = target().marks.into_iter();
        marks
            .map(|mark| {
                let (left, top) = (mark.x_mm - spread_mm, mark.y_mm - spread_mm);
                let side = mark.side_mm + 2.0 * spread_mm;
                let corners = [[0.0, 0.0], [side, 0.0], [side, side], [0.0, side]];
                let corners = corners.map(|[x, y]| self.px([left + x, top + y]));
                FoundMark { tag: mark.tag, corners }
            })
            .collect()
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    /// Photos: tilts to 25°, any turn, lenses to ± 0.05, ink that spreads by up to 0.1 mm.
    #[test]
    fn places_come_back_from_any_view(
        turn in -180.0..180.0_f64,
        tilt in [-25.0..25.0_f64, -25.0..25.0_f64],
        far in 800.0..1200.0_f64,
        k1 in -0.05..0.05_f64,
        spread in -0.05..0.1_f64,
    ) {
        let view = View::of(turn, tilt, far, k1);
        let fitted = Camera::fit(&target(), &view.marks(spread), SIZE).expect("a camera");
        prop_assert!(fitted.residual_px < 0.2, "{}", fitted.residual_px);
        for place in [[20.0, 30.0], [148.0, 105.0], [270.0, 40.0], [60.0, 180.0], [200.0, 150.0]] {
            let (found, wanted) = (fitted.camera.to_pixels(place), view.px(place));
            let off = (found[0] - wanted[0]).hypot(found[1] - wanted[1]);
            let [per_mm, _] = fitted.camera.pixels_per_mm(place);
            prop_assert!(off / per_mm < 0.1, "{off} px at {place:?}, {per_mm} px to a mm");
        }
    }

    /// Scans: three marks are enough, whichever is missing.
    #[test]
    fn three_marks_carry_a_scan(turn in -180.0..180.0_f64, missing in 0..4_usize, stretch in 0.998..1.002_f64) {
        let (s, c) = turn.to_radians().sin_cos();
        let px = |[x, y]: [f64; 2]| {
            let (x, y) = ((x - 148.5) * stretch * 11.8, (y - 105.0) * 11.8);
            [2000.0 + c * x - s * y, 1500.0 + s * x + c * y]
        };
        let marks = target().marks.into_iter().filter(|mark| mark.tag != missing).map(|mark| {
            let side = mark.side_mm;
            let corners = [[0.0, 0.0], [side, 0.0], [side, side], [0.0, side]];
            FoundMark { tag: mark.tag, corners: corners.map(|[x, y]| px([mark.x_mm + x, mark.y_mm + y])) }
        });
        let fitted = Camera::fit(&target(), &marks.collect::<Vec<_>>(), SIZE).expect("a camera");
        prop_assert!(fitted.is_scan);
        for place in [[20.0, 30.0], [270.0, 180.0], [20.0, 180.0], [270.0, 30.0]] {
            let (found, wanted) = (fitted.camera.to_pixels(place), px(place));
            prop_assert!((found[0] - wanted[0]).hypot(found[1] - wanted[1]) < 0.2);
        }
    }

    /// Pixels of any kind, and of any size: no mark, and no stop.
    #[test]
    fn noise_holds_no_mark(width in 1..60_usize, height in 1..60_usize, seed in any::<u64>()) {
        let mut state = seed | 1;
        let rgb = (0..3 * width * height).map(|_| {
            state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            (state >> 56) as u8
        });
        let picture = Raster::new(width, height, rgb.collect()).expect("a picture");
        prop_assert_eq!(find_marks(&picture).marks, vec![]);
    }
}

/// How far the camera is tilted is told wherever the sheet lies in the picture, not only in its middle.
#[test]
fn the_tilt_is_told_wherever_the_sheet_lies() {
    for tilt in [[12.0, 0.0], [0.0, 25.0], [33.0, 0.0], [20.0, -28.0], [-40.0, 5.0]] {
        for aside in [[0.0, 0.0], [120.0, -60.0], [-90.0, 140.0]] {
            let mut view = View::of(20.0, tilt, 900.0, 0.0);
            view.plane += Matrix3::new(0.0, 0.0, aside[0], 0.0, 0.0, aside[1], 0.0, 0.0, 0.0);
            let camera = Camera::fit(&target(), &view.marks(0.0), SIZE).expect("a camera").camera;
            let [across, down] = tilt.map(|it| it.to_radians().cos());
            let (told, truth) = (camera.tilt_degrees(), (across * down).acos().to_degrees());
            assert!((told - truth).abs() < 1.0, "{tilt:?} {aside:?}: {told} for {truth}");
        }
    }
}

/// Marks that are drawn turned and in a mirror are found, each corner to a tenth of a pixel, and the mirror is told.
#[test]
fn drawn_marks_are_found_to_a_fraction_of_a_pixel() {
    for (turn, mirrored) in
        [(0.0, false), (33.0, false), (90.0, false), (201.0, false), (10.0, true)]
    {
        let (s, c) = f64::to_radians(turn).sin_cos();
        let px = |[x, y]: [f64; 2]| {
            let (x, y) = ((x - 148.5) * 7.3, (y - 105.0) * 7.3);
            let across = c * x - s * y;
            [1300.0 + if mirrored { -across } else { across }, 1300.0 + s * x + c * y]
        };
        let picture = drawn(2600, mirrored, (s, c));
        let found = find_marks(&picture);
        assert_eq!((found.marks.len(), found.mirrored), (4, mirrored), "{turn}");
        if mirrored {
            continue;
        }
        for mark in &found.marks {
            let printed = target().marks[mark.tag];
            let wanted = px([printed.x_mm, printed.y_mm]);
            let off = (mark.corners[0][0] - wanted[0]).hypot(mark.corners[0][1] - wanted[1]);
            assert!(off < 0.1, "{turn}: mark {} is {off} px off", mark.tag);
        }
    }
}

/// Two sheets in one picture: it can't be told which one is meant.
#[test]
fn two_sheets_in_a_picture_are_refused() {
    let one = drawn(2600, false, (0.0, 1.0));
    let twice = one.rgb().chunks(3 * 2600).flat_map(|row| [row, row].concat()).collect();
    let twice = Raster::new(5200, 2600, twice).expect("a picture");
    let refused = |picture: &Raster| read(picture, &target(), Conditions::D65_10).refused;
    assert_eq!(refused(&twice), [Refusal::Twice]);
    assert!(!refused(&one).contains(&Refusal::Twice));
}

/// The marks on white, sixty-four places a pixel.
fn drawn(side: usize, mirrored: bool, (s, c): (f64, f64)) -> Raster {
    let marks = target().marks;
    let codes = corner_marks();
    let mm = |x: f64, y: f64| {
        let (right, down) = (if mirrored { 1300.0 - x } else { x - 1300.0 }, y - 1300.0);
        [(c * right + s * down) / 7.3 + 148.5, (-s * right + c * down) / 7.3 + 105.0]
    };
    let on = |x: f64, y: f64, room: f64| {
        let mm = mm(x, y);
        marks.iter().find_map(|mark| {
            let at = [mm[0] - mark.x_mm, mm[1] - mark.y_mm];
            at.iter().all(|it| (-room..8.0 + room).contains(it)).then_some((mark.tag, at))
        })
    };
    let is_dark = |x: f64, y: f64| {
        on(x, y, 0.0).is_some_and(|(tag, at)| codes[tag][at[1] as usize][at[0] as usize])
    };
    let mut rgb = Vec::with_capacity(3 * side * side);
    for y in 0..side {
        for x in 0..side {
            let near = on(x as f64, y as f64, 0.5).is_some();
            let lit = (0..if near { 64 } else { 0 })
                .filter(|at| {
                    let sub = |at: usize| (at as f64 + 0.5) / 8.0;
                    !is_dark(x as f64 + sub(at % 8), y as f64 + sub(at / 8))
                })
                .count();
            let lit = if near { lit } else { 64 };
            // Light adds before it is encoded.
            let light = 0.03 + 0.85 * lit as f64 / 64.0;
            let code = (255.0 * (1.055 * light.powf(1.0 / 2.4) - 0.055)).round() as u8;
            rgb.extend([code; 3]);
        }
    }
    Raster::new(side, side, rgb).expect("a picture")
}
