//! How vivid a colour is beside the most vivid that this trial's tubes can mix there.

use std::fmt;

use colour::{Conditions, Lab, Reflectance, unsigned_distance};
use mixing::{Constants, InternalReflectance, Surface, predict};
use study::{Averages, FittedTubes, Study, TubeRef};

use crate::interval::WhyNot;

/// What lies within this of a colour in hue, degrees, and in L* stands beside it.
const HUE_WINDOW: f64 = 10.0;
const LIGHTNESS_WINDOW: f64 = 10.0;
/// Ratios of each pair, by strength, and parts of white with each.
const FINE: usize = 15;
/// The same where the colours that are judged are predicted themselves: few tubes leave gaps between their colours
/// unless they are looked at finely; of many the highest chroma is found a little low.
const BY_TUBES: [(usize, usize); 3] = [(4, 31), (10, FINE), (usize::MAX, 9)];
/// All pairs of so many tubes are predicted.
const MOST_TUBES: usize = 24;

/// How painters call it (ours).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum VividnessWord {
    /// 85 % or more of the highest chroma there.
    Vivid,
    /// 60 % or more.
    Softened,
    /// 35 % or more.
    Muted,
    /// Less, and every colour that is near neutral.
    Neutral,
}

impl fmt::Display for VividnessWord {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Vivid => "vivid",
            Self::Softened => "softened",
            Self::Muted => "muted",
            Self::Neutral => "neutral",
        })
    }
}

/// C* over the highest C* that is predicted for any pair of the trial's tubes with white, within 10° of
/// hue and 10 of L* (ours).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Vividness {
    /// 0 to 1, and a little above where the mixture is more vivid than any prediction.
    pub share: f64,
    /// The same as a word.
    pub word: VividnessWord,
}

impl Vividness {
    fn of(share: f64) -> Self {
        let word = match share {
            share if share >= 0.85 => VividnessWord::Vivid,
            share if share >= 0.60 => VividnessWord::Softened,
            share if share >= 0.35 => VividnessWord::Muted,
            _ => VividnessWord::Neutral,
        };
        Self { share, word }
    }
}

/// The colours that the tubes of a trial can mix, two by two, with white, in boxes as large as the window.
#[derive(Debug)]
pub struct Reach(Vec<Vec<Lab>>);

/// Boxes around the hue circle, and from L* 0 to 100.
const HUES: usize = 36;
const LIGHTNESSES: usize = 10;

impl Reach {
    pub(super) fn of(study: &Study, averages: &Averages, fitted: &FittedTubes) -> Self {
        let mixed = averages.dry_on_paper().any(|it| it.mixture.colours(study.white).count() > 1);
        let known = |tube: TubeRef| fitted.tubes.get(tube.0)?.constants.as_ref();
        let Some(white) = study.white.and_then(known).filter(|_| mixed) else {
            return Self::none();
        };
        let tubes = (0..study.tubes.len()).map(TubeRef).filter(|tube| Some(*tube) != study.white);
        let paints: Vec<&Constants> = tubes.filter_map(known).collect();
        let (surface, paper) = (fitted.surface, fitted.paper);
        Self::with(FINE, study.conditions, (surface, paper), white, &paints)
    }

    fn none() -> Self {
        Self(vec![Vec::new(); HUES * LIGHTNESSES])
    }

    /// What some paints can mix with a white, under these conditions, over this paper, for colours that are
    /// predicted as well.
    #[must_use]
    pub fn new(
        conditions: Conditions,
        film: (Option<Surface>, Option<InternalReflectance>),
        white: &Constants,
        paints: &[&Constants],
    ) -> Self {
        let fitting = BY_TUBES.iter().find(|(tubes, _)| paints.len() <= *tubes);
        let steps = fitting.map_or(FINE, |(_, steps)| *steps);
        Self::with(steps, conditions, film, white, paints)
    }

    fn with(
        steps: usize,
        conditions: Conditions,
        (surface, paper): (Option<Surface>, Option<InternalReflectance>),
        white: &Constants,
        paints: &[&Constants],
    ) -> Self {
        let mut reach = Self::none();
        let painter = Painter { steps, conditions, white, surface, paper };
        let alone = |paint: &&'_ Constants| painter.tints(&[(1.0, *paint)]);
        let tubes: Vec<Alone<'_>> =
            paints.iter().map(|paint| Alone { paint, tints: alone(paint) }).collect();
        let tubes = most_vivid(tubes);
        for (at, Alone { paint: one, tints }) in tubes.iter().enumerate() {
            reach.add(tints);
            for Alone { paint: other, .. } in &tubes[at + 1..] {
                for share in shares(steps, strength(one), strength(other)) {
                    reach.add(&painter.tints(&[(1.0 - share, one), (share, other)]));
                }
            }
        }
        reach
    }

    fn add(&mut self, colours: &[Lab]) {
        for colour in colours {
            if let Some((hue, lightness)) = place(*colour) {
                self.0[hue * LIGHTNESSES + lightness].push(*colour);
            }
        }
    }

    /// How vivid a colour is beside them.
    ///
    /// # Errors
    /// [`WhyNot::OutOfReach`] where they mix nothing near it.
    pub fn vividness(&self, colour: Lab) -> Result<Vividness, WhyNot> {
        let Some((hue, (sector, level))) = colour.hue().zip(place(colour)) else {
            return Ok(Vividness::of(0.0));
        };
        // What lies in the window lies in its box or in one beside it.
        let sectors = [sector + HUES - 1, sector, sector + 1].map(|sector| sector % HUES);
        let levels = level.saturating_sub(1)..=(level + 1).min(LIGHTNESSES - 1);
        let boxes = sectors
            .into_iter()
            .flat_map(|sector| levels.clone().map(move |level| sector * LIGHTNESSES + level));
        let near = boxes.flat_map(|place| &self.0[place]).filter(|other| {
            (other.l - colour.l).abs() <= LIGHTNESS_WINDOW
                && other.hue().is_some_and(|it| unsigned_distance(it, hue) <= HUE_WINDOW)
        });
        let highest =
            near.map(|other| other.chroma()).max_by(f64::total_cmp).ok_or(WhyNot::OutOfReach)?;
        Ok(Vividness::of(colour.chroma() / highest))
    }
}

/// The box of a colour, hue and lightness; `None` for one without a hue.
fn place(colour: Lab) -> Option<(usize, usize)> {
    let hue = (colour.hue()?.degrees() / HUE_WINDOW) as usize;
    let lightness = (colour.l / LIGHTNESS_WINDOW).max(0.0) as usize;
    Some((hue % HUES, lightness.min(LIGHTNESSES - 1)))
}

/// A tube with its predicted tints.
struct Alone<'a> {
    paint: &'a Constants,
    tints: Vec<Lab>,
}

impl Alone<'_> {
    fn truest(&self) -> Option<Lab> {
        self.tints.iter().copied().max_by(|one, other| one.chroma().total_cmp(&other.chroma()))
    }
}

/// Of more than [`MOST_TUBES`], the most vivid of each stretch of the hue circle: the others could not mix
/// anything much more vivid, and all pairs of hundreds would take minutes.
fn most_vivid(mut tubes: Vec<Alone<'_>>) -> Vec<Alone<'_>> {
    if tubes.len() <= MOST_TUBES {
        return tubes;
    }
    let chroma = |tube: &Alone<'_>| tube.truest().map_or(0.0, Lab::chroma);
    tubes.sort_by(|one, other| chroma(other).total_cmp(&chroma(one)));
    let mut taken = [false; MOST_TUBES];
    tubes.retain(|tube| {
        let hue = tube.truest().and_then(Lab::hue);
        let stretch =
            hue.map(|hue| (hue.degrees() / 360.0 * MOST_TUBES as f64) as usize % MOST_TUBES);
        stretch.is_some_and(|stretch| !std::mem::replace(&mut taken[stretch], true))
    });
    tubes
}

/// Paints predicted colours.
struct Painter<'a> {
    steps: usize,
    conditions: Conditions,
    white: &'a Constants,
    surface: Option<Surface>,
    paper: Option<InternalReflectance>,
}

impl Painter<'_> {
    /// The mixture thick over paper, and with each number of parts of white.
    fn tints(&self, colours: &[(f64, &Constants)]) -> Vec<Lab> {
        let white = |step: usize| match step {
            0 => 0.0,
            // From 1 : 0.125 to 1 : 64.
            _ => 0.125 * 512_f64.powf((step - 1) as f64 / (self.steps - 2) as f64),
        };
        (0..self.steps).map(|step| self.colour(colours, white(step))).collect()
    }

    fn colour(&self, colours: &[(f64, &Constants)], white: f64) -> Lab {
        let mut shares: Vec<(f64, &Constants)> =
            colours.iter().map(|(share, paint)| (share / (1.0 + white), *paint)).collect();
        if white > 0.0 {
            shares.push((white / (1.0 + white), self.white));
        }
        let film: Reflectance = predict(&shares, self.paper.as_ref()).to_measured(self.surface);
        Lab::from_reflectance(&film, self.conditions)
    }
}

/// How much a paint absorbs, on the whole.
fn strength(paint: &Constants) -> f64 {
    (paint.k.iter().sum::<f64>() / paint.k.len() as f64).max(1e-3)
}

/// Shares of the second tube at which the two matter as 1 : 32 to 32 : 1.
fn shares(steps: usize, one: f64, other: f64) -> impl Iterator<Item = f64> {
    (0..steps).map(move |step| {
        let by_strength = 1024_f64.powf(step as f64 / (steps - 1) as f64) / 32.0;
        let parts = by_strength * one / other;
        parts / (1.0 + parts)
    })
}
