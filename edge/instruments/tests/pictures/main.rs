//! Pictures of painted sheets: read by a program that knows nothing of the devices that took them.
//!
//! What is wanted stands in the checks of the issue on pictures (found by simulation in a trial implementation); the
//! devices here share none of its numbers.

mod bench;

use bench::{Bench, Tally};
use instruments::simulated::picture::{PictureDevice, PictureFault};
use picture::{Flag, Refusal, Status};

const SCANNERS: [PictureDevice; 2] = [PictureDevice::LineScanner, PictureDevice::LampScanner];
const ALL: [PictureDevice; 3] =
    [PictureDevice::LineScanner, PictureDevice::LampScanner, PictureDevice::Phone];

/// Many anchors, every tube of them anchored: colours, their intervals and places, over devices nobody knows.
#[test]
fn colours_hold_over_devices_that_the_reader_does_not_know() {
    let mut tally = Tally::default();
    for (seed, device) in (0..6).zip(ALL.into_iter().cycle()) {
        let mut bench = Bench::new(seed, 9);
        let shot = bench.photograph(device, &[], seed);
        let (reading, anchors) = bench.read_by(&shot, 24, 0.15);
        assert_eq!(reading.refused, [], "{device:?} {seed}");
        assert_eq!(reading.code.as_deref(), Some(bench.file.code.as_str()));
        assert_eq!(reading.is_scan, device != PictureDevice::Phone);
        tally.add(&bench, &reading, &shot, &anchors);
    }
    let [median, high] = tally.misses([0.5, 0.95]);
    assert!(median <= 1.3 && high <= 5.5, "{median} {high}");
    assert!((0.93..=1.0).contains(&tally.inside()), "{}", tally.inside());
    assert!(tally.farthest_mm <= 0.3, "{}", tally.farthest_mm);
    assert!(tally.cells > 200);
}

/// A chart without marks, its four corners put half a millimetre beside where they are: no worse for its colours.
#[test]
fn corners_put_by_hand_are_good_enough() {
    let mut tally = Tally::default();
    for (seed, device) in (20..23).zip(ALL) {
        let mut bench = Bench::new(seed, 9);
        let shot = bench.photograph(device, &[], seed);
        bench.place_by_hand(&shot, device != PictureDevice::Phone);
        let (reading, anchors) = bench.read_by(&shot, 24, 0.15);
        assert_eq!(reading.refused, [], "{device:?} {seed}");
        tally.add(&bench, &reading, &shot, &anchors);
    }
    let [median, high] = tally.misses([0.5, 0.95]);
    assert!(median <= 1.3 && high <= 5.5, "{median} {high}");
    assert!((0.93..=1.0).contains(&tally.inside()), "{}", tally.inside());
    // Half a millimetre at the corners, and not much more between them.
    assert!((0.3..1.0).contains(&tally.farthest_mm), "{}", tally.farthest_mm);
}

/// Paper that bulges some millimetres: the squares' own edges say where it lies.
#[test]
fn bent_paper_is_read_by_the_edges_of_its_squares() {
    let mut tally = Tally::default();
    for seed in 0..4 {
        let mut bench = Bench::new(seed, 9);
        let shot = bench.photograph(PictureDevice::Phone, &[PictureFault::Bent], seed);
        let (reading, anchors) = bench.read_by(&shot, 24, 0.15);
        assert_eq!(reading.refused, [], "{seed}");
        tally.add(&bench, &reading, &shot, &anchors);
    }
    // By the marks alone it is one.
    assert!(tally.farthest_mm <= 0.4, "{}", tally.farthest_mm);
    let [median, high] = tally.misses([0.5, 0.95]);
    assert!(median <= 1.3 && high <= 5.5, "{median} {high}");
}

/// Where K and S of all tubes are known from an earlier trial, their mixtures train the map, and colours come nearer.
#[test]
fn known_tubes_bring_colours_nearer() {
    let (mut plain, mut trained) = (Tally::default(), Tally::default());
    for seed in 0..3 {
        for (tally, spectral) in [(&mut plain, false), (&mut trained, true)] {
            let bench = Bench::new(seed, 9);
            let mut bench = if spectral { bench.with_k_and_s() } else { bench };
            let shot = bench.photograph(PictureDevice::LampScanner, &[], seed);
            let (reading, anchors) = bench.read_by(&shot, 24, 0.15);
            tally.add(&bench, &reading, &shot, &anchors);
        }
    }
    let [plain, trained] = [plain, trained].map(|tally| tally.misses([0.5, 0.95]));
    // Three sheets are few for a median.
    assert!(trained[0] < plain[0] + 0.1 && trained[1] < plain[1], "{trained:?} {plain:?}");
}

/// Without anchors colours are a guess, said so, and like is still told from like.
#[test]
fn without_anchors_only_differences_hold() {
    let mut bench = Bench::new(3, 9);
    let shot = bench.photograph(PictureDevice::Phone, &[], 3);
    let reading = bench.read(&shot, &[], 0.15);
    let told = reading.calibration.as_ref().expect("read");
    assert!(!told.is_calibrated && told.leave_one_out.is_none() && told.anchors == 0);
    let read: Vec<_> = reading.cells.iter().filter(|cell| cell.status == Status::Read).collect();
    assert!(read.len() > 30 && read.iter().all(|cell| cell.u == Some(9.0) && !cell.is_anchored));
}

/// What goes wrong with a square is found in that square, and what goes wrong with a picture refuses it, with a reason.
#[test]
fn faults_are_found_where_they_are() {
    for (fault, flag) in [
        (PictureFault::Empty, Flag::NotPainted),
        (PictureFault::TwoTone, Flag::TwoTone),
        (PictureFault::Swapped, Flag::Swapped),
        (PictureFault::Granulates, Flag::Granulates),
        (PictureFault::Glare, Flag::Glare),
    ] {
        let mut bench = Bench::new(1, 9);
        let shot = bench.photograph(PictureDevice::LineScanner, &[fault], 11);
        let (reading, _) = bench.read_by(&shot, 40, 0.15);
        let flagged = reading.cells.iter().filter(|cell| cell.flags.contains(&flag));
        let flagged: Vec<u32> = flagged.map(|cell| cell.number).collect();
        let mut faulty = shot.faulty.clone();
        faulty.sort_unstable();
        assert_eq!(flagged, faulty, "{fault:?}");
    }
    let refused = |device: PictureDevice, fault: PictureFault| {
        let mut bench = Bench::new(2, 4);
        let shot = bench.photograph(device, &[fault], 4);
        bench.read(&shot, &[], 0.15).refused
    };
    let phone = PictureDevice::Phone;
    assert!(matches!(refused(phone, PictureFault::Dark)[..], [Refusal::TooDark]));
    let oblique = refused(phone, PictureFault::Oblique);
    assert!(matches!(oblique[..], [Refusal::Oblique(d), ..] if d > 35.0), "{oblique:?}");
    assert!(
        matches!(refused(phone, PictureFault::Shadow)[..], [Refusal::Uneven(times)] if times > 2.0)
    );
    assert!(
        matches!(&refused(phone, PictureFault::CornerMissing)[..], [Refusal::MarksMissing(which)] if which == &[2])
    );
    assert!(!refused(phone, PictureFault::Blur).is_empty());
    // A scan in grey would be told by its pigments alone.
    let mut bench = Bench::new(2, 4);
    let mut grey = bench.photograph(PictureDevice::LineScanner, &[], 4);
    for pixel in grey.rgb.chunks_exact_mut(3) {
        pixel.fill(pixel[1]);
    }
    assert_eq!(bench.read(&grey, &bench.anchors(20), 0.15).refused, [Refusal::NoColour]);
    // A scan lies flat: three marks are enough.
    assert_eq!(refused(PictureDevice::LineScanner, PictureFault::CornerMissing), []);
}

/// The table of docs/science.md over twenty devices of each kind, for looking at.
#[test]
#[ignore = "a long check: make check"]
fn the_table_over_many_devices() {
    let run = |devices: &[PictureDevice],
               (count, tubes, sigma): (usize, usize, f64),
               spectral: bool| {
        let mut tally = Tally::default();
        let mut worst = 1.0_f64;
        for seed in 0..20 {
            for device in devices {
                let bench = Bench::new(seed, tubes);
                let mut bench = if spectral { bench.with_k_and_s() } else { bench };
                let shot = bench.photograph(*device, &[], seed);
                let (reading, anchors) = bench.read_by(&shot, count, sigma);
                if !reading.refused.is_empty() {
                    println!("{device:?} {seed} refused: {:?}", reading.refused);
                    continue;
                }
                let mut own = Tally::default();
                own.add(&bench, &reading, &shot, &anchors);
                worst = worst.min(own.inside());
                tally.add(&bench, &reading, &shot, &anchors);
            }
        }
        let [median, high] = tally.misses([0.5, 0.95]);
        println!(
            "{count} anchors, {tubes} tubes, σ {sigma}, K and S {spectral}, {devices:?}: {} cells, ΔE00 {median:.2}/{high:.2}, \
             inside {:.1} % (worst sheet {:.0} %), places {:.2} mm",
            tally.cells,
            100.0 * tally.inside(),
            100.0 * worst,
            tally.farthest_mm
        );
        [median, high, tally.inside()]
    };
    let mut failed = Vec::new();
    for (case, spectral, most) in [
        ((10, 4, 0.15), false, [1.9, 7.5]),
        ((16, 7, 0.15), false, [1.6, 6.5]),
        ((24, 9, 0.15), false, [1.3, 5.5]),
        ((40, 9, 0.15), false, [1.3, 5.3]),
        ((24, 9, 0.6), false, [1.4, 5.5]),
        ((24, 9, 1.5), false, [1.9, 6.0]),
        ((24, 9, 0.15), true, [0.9, 3.8]),
    ] {
        for devices in [&SCANNERS[..], &[PictureDevice::Phone]] {
            let [median, high, inside] = run(devices, case, spectral);
            if !(median <= most[0] && high <= most[1] && inside >= 0.93) {
                failed.push(format!("{case:?} {spectral} {devices:?}"));
            }
        }
    }
    assert!(failed.is_empty(), "{failed:?}");
}
