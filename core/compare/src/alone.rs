//! A tube alone: its mass tone, its tints, and the colours they pass through at any depth.

use colour::{Hue, Lab, delta_e_ab, signed_shift};
use figures::Pchip;
use study::{Mixture, SwatchColour, TubeRef};

use crate::brought::{brought_to, half_width};
use crate::cells::cells;
use crate::footing::footing;
use crate::told::{Frame, Subject};

/// A hue that was read is never surer than this, degrees (ours).
const SUREST: f64 = 1.0;

/// One step of a tube with white.
#[derive(Debug, Clone, PartialEq)]
pub struct Step<'a> {
    /// Parts of white to one part of the tube; 0 is the mass tone.
    pub white: f64,
    /// Its colour as the comparison sees it.
    pub lab: Lab,
    /// Half-width of the 95 % interval of L*, a* and b*.
    pub half_width: [f64; 3],
    /// What was read; `None` where it was brought over from other parts, or from another white.
    pub read: Option<&'a SwatchColour>,
}

/// A colour of a tube's ladder at a depth.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AtDepth {
    /// Parts of white that bring the tube there, to one part of it.
    pub white: f64,
    /// The colour.
    pub lab: Lab,
    /// Half-width of the 95 % interval of L*, a* and b*: of the less sure one of the two steps beside it.
    pub half_width: [f64; 3],
}

/// A tube's tints by their depth, ΔE*ab from the white that they are made with.
#[derive(Debug, Clone)]
pub struct ByDepth {
    ln_white: Vec<f64>,
    depth: Pchip,
    axes: [Pchip; 3],
    half_widths: Vec<[f64; 3]>,
    is_brought: bool,
    /// Depth of the palest and of the deepest tint.
    range: [f64; 2],
}

/// Which way a tube leans beside another, at one depth.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Lean {
    /// Degrees from the other's hue, positive from red over yellow and green to blue.
    pub shift: f64,
    /// Half-width of its 95 % interval, degrees.
    pub half_width: f64,
    /// The hue that it leans from.
    pub from: Hue,
}

impl<'a> Subject<'a> {
    /// Its mass tone and its tints, fewest parts of white first, as `beside` would have read them: where the two were
    /// tinted with different whites, with that of `beside`. Tints that only `beside` has are brought over.
    #[must_use]
    pub fn steps(&self, beside: &Subject<'a>) -> Vec<Step<'a>> {
        let mut steps = self.read_steps(beside);
        let tubes = [beside.tube, self.tube];
        let Ok((_, bridge)) = footing((&beside.told, &self.told), tubes) else { return steps };
        if bridge.is_some() {
            steps.retain(|step| step.white == 0.0);
        }
        let frame = beside.told.frame();
        let (ones, others) = (cells(beside, frame), cells(self, frame));
        let brought = brought_to(&ones, (self, &others), bridge.as_ref());
        let tints = brought.into_iter().map(|(_, own)| own);
        let tints = tints.filter(|own| own.partners.is_empty() && own.white > 0.0);
        steps.extend(tints.map(|own| {
            // A ΔE00 spread over three axes.
            let axis = half_width(&own, bridge.as_ref()) / 3.0_f64.sqrt();
            Step { white: own.white, lab: own.lab, half_width: [axis; 3], read: None }
        }));
        steps.sort_by(|one, other| one.white.total_cmp(&other.white));
        steps
    }

    fn read_steps(&self, beside: &Subject<'_>) -> Vec<Step<'a>> {
        let frame = beside.told.frame();
        let of = |averaged: &'a study::Averaged| {
            let own = averaged.mixture.only_colour(self.told.study.white)?;
            let white = self.told.study.white_per_colour(&averaged.mixture)?;
            let lab = self.told.lab_in(&averaged.colour, frame)?;
            let (read, half_width) = (Some(&averaged.colour), averaged.colour.half_width);
            (own == self.tube).then_some(Step { white, lab, half_width, read })
        };
        self.told.averages.dry_on_paper().filter_map(of).collect()
    }

    /// The bare white.
    fn white(&self, frame: Frame) -> Option<Lab> {
        let white: TubeRef = self.told.study.white?;
        let read = self.told.averages.dry(&Mixture::neat(white), study::Backing::Paper)?;
        self.told.lab_in(read, frame)
    }

    /// Its tints by depth; `None` where fewer than two of them, or the white, were read. A tint that was brought over
    /// counts only where the whites differ: what is interpolated is not interpolated again.
    #[must_use]
    pub fn by_depth(&self, beside: &Subject<'a>) -> Option<ByDepth> {
        let mut steps = self.steps(beside);
        steps.retain(|step| step.white > 0.0);
        if steps.iter().any(|step| step.read.is_some()) {
            steps.retain(|step| step.read.is_some());
        }
        // What was brought over stands in the white of the other.
        let own_white = steps.iter().any(|step| step.read.is_some());
        let frame = beside.told.frame();
        let white = if own_white { self.white(frame) } else { beside.white(frame) }?;
        ByDepth::through(steps, white)
    }
}

impl ByDepth {
    fn through(mut steps: Vec<Step<'_>>, white: Lab) -> Option<Self> {
        let depth = |step: &Step<'_>| delta_e_ab(step.lab, white).value();
        // From the palest back for as long as each is deeper than the one after it.
        let falls =
            |pair: &[Step<'_>]| depth(&pair[0]) > depth(&pair[1]) && pair[0].white < pair[1].white;
        let kept = steps.windows(2).rev().take_while(|pair| falls(pair)).count();
        steps.drain(..steps.len() - steps.len().min(kept + 1));
        let ln_white: Vec<f64> = steps.iter().map(|step| step.white.ln()).collect();
        let through = |of: &dyn Fn(&Step<'_>) -> f64| {
            Pchip::through(ln_white.clone(), steps.iter().map(of).collect())
        };
        Some(Self {
            depth: through(&depth)?,
            axes: [through(&|it| it.lab.l)?, through(&|it| it.lab.a)?, through(&|it| it.lab.b)?],
            half_widths: steps.iter().map(|step| step.half_width).collect(),
            is_brought: steps.iter().any(|step| step.read.is_none()),
            range: [depth(steps.last()?), depth(steps.first()?)],
            ln_white,
        })
    }

    /// Its tints were brought over from another white.
    #[must_use]
    pub fn is_brought(&self) -> bool {
        self.is_brought
    }

    /// Depth of the palest and of the deepest tint.
    #[must_use]
    pub fn range(&self) -> [f64; 2] {
        self.range
    }

    /// The colour at a depth; `None` outside the tints, which are never extended.
    #[must_use]
    pub fn at(&self, depth: f64) -> Option<AtDepth> {
        let ln = self.depth.solve_falling(depth)?;
        let [l, a, b] = [0, 1, 2].map(|axis: usize| self.axes[axis].at(ln));
        let after = self.ln_white.partition_point(|it| *it < ln).min(self.ln_white.len() - 1);
        let beside = [after.saturating_sub(1), after].map(|at| self.half_widths[at]);
        let half_width = [0, 1, 2].map(|axis: usize| beside[0][axis].max(beside[1][axis]));
        Some(AtDepth { white: ln.exp(), lab: Lab::new(l, a, b), half_width })
    }
}

/// Depths evenly over what all these tubes share, the deepest first; empty where they share none.
#[must_use]
pub fn shared_depths(tubes: &[&ByDepth], count: usize) -> Vec<f64> {
    let palest = tubes.iter().map(|it| it.range[0]).fold(0.0, f64::max);
    let deepest = tubes.iter().map(|it| it.range[1]).fold(f64::INFINITY, f64::min);
    if tubes.is_empty() || palest >= deepest {
        return Vec::new();
    }
    let place = |at: usize| at as f64 / (count.max(2) - 1) as f64;
    // Neither end is missed for a rounding error.
    let inside = |depth: f64| depth.clamp(palest.next_up(), deepest.next_down());
    (0..count).map(|at| inside(deepest + place(at) * (palest - deepest))).collect()
}

impl AtDepth {
    /// Which way it leans beside another colour of the same depth; `None` where one of the two is near neutral.
    #[must_use]
    pub fn lean_beside(&self, other: &Self) -> Option<Lean> {
        let (own, from) = (self.lab.hue()?, other.lab.hue()?);
        let off = |it: &Self| {
            let [_, a, b] = it.half_width;
            (a.hypot(b) / it.lab.chroma()).to_degrees().max(SUREST)
        };
        Some(Lean { shift: signed_shift(from, own), half_width: off(self).hypot(off(other)), from })
    }
}
