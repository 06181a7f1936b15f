//! Grain of paper, marks of the brush, and edges that are not straight: noise that is the same at the same place.

/// The textures of one sheet.
pub(super) struct Texture {
    seed: u32,
}

impl Texture {
    pub fn of(seed: u32) -> Self {
        Self { seed }
    }

    /// Bare paper's light at a place, about 1.
    pub fn paper(&self, mm: [f64; 2]) -> f32 {
        1.0 + 0.004 * self.smooth(1, mm, 0.35)
    }

    /// Paint's light at a place of a square, about 1: ridges along the brush, and specks.
    pub fn brush(&self, square: u32, [x, y]: [f64; 2], speckle: f64) -> f32 {
        let ridges = 0.010 * self.smooth(100 + square, [x / 6.0, y], 0.8);
        let body = 0.006 * self.smooth(5000 + square, [x, y], 2.5);
        let specks = match speckle {
            0.0 => 0.0,
            _ => speckle as f32 * self.smooth(9000 + square, [x, y], 0.5),
        };
        (1.0 + ridges + body + specks).max(0.05)
    }

    /// No paint begins further inside its square's edge, mm.
    pub const MOST_FRAYED_MM: f64 = 0.2;

    /// How far inside the square's edge the paint begins, mm.
    pub fn frayed(&self, square: u32, [x, y]: [f64; 2]) -> f64 {
        0.35 * f64::from(self.smooth(20_000 + square, [x, y], 3.0)) - 0.15
    }

    /// Smooth noise between about −1 and 1, changing over so many mm.
    fn smooth(&self, kind: u32, [x, y]: [f64; 2], mm: f64) -> f32 {
        let (x, y) = (x / mm + 1000.0, y / mm + 1000.0);
        let (left, top) = (x as u32, y as u32);
        let ease = |t: f64| (t * t * (3.0 - 2.0 * t)) as f32;
        let (right, down) = (ease(x - f64::from(left)), ease(y - f64::from(top)));
        let at = |dx: u32, dy: u32| self.noise(kind, left + dx, top + dy);
        let upper = at(0, 0) * (1.0 - right) + at(1, 0) * right;
        let lower = at(0, 1) * (1.0 - right) + at(1, 1) * right;
        upper * (1.0 - down) + lower * down
    }

    fn noise(&self, kind: u32, x: u32, y: u32) -> f32 {
        let mut hash = self.seed ^ kind.wrapping_mul(0x9e37_79b9);
        for value in [x, y] {
            hash = (hash ^ value).wrapping_mul(0x85eb_ca6b);
            hash ^= hash >> 15;
            hash = hash.wrapping_mul(0xc2b2_ae35);
            hash ^= hash >> 13;
        }
        (hash >> 8) as f32 / 8_388_608.0 - 1.0
    }
}
