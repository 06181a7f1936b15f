//! CIEDE2000 without an angle (ISO/CIE 11664-6; Sharma, Wu and Dalal 2005): the mean hue is the bisector of two
//! directions, its multiples follow from its sine and cosine, and what is left of atan, exp and sin are short series.

use crate::Lab;

/// Of one pair; `None` where there is no sure bisector of its hues.
pub(crate) fn difference(one: Lab, other: Lab) -> Option<f64> {
    let [found] = differences(single(one), single(other));
    (!found.is_nan()).then_some(found)
}

/// The three weighed terms of one pair and the rotation between the last two. Where one is grey the hue's term is 0;
/// of hues right across from each other it is one of two values that CIEDE2000 jumps between.
pub(crate) fn terms_of(one: Lab, other: Lab) -> ([f64; 3], f64) {
    let Terms { light: [light], chroma: [chroma], hue: [hue], turn: [turn], .. } =
        terms(single(one), single(other));
    ([light, chroma, hue], turn)
}

fn single(lab: Lab) -> [[f64; 1]; 3] {
    [[lab.l], [lab.a], [lab.b]]
}

/// NaN where there is no sure bisector of two hues.
pub(crate) fn differences<const N: usize>(one: [[f64; N]; 3], other: [[f64; N]; 3]) -> [f64; N] {
    let Terms { light, chroma, hue, turn, is_sure } = terms(one, other);
    let mut found = [0.0; N];
    for i in 0..N {
        let sum = light[i] * light[i]
            + chroma[i] * chroma[i]
            + hue[i] * hue[i]
            + turn[i] * chroma[i] * hue[i];
        found[i] = if is_sure[i] { sum.max(0.0).sqrt() } else { f64::NAN };
    }
    found
}

/// Differences in lightness, chroma and hue, each by its weight, and R_T.
struct Terms<const N: usize> {
    light: [f64; N],
    chroma: [f64; N],
    hue: [f64; N],
    turn: [f64; N],
    is_sure: [bool; N],
}

/// One short loop after the other: each becomes vector instructions, and one long loop would not.
#[inline]
fn terms<const N: usize>([l1, a1, b1]: [[f64; N]; 3], [l2, a2, b2]: [[f64; N]; 3]) -> Terms<N> {
    let mut more = [0.0; N];
    for i in 0..N {
        let mean = 0.5 * (chroma(a1[i], b1[i]) + chroma(a2[i], b2[i]));
        more[i] = 1.5 - 0.5 * half_weight(mean);
    }
    let (mut c1, mut c2, mut dot, mut cross) = ([0.0; N], [0.0; N], [0.0; N], [0.0; N]);
    for i in 0..N {
        let (x1, x2) = (more[i] * a1[i], more[i] * a2[i]);
        (c1[i], c2[i]) = (chroma(x1, b1[i]), chroma(x2, b2[i]));
        (dot[i], cross[i]) = (x1 * x2 + b1[i] * b2[i], x1 * b2[i] - b1[i] * x2);
    }
    // 2·√(C1·C2)·sin(Δh/2), each way where nothing cancels.
    let mut hue = [0.0; N];
    for i in 0..N {
        let both = c1[i] * c2[i];
        let near = cross[i] / (0.5 * (both + dot[i])).max(f64::MIN_POSITIVE).sqrt();
        let across = (2.0 * (both - dot[i])).max(0.0).sqrt().copysign(cross[i]);
        hue[i] = if dot[i] >= 0.0 { near } else { across };
    }
    // The mean hue as a direction: each colour's own, weighed alike.
    let (mut x, mut y, mut length) = ([0.0; N], [0.0; N], [0.0; N]);
    for i in 0..N {
        x[i] = more[i] * (a1[i] * c2[i] + a2[i] * c1[i]);
        y[i] = b1[i] * c2[i] + b2[i] * c1[i];
        length[i] = chroma(x[i], y[i]);
        let unit = 1.0 / length[i].max(f64::MIN_POSITIVE);
        (x[i], y[i]) = (x[i] * unit, y[i] * unit);
    }
    let mut rotation = [0.0; N];
    for i in 0..N {
        rotation[i] = sine_of_rotation(x[i], y[i]);
    }
    let mut of_light = [0.0; N];
    let (mut of_chroma, mut of_hue, mut turn) = ([0.0; N], [0.0; N], [0.0; N]);
    for i in 0..N {
        let mean = 0.5 * (c1[i] + c2[i]);
        let light = 0.5 * (l1[i] + l2[i]) - 50.0;
        let light = light * light;
        of_light[i] = (l2[i] - l1[i]) / (1.0 + 0.015 * light / (20.0 + light).sqrt());
        of_chroma[i] = (c2[i] - c1[i]) / (1.0 + 0.045 * mean);
        of_hue[i] = hue[i] / (1.0 + 0.015 * mean * weight_of_hue(x[i], y[i]));
        turn[i] = -2.0 * half_weight(mean) * rotation[i];
    }
    let is_sure = std::array::from_fn(|i| length[i] > SURE * c1[i] * c2[i]);
    Terms { light: of_light, chroma: of_chroma, hue: of_hue, turn, is_sure }
}

/// Two hues whose directions add to less than this lie right across from each other.
const SURE: f64 = 1e-5;

/// cos and sin of 30°, 6°, 63° and 275°, and cos of 95°.
const C30: f64 = 0.866_025_403_784_438_6;
const S30: f64 = 0.5;
const C6: f64 = 0.994_521_895_368_273_3;
const S6: f64 = 0.104_528_463_267_653_47;
const C63: f64 = 0.453_990_499_739_546_8;
const S63: f64 = 0.891_006_524_188_367_8;
const C275: f64 = 0.087_155_742_747_658_17;
const C95: f64 = -0.087_155_742_747_658_17;
const S275: f64 = -0.996_194_698_091_745_5;
/// 25 to the seventh.
const P25: f64 = 6_103_515_625.0;

#[inline]
fn chroma(a: f64, b: f64) -> f64 {
    (a * a + b * b).sqrt()
}

/// √(C⁷/(C⁷ + 25⁷))
#[inline]
fn half_weight(chroma: f64) -> f64 {
    let square = chroma * chroma;
    let seventh = square * square * square * chroma;
    (seventh / (seventh + P25)).sqrt()
}

/// T of a mean hue as a direction.
#[inline]
fn weight_of_hue(c: f64, s: f64) -> f64 {
    let (c2, s2) = (2.0 * c * c - 1.0, 2.0 * s * c);
    let (c3, s3) = (c2 * c - s2 * s, s2 * c + c2 * s);
    let (c4, s4) = (2.0 * c2 * c2 - 1.0, 2.0 * s2 * c2);
    1.0 - 0.17 * (c * C30 + s * S30) + 0.24 * c2 + 0.32 * (c3 * C6 - s3 * S6)
        - 0.20 * (c4 * C63 + s4 * S63)
}

/// sin(60°·exp(−((h − 275°)/25°)²)) of a mean hue between 0° and 360° as a direction.
#[inline]
fn sine_of_rotation(c: f64, s: f64) -> f64 {
    let (cosine, sine) = (c * C275 + s * S275, s * C275 - c * S275);
    // tan(δ/2) of the angle to 275° or to its other side, then tan(δ/4): small enough for a short series.
    let half = sine.abs() / (1.0 + cosine.abs());
    let x = half / (1.0 + (1.0 + half * half).sqrt());
    let near = 4.0 * x * series(x * x, ATAN);
    let angle = if cosine >= 0.0 { near } else { std::f64::consts::PI - near };
    let steps = angle * (180.0 / std::f64::consts::PI / 25.0);
    // exp(−z) as the 64th power of exp(−z/64), z up to 52.
    let mut exp = series(-steps * steps * (1.0 / 64.0), EXP);
    for _ in 0..6 {
        exp *= exp;
    }
    // From 0° to 95° the hue is counted the long way, and nothing is left.
    let exp = if s >= 0.0 && c > C95 { 0.0 } else { exp };
    let angle = std::f64::consts::FRAC_PI_3 * exp;
    angle * series(angle * angle, SINE)
}

/// A power series, the constant first (Horner).
#[inline]
fn series<const N: usize>(x: f64, factors: [f64; N]) -> f64 {
    let mut sum = factors[N - 1];
    for factor in factors[..N - 1].iter().rev() {
        sum = sum * x + factor;
    }
    sum
}

/// atan(x)/x by x², up to tan(22.5°).
const ATAN: [f64; 11] = [
    1.0,
    -1.0 / 3.0,
    1.0 / 5.0,
    -1.0 / 7.0,
    1.0 / 9.0,
    -1.0 / 11.0,
    1.0 / 13.0,
    -1.0 / 15.0,
    1.0 / 17.0,
    -1.0 / 19.0,
    1.0 / 21.0,
];
/// exp, down to −0.82.
const EXP: [f64; 12] = [
    1.0,
    1.0,
    1.0 / 2.0,
    1.0 / 6.0,
    1.0 / 24.0,
    1.0 / 120.0,
    1.0 / 720.0,
    1.0 / 5_040.0,
    1.0 / 40_320.0,
    1.0 / 362_880.0,
    1.0 / 3_628_800.0,
    1.0 / 39_916_800.0,
];
/// sin(x)/x by x², up to 60°.
const SINE: [f64; 7] = [
    1.0,
    -1.0 / 6.0,
    1.0 / 120.0,
    -1.0 / 5_040.0,
    1.0 / 362_880.0,
    -1.0 / 39_916_800.0,
    1.0 / 6_227_020_800.0,
];
