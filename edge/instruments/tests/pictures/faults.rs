//! Faults in squares: which are found, and what is flagged that has none.

use colour::{Lab, ciede2000};
use instruments::simulated::picture::{PictureDevice, PictureFault, Shot};
use picture::{CellReading, Flag, PictureReading, Status};
use rand::SeedableRng as _;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution as _, Normal};

use super::bench::Bench;

/// What is put into squares of one picture, in the order in which they are told.
const FAULTS: [(PictureFault, &[Flag]); 6] = [
    (PictureFault::Empty, &[Flag::NotPainted]),
    (PictureFault::TwoTone, &[Flag::TwoTone]),
    (PictureFault::Swapped, &[Flag::Swapped, Flag::Swapped]),
    (PictureFault::Granulates, &[Flag::Granulates]),
    (PictureFault::Glare, &[Flag::Glare]),
    (PictureFault::Veil, &[Flag::Veiled]),
];

/// Faults that were found and missed, and squares that were flagged without one.
#[derive(Debug, Default)]
pub struct Alarms {
    pub found: usize,
    pub missed: Vec<(PictureDevice, u64, Flag)>,
    pub falsely: usize,
    pub false_flags: Vec<(PictureDevice, u64, Flag)>,
    pub squares: usize,
}

impl Alarms {
    pub fn add_picture(&mut self, seed: u64, device: PictureDevice) {
        let mut bench = Bench::new(seed, 9);
        let faults = FAULTS.map(|(fault, _)| fault);
        let shot = bench.photograph(device, &faults, seed);
        let (reading, known) = bench.read_by(&shot, 24, 0.15);
        let wanted: Vec<(u32, Flag)> = shot
            .faulty
            .iter()
            .copied()
            .zip(FAULTS.iter().flat_map(|(_, flags)| flags.iter().copied()))
            .collect();
        let truth = bench.truth();
        for (number, flag) in &wanted {
            let cell = reading.cells.iter().find(|cell| cell.number == *number);
            let cell = cell.expect("a square");
            // A lamp mirrored so brightly that the square is refused needs no flag.
            let is_refused =
                matches!(flag, Flag::Glare | Flag::Veiled) && cell.status == Status::Refused;
            if cell.flags.contains(flag) || is_refused {
                self.found += 1;
            } else if can_be_found(&bench, (*number, *flag), &wanted, truth[number])
                && !(*flag == Flag::Veiled
                    && known.contains(number)
                    && is_right(cell, truth[number]))
            {
                println!(
                    "missed {device:?} {seed} {number} {flag} read {:?} is {:?} U {:?} flags {:?}",
                    cell.lab, truth[number], cell.u, cell.flags
                );
                self.missed.push((device, seed, *flag));
            }
        }
        let is_one = |flag: &&Flag| FAULTS.iter().any(|(_, flags)| flags.contains(flag));
        for cell in &reading.cells {
            let is_faulty = shot.faulty.contains(&cell.number);
            let alarm = cell.flags.iter().find(is_one);
            if let (false, Some(flag)) = (is_faulty, alarm) {
                self.falsely += 1;
                self.false_flags.push((device, seed, *flag));
            }
        }
        self.squares += reading.cells.len() - shot.faulty.len();
    }
}

/// The same shot with noise of so many codes more, one σ.
pub fn noisy(shot: &Shot, codes: f64) -> Shot {
    let mut chance = ChaCha8Rng::seed_from_u64(1);
    let noise = Normal::new(0.0, codes).expect("a width");
    // A prime number of values in turn: fine for the eye of a program, and sooner made.
    let ring: Vec<f64> = (0..1_000_003).map(|_| noise.sample(&mut chance)).collect();
    let noisy = |(code, off): (&u8, &f64)| (f64::from(*code) + off).round().clamp(0.0, 255.0) as u8;
    let rgb = shot.rgb.iter().zip(ring.iter().cycle()).map(noisy).collect();
    Shot { rgb, ..shot.clone() }
}

/// What whites and the palest tints that are no anchors are off, with their half-widths.
pub fn whites(bench: &Bench, reading: &PictureReading, anchors: &[u32]) -> Vec<(f64, f64)> {
    let truth = bench.truth();
    let told = reading.cells.iter().filter(|cell| !anchors.contains(&cell.number));
    let told = told.filter_map(|cell| {
        let white = truth.get(&cell.number).filter(|lab| lab.l > 88.0 && lab.chroma() < 12.0)?;
        Some((ciede2000(cell.lab?, *white).value(), cell.u?))
    });
    told.collect()
}

/// A known square is believed where nothing else contradicts it: a window in it does no harm while its colour is right.
fn is_right(cell: &CellReading, truth: Lab) -> bool {
    cell.lab.zip(cell.u).is_some_and(|(lab, u)| ciede2000(lab, truth).value() <= u)
}

/// A square with two faults shows one; bare white on white is no fault that shows; dark paint hides specks, which is what
/// the stated threshold says; and nothing is mirrored in a card that has no paint.
fn can_be_found(
    bench: &Bench,
    (number, flag): (u32, Flag),
    wanted: &[(u32, Flag)],
    truth: Lab,
) -> bool {
    let is_twice = wanted.iter().filter(|(other, _)| *other == number).count() > 1;
    let is_paint = bench.holds_colour(number);
    match flag {
        _ if is_twice => false,
        Flag::Granulates => truth.l > 45.0,
        Flag::NotPainted | Flag::Glare => is_paint,
        // Pale paint under a window is little lighter.
        Flag::Veiled => is_paint && truth.l < 70.0,
        _ => true,
    }
}
