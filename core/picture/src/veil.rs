//! A window mirrored in the whole of a square: its light lies over the paint's own, the same in every channel.

use colour::{Conditions, Lab, Xyz, ciede2000};

/// As much light as this, of what the white throws back, and it shows (ours).
const LEAST: f64 = 0.015;
/// A square so far from what it should be asks why, ΔE00, and by so many times its own half-width.
const OFF: f64 = 6.0;
const TIMES: f64 = 1.2;
/// The light explains it where no more than this share is left (ours).
const LEFT: f64 = 0.35;

/// Light that lies over a square tells why it was read so and should be otherwise. More white than planned may look alike.
pub(crate) fn is_veiled(read: Lab, wanted: Lab, half_width: f64, conditions: Conditions) -> bool {
    let off = ciede2000(read, wanted).value();
    if off < OFF.max(TIMES * half_width) {
        return false;
    }
    let white = Xyz::white(conditions);
    let [seen, should] = [read, wanted].map(|lab| lab.to_xyz(conditions));
    let more = [
        (seen.x - should.x) / white.x,
        (seen.y - should.y) / white.y,
        (seen.z - should.z) / white.z,
    ];
    let light = more.iter().sum::<f64>() / 3.0;
    let lit = Xyz {
        x: should.x + light * white.x,
        y: should.y + light * white.y,
        z: should.z + light * white.z,
    };
    let lit = Lab::from_xyz(lit, conditions);
    light > LEAST && ciede2000(read, lit).value() < LEFT * off
}
