//! From a spectrum to the linear light that a device's program writes, and from there to its bytes.

use colour::{BANDS, Reflectance, wavelength};
use nalgebra::{Matrix3, Vector3};
use rand::Rng;
use rand_chacha::ChaCha8Rng;

use super::PictureDevice;
use crate::simulated::table::standard_normal;

/// A device's lamp, sensors and program.
pub(super) struct Optics {
    /// Lamp times sensor by channel and band; each sums to 1.
    sensors: [[f64; BANDS]; 3],
    /// From its sensors' light to about sRGB, as its maker has set it.
    matrix: Matrix3<f64>,
    /// Light that its paper gives back in blue beyond what a meter sees.
    brightener: f64,
    /// How much of the gloss it does not see.
    gloss_lost: f64,
    /// Light everywhere, as a share of white.
    haze: f64,
    /// Share of the light that strays.
    pub veil: f32,
    /// White's value after exposure.
    exposure: f64,
    gamma: f64,
    /// How much its curve is bent like an S.
    bend: f64,
    /// Noise in codes, one σ.
    noise: f64,
    pub blur_px: f64,
}

fn uniform(chance: &mut ChaCha8Rng, low: f64, high: f64) -> f64 {
    chance.random_range(low..high)
}

fn bell(band: usize, centre: f64, width: f64) -> f64 {
    (-0.5 * ((f64::from(wavelength(band)) - centre) / width).powi(2)).exp()
}

impl Optics {
    pub fn of(device: PictureDevice, chance: &mut ChaCha8Rng) -> Self {
        let sensors = device.sensors();
        let is_phone = sensors.is_phone;
        let mut off = |most: f64| uniform(chance, -most, most);
        let centres =
            sensors.centres_nm.map(|(centre, most)| f64::from(centre) + off(f64::from(most)));
        let widths = sensors.widths_nm.map(|width| f64::from(width) * (1.0 + off(0.12)));
        // A white lamp: a blue peak and what a phosphor makes of it, warm or cold.
        let warm = 0.5 + off(0.25);
        let lamp = |band: usize| match sensors.has_coloured_lamps {
            true => 1.0,
            false => {
                0.6 * bell(band, 452.0, 14.0) * (1.2 - warm)
                    + 0.15
                    + bell(band, 575.0, 62.0) * (0.4 + warm)
            }
        };
        let side = 0.04 + off(0.03);
        let sensors = std::array::from_fn(|channel| {
            let raw: [f64; BANDS] = std::array::from_fn(|band| {
                let other = bell(band, centres[(channel + 1) % 3], widths[(channel + 1) % 3]);
                lamp(band) * (bell(band, centres[channel], widths[channel]) + side * other)
            });
            let sum: f64 = raw.iter().sum();
            raw.map(|value| value / sum)
        });
        let mut optics = Self {
            sensors,
            matrix: Matrix3::identity(),
            brightener: if is_phone { 0.02 + off(0.02) } else { 0.03 + off(0.03) },
            gloss_lost: 0.75 + off(0.2),
            haze: 0.004 + off(0.003),
            veil: (if is_phone { 0.012 } else { 0.018 } + off(0.008)) as f32,
            exposure: if is_phone { 0.80 + off(0.08) } else { 0.90 + off(0.05) },
            gamma: 1.0 + off(0.05),
            bend: if is_phone { 0.10 + off(0.10) } else { off(0.06) },
            noise: if is_phone { 1.3 + off(0.4) } else { 0.7 + off(0.3) },
            blur_px: if is_phone { 0.9 + off(0.3) } else { 0.6 + off(0.2) },
        };
        optics.matrix = optics.tuned();
        optics
    }

    /// The matrix that brings a set of smooth surfaces nearest to sRGB, white kept white: as makers tune a device.
    fn tuned(&self) -> Matrix3<f64> {
        let (mut normal, mut right) = (Matrix3::zeros(), Matrix3::zeros());
        let mut add = |surface: Reflectance, weight: f64| {
            let seen = Vector3::from(self.raw(&surface));
            let rgb = Vector3::from(srgb(&surface));
            normal += seen * seen.transpose() * weight;
            right += rgb * seen.transpose() * weight;
        };
        for step in 0..12 {
            let centre = 400.0 + 25.0 * f64::from(step);
            add(Reflectance::from_fn(|band| 0.08 + 0.6 * bell(band, centre, 35.0)), 1.0);
            add(Reflectance::from_fn(|band| 0.75 - 0.6 * bell(band, centre, 40.0)), 1.0);
        }
        add(Reflectance::from_fn(|_| 1.0), 40.0);
        normal.try_inverse().map_or(Matrix3::identity(), |inverse| right * inverse)
    }

    fn raw(&self, reflectance: &Reflectance) -> [f64; 3] {
        self.sensors.map(|sensor| {
            sensor.iter().zip(reflectance.bands()).map(|(sensor, r)| sensor * r).sum()
        })
    }

    fn linear(&self, reflectance: &Reflectance) -> [f32; 3] {
        let value = self.matrix * Vector3::from(self.raw(reflectance));
        std::array::from_fn(|channel| (value[channel] + self.haze) as f32)
    }

    /// Paint, whose mirrored light mostly goes elsewhere.
    pub fn paint(&self, reflectance: &Reflectance) -> [f32; 3] {
        let lost = 0.04 * self.gloss_lost;
        self.linear(&Reflectance::from_fn(|band| (reflectance.bands()[band] - lost).max(0.0)))
    }

    /// Bare paper with its brightener.
    pub fn paper(&self, reflectance: &Reflectance) -> [f32; 3] {
        self.linear(&Reflectance::from_fn(|band| {
            reflectance.bands()[band] - 0.01 + self.brightener * bell(band, 445.0, 22.0)
        }))
    }

    /// What lies around the sheet: a lid or a table.
    #[allow(clippy::unused_self)]
    pub fn around(&self, chance: &mut ChaCha8Rng) -> [f32; 3] {
        let grey = uniform(chance, 0.12, 0.5);
        [grey * 1.05, grey, grey * 0.8].map(|value| value as f32)
    }

    /// The bytes of a picture.
    pub fn written(&self, light: &[[f32; 3]], dark: f64, chance: &mut ChaCha8Rng) -> Vec<u8> {
        // The curve as a table: a picture has millions of pixels.
        const STEPS: usize = 4096;
        let curve: Vec<f32> = (0..=STEPS)
            .map(|step| {
                let light = self.exposure * dark * 1.25 * step as f64 / STEPS as f64;
                let v = encode(light.clamp(0.0, 1.0)).powf(self.gamma);
                let bent = v + self.bend * v * (1.0 - v) * (2.0 * v - 1.0);
                (255.0 * bent) as f32
            })
            .collect();
        // Noise from a ring of a prime number of values: fine for the eye of a program.
        let ring: Vec<f32> =
            (0..65_521).map(|_| (self.noise * standard_normal(chance)) as f32).collect();
        let mut at = chance.random_range(0..ring.len());
        let mut bytes = vec![0; 3 * light.len()];
        for (pixel, written) in light.iter().zip(bytes.as_chunks_mut::<3>().0) {
            for (value, written) in pixel.iter().zip(&mut *written) {
                let place = (value * (STEPS as f32 / 1.25)) as usize;
                at = if at + 1 < ring.len() { at + 1 } else { 0 };
                // Noise of light: stronger where there is more of it.
                let code = curve[place.min(STEPS)];
                *written = (code + ring[at] * (0.5 + code / 255.0) + 0.5) as u8;
            }
            at += usize::from(written[2] & 7);
            at -= if at < ring.len() { 0 } else { ring.len() };
        }
        bytes
    }
}

fn encode(light: f64) -> f64 {
    if light <= 0.003_130_8 { 12.92 * light } else { 1.055 * light.powf(1.0 / 2.4) - 0.055 }
}

/// Linear sRGB of a surface under D65.
fn srgb(reflectance: &Reflectance) -> [f64; 3] {
    let xyz = colour::Xyz::from_reflectance(reflectance, colour::Conditions::D65_2);
    let [x, y, z] = [xyz.x / 100.0, xyz.y / 100.0, xyz.z / 100.0];
    [
        3.2406 * x - 1.5372 * y - 0.4986 * z,
        -0.9689 * x + 1.8758 * y + 0.0415 * z,
        0.0557 * x - 0.2040 * y + 1.0570 * z,
    ]
}
