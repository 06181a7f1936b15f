//! Pictures of painted sheets: read by a program that knows nothing of the devices that took them.

mod bench;

use bench::{Bench, misses, percentile};
use instruments::simulated::picture::PictureDevice;

/// The table of docs/science.md, for looking at.
#[test]
#[ignore = "a long check: make check"]
fn colours_over_many_devices() {
    for device in [PictureDevice::LineScanner, PictureDevice::LampScanner, PictureDevice::Phone] {
        for (count, tubes) in [(10, 4), (16, 7), (24, 9), (40, 9)] {
            let (mut all, mut inside, mut places) = (Vec::new(), Vec::new(), Vec::new());
            for seed in 0..std::env::var("N").map_or(6, |n| n.parse().unwrap()) {
                let mut bench = Bench::new(seed, tubes);
                let shot = bench.photograph(device, &[], seed);
                let (reading, anchors) = bench.read_by(&shot, count, 0.15);
                if !reading.refused.is_empty() {
                    if let Ok(folder) = std::env::var("SHOTS") {
                        let mut bytes =
                            format!("P6\n{} {}\n255\n", shot.width, shot.height).into_bytes();
                        bytes.extend(&shot.rgb);
                        std::fs::write(format!("{folder}/{device:?}{seed}.ppm"), bytes)
                            .expect("written");
                    }
                    println!("{device:?} {seed}: refused {:?}", reading.refused);
                    continue;
                }
                let told = misses(&reading, &bench.truth(), &anchors);
                inside.extend(told.iter().map(|(off, u)| f64::from(off <= u)));
                all.extend(told.iter().map(|(off, _)| *off));
                for (cell, centre) in reading.cells.iter().zip(&shot.centres) {
                    let px = cell.px.expect("a place");
                    places.push((px[0] - centre[0]).hypot(px[1] - centre[1]));
                }
            }
            println!(
                "{device:?} {count}: n {} median {:.2} 95th {:.2}, inside {:.1} %, px {:.2} largest {:.2}",
                all.len(),
                percentile(&all, 0.5),
                percentile(&all, 0.95),
                100.0 * inside.iter().sum::<f64>() / inside.len() as f64,
                percentile(&places, 0.5),
                percentile(&places, 1.0),
            );
        }
    }
}
