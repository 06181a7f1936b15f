//! The corner marks: tags of the family tag36h11, from the top left clockwise: numbers 0 to 3 on a sheet, 4 to 7 on
//! an anchor card.
//!
//! Source: AprilTag, family tag36h11 (Wang and Olson 2016, doi 10.1109/IROS.2016.7759617); codes and
//! bit order as in the reference library's table. A test reads them back with another library.

/// Side of a mark in mm: eight modules of 1 mm, its white surround not counted.
pub const CORNER_MARK_MM: f64 = 8.0;

const CODES: [u64; 8] = [
    0xd_7e00_984b,
    0xd_da66_4ca7,
    0xd_c4a1_c821,
    0xe_17b4_70e9,
    0xe_f91d_01b1,
    0xf_429c_dd73,
    0x0_5da2_9225,
    0x1_106c_ba43,
];
const BIT_X: [u8; 36] = [
    1, 2, 3, 4, 5, 2, 3, 4, 3, 6, 6, 6, 6, 6, 5, 5, 5, 4, 6, 5, 4, 3, 2, 5, 4, 3, 4, 1, 1, 1, 1, 1,
    2, 2, 2, 3,
];
const BIT_Y: [u8; 36] = [
    1, 1, 1, 1, 1, 2, 2, 2, 3, 1, 2, 3, 4, 5, 2, 3, 4, 3, 6, 6, 6, 6, 6, 5, 5, 5, 4, 6, 5, 4, 3, 2,
    5, 4, 3, 4,
];

/// The dark modules of the marks, each as rows of eight.
#[must_use]
pub fn corner_marks() -> [[[bool; 8]; 8]; 8] {
    CODES.map(|code| {
        let mut dark = [[true; 8]; 8];
        for bit in 0..36 {
            let white = code >> (35 - bit) & 1 == 1;
            dark[usize::from(BIT_Y[bit])][usize::from(BIT_X[bit])] = !white;
        }
        dark
    })
}
