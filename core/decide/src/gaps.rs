//! Where a palette falls short of what another set of tubes reaches, in words, and families of colours that painters ask
//! for.

use std::fmt;

use colour::{Hue, Lab};

use crate::paints::Paints;
use crate::reach::{LEVELS, Reach, SECTORS, level_from};
use crate::search::{Effort, Limits, search};
use crate::solve::Choice;
use crate::target::Target;

/// Stretches of the hue circle by their names, each from its lower edge in degrees of CIELAB; their bounds lie midway
/// between the unique hues (about 25°, 90°, 163° and 250°, from memory) and the mixed ones between them.
const NAMES: [(f64, &str); 9] = [
    (0.0, "magenta red"),
    (20.0, "red"),
    (45.0, "orange"),
    (75.0, "yellow"),
    (108.0, "yellow green"),
    (140.0, "green"),
    (195.0, "blue green"),
    (235.0, "blue"),
    (290.0, "violet"),
];
/// From here on, magenta.
const MAGENTA: f64 = 335.0;

/// What painters call a hue.
#[must_use]
pub fn hue_name(hue: Hue) -> &'static str {
    let degrees = hue.degrees();
    if degrees >= MAGENTA {
        return "magenta";
    }
    let name = NAMES.iter().rev().find(|(from, _)| degrees >= *from);
    name.map_or("red", |(_, name)| name)
}

/// A gap: a hue between two levels of lightness that a palette reaches only dully, or not at all.
#[derive(Debug, Clone, PartialEq)]
pub struct Gap {
    /// What painters call the hue.
    pub name: &'static str,
    /// From this L* up to that one.
    pub lightness: (f64, f64),
    /// The highest C* that the palette reaches there, on the whole.
    pub own: f64,
    /// The highest that all tubes reach there, on the whole.
    pub all: f64,
    /// How large it is: the share of what all reach.
    pub share: f64,
    sectors: Vec<usize>,
    levels: (usize, usize),
}

/// A cell falls short where it has less than this of what others reach.
const SHORT: f64 = 0.85;
/// From this share of what others reach on a hue is softened and not missing, as vividness has it.
const CLEAN: f64 = 0.6;
/// Gaps smaller than this share of the whole are none.
const LEAST: f64 = 0.004;

impl Gap {
    /// `no clean violet below L* 40`, or `only a softened green above L* 25` where it has some of it.
    #[must_use]
    pub fn words(&self) -> String {
        let (low, high) = self.lightness;
        let where_it_is = match (low <= 20.0, high >= 90.0) {
            (true, true) => String::new(),
            (true, false) => format!(" below L* {high:.0}"),
            (false, true) => format!(" above L* {low:.0}"),
            (false, false) => format!(" between L* {low:.0} and {high:.0}"),
        };
        let is_softened = self.own >= CLEAN * self.all;
        let how = if is_softened { "only a softened" } else { "no clean" };
        format!("{how} {}{where_it_is}", self.name)
    }

    /// How much of the gap a set of tubes fills, 0 to 1.
    #[must_use]
    pub fn filled_by(&self, own: &Reach, with: &Reach, all: &Reach) -> f64 {
        let missing = |reach: &Reach| -> f64 {
            let within = |(sector, level, _): &(usize, usize, f64)| {
                self.sectors.contains(sector) && (self.levels.0..self.levels.1).contains(level)
            };
            reach.missing(all).filter(within).map(|it| it.2).sum()
        };
        let before = missing(own);
        if before > 0.0 { 1.0 - missing(with) / before } else { 0.0 }
    }
}

/// Where a palette falls short of what `all` reaches, the largest gap first: one a hue at most.
#[must_use]
pub fn gaps(own: &Reach, all: &Reach) -> Vec<Gap> {
    let whole: f64 = Reach::default().missing(all).map(|it| it.2).sum::<f64>().max(1e-9);
    let name_of = |sector: usize| hue_name(Hue::from_degrees(10.0 * sector as f64 + 5.0));
    let mut names: Vec<&'static str> = (0..SECTORS).map(name_of).collect();
    names.sort_unstable();
    names.dedup();
    let mut found: Vec<Gap> = Vec::new();
    for name in names {
        let sectors: Vec<usize> = (0..SECTORS).filter(|sector| name_of(*sector) == name).collect();
        // Of every run of levels, how much is missing; a run stays while it falls short.
        let short = |level: usize| {
            let (own, all) = mean_of(own, all, &sectors, level..level + 1);
            all > 0.0 && own < SHORT * all
        };
        let mut from = 0;
        while from < LEVELS {
            if !short(from) {
                from += 1;
                continue;
            }
            let to = (from..LEVELS).find(|level| !short(*level)).unwrap_or(LEVELS);
            let (own_chroma, all_chroma) = mean_of(own, all, &sectors, from..to);
            let missing: f64 = own
                .missing(all)
                .filter(|it| sectors.contains(&it.0) && (from..to).contains(&it.1))
                .map(|it| it.2)
                .sum();
            found.push(Gap {
                name,
                lightness: (level_from(from), level_from(to)),
                own: own_chroma,
                all: all_chroma,
                share: missing / whole,
                sectors: sectors.clone(),
                levels: (from, to),
            });
            from = to;
        }
    }
    found.retain(|gap| gap.share >= LEAST);
    found.sort_by(|one, other| other.share.total_cmp(&one.share));
    let mut seen: Vec<&str> = Vec::new();
    found.retain(|gap| {
        !seen.contains(&gap.name) && {
            seen.push(gap.name);
            true
        }
    });
    found
}

/// Root mean square of the highest C* of both where `all` reaches anything.
fn mean_of(
    own: &Reach,
    all: &Reach,
    sectors: &[usize],
    levels: std::ops::Range<usize>,
) -> (f64, f64) {
    let (mut squares, mut count) = ((0.0, 0.0), 0.0);
    for sector in sectors {
        for level in levels.clone() {
            let most = all.at(*sector, level);
            if most > 0.0 {
                squares.0 += own.at(*sector, level).min(most).powi(2);
                squares.1 += most * most;
                count += 1.0;
            }
        }
    }
    let mean = |sum: f64| (sum / f64::max(count, 1.0)).sqrt();
    (mean(squares.0), mean(squares.1))
}

/// A colour is hit within this, ΔE00.
const HIT: f64 = 2.0;

/// Colours that painters ask for, as a box of lightness, chroma and hue (ours).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Family {
    /// Of people.
    Skins,
    /// Leaves and grass.
    Foliage,
    /// Of the day.
    Skies,
    /// Greys.
    Neutrals,
}

impl Family {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Foliage, Self::Skies, Self::Skins, Self::Neutrals];

    /// L*, C* and hue in degrees, each from and to.
    fn bounds(self) -> [(f64, f64); 3] {
        match self {
            Self::Skins => [(35.0, 85.0), (12.0, 32.0), (38.0, 72.0)],
            Self::Foliage => [(25.0, 65.0), (12.0, 48.0), (105.0, 150.0)],
            Self::Skies => [(45.0, 88.0), (8.0, 38.0), (225.0, 275.0)],
            Self::Neutrals => [(25.0, 85.0), (0.0, 4.0), (0.0, 300.0)],
        }
    }

    /// Three levels, three chromas and three hues of the box.
    #[must_use]
    pub fn colours(self) -> Vec<Lab> {
        let [lightness, chroma, hue] = self.bounds();
        let along = |(from, to): (f64, f64)| [0.1, 0.5, 0.9].map(|at| from + at * (to - from));
        let mut all = Vec::new();
        for l in along(lightness) {
            for c in along(chroma) {
                for h in along(hue) {
                    let (sin, cos) = h.to_radians().sin_cos();
                    all.push(Lab::new(l, c * cos, c * sin));
                }
            }
        }
        all
    }

    /// The share of its colours that a palette hits within ΔE00 2, by recipes of up to three tubes.
    #[must_use]
    pub fn hit(self, paints: &Paints, among: &[usize]) -> f64 {
        let colours = self.colours();
        let hit = |lab: &&Lab| {
            let Ok(target) = Target::of_lab(**lab, paints) else { return false };
            // Two colours do for most.
            [2, 3].iter().any(|most| {
                let effort = Effort { pairs: 6, triples: 0 };
                let limits = Limits { most: *most, white: true, effort };
                let found = search(paints, &target, among, limits, &mut |_| true);
                let best = found.as_deref().and_then(<[Choice]>::first);
                best.is_some_and(|choice| choice.score <= HIT)
            })
        };
        colours.iter().filter(hit).count() as f64 / colours.len().max(1) as f64
    }
}

impl fmt::Display for Family {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Skins => "skins",
            Self::Foliage => "foliage",
            Self::Skies => "skies",
            Self::Neutrals => "neutrals",
        })
    }
}
