//! What is done at the bench besides reading.

use plan::{CellNumber, Source, StepRef};
use serde::{Deserialize, Serialize};
use study::{Basis, Depth, Quality, SeenTint, TubeRef, Which, short_names};

use crate::numbers::{EntryId, ReadingId, Time};
use crate::seen::Look;

/// One line of the log.
#[derive(Debug, Clone, PartialEq)]
pub struct LogEntry {
    /// Its number: later entries have larger ones.
    pub id: EntryId,
    /// Number of the first entry that was stored together with it.
    pub batch: EntryId,
    /// What was done.
    pub event: BenchEvent,
    /// When.
    pub at: Time,
    /// The last reading of the trial before it.
    pub after: Option<ReadingId>,
    /// Why it does not count.
    pub void: Option<String>,
}

/// True where a swatch stands laid in a log, oldest first: laid, and not spoilt since.
#[must_use]
pub fn is_laid(log: &[LogEntry], number: CellNumber) -> bool {
    let last =
        log.iter().rev().filter(|entry| entry.void.is_none()).find_map(|entry| match entry.event {
            BenchEvent::Laid { swatch } if swatch == number => Some(true),
            BenchEvent::Spoilt { swatch, .. } if swatch == number => Some(false),
            _ => None,
        });
    last.unwrap_or(false)
}

/// Something that was done.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum BenchEvent {
    /// The paint of a step was put together.
    Made(Made),
    /// A swatch was laid.
    Laid {
        /// Its number.
        swatch: CellNumber,
    },
    /// A swatch was left out for now.
    Skipped {
        /// Its number.
        swatch: CellNumber,
    },
    /// These swatches were found to be dry.
    Dry {
        /// Their numbers.
        swatches: Vec<CellNumber>,
    },
    /// A dry swatch was wetted, brushed and dabbed.
    Lifted {
        /// Its number.
        swatch: CellNumber,
    },
    /// How the black bar shows through a swatch.
    Bar {
        /// Its number.
        swatch: CellNumber,
        /// How much of it is seen.
        shows: BarShows,
    },
    /// How a swatch dried.
    Grain {
        /// Its number.
        swatch: CellNumber,
        /// How speckled.
        grain: Grain,
    },
    /// Something was seen.
    Noted {
        /// Number of the swatch.
        swatch: CellNumber,
        /// In the trade's words.
        words: Vec<Word>,
        /// In one's own.
        note: String,
    },
    /// Something was seen, and a word of the trade put to it.
    Seen {
        /// Number of the swatch.
        swatch: CellNumber,
        /// What.
        look: Look,
    },
    /// A tint was held beside one of the standard.
    Depth {
        /// The tint.
        sample: SeenTint,
        /// The standard's.
        standard: SeenTint,
        /// How deep the tint looks.
        answer: Depth,
    },
    /// Two tubes were looked at together.
    Compared {
        /// By what.
        quality: Quality,
        /// The two.
        tubes: [TubeRef; 2],
        /// Which of them it is.
        answer: Which,
    },
    /// A swatch that was put out by eye is given the ratio that was estimated from its colour.
    RatioEstimated {
        /// Its number.
        swatch: CellNumber,
        /// Its tubes with their shares, 0 to 1.
        parts: Vec<(TubeRef, f64)>,
        /// One standard deviation of ln of the ratio.
        sigma: f64,
    },
    /// A swatch does not count, and has to be painted again; its readings are void.
    Spoilt {
        /// Its number.
        swatch: CellNumber,
        /// Why.
        reason: String,
    },
    /// A tile was read.
    Tile {
        /// Which.
        tile: Tile,
        /// 36 reflectance factors, 380–730 nm.
        bands: Vec<f64>,
        /// A simulated meter made it up.
        #[serde(default)]
        simulated: bool,
    },
}

impl BenchEvent {
    /// The one swatch it concerns.
    #[must_use]
    pub fn swatch(&self) -> Option<CellNumber> {
        match self {
            Self::Made(_)
            | Self::Dry { .. }
            | Self::Tile { .. }
            | Self::Depth { .. }
            | Self::Compared { .. } => None,
            Self::Laid { swatch }
            | Self::Skipped { swatch }
            | Self::Lifted { swatch }
            | Self::Bar { swatch, .. }
            | Self::Grain { swatch, .. }
            | Self::Noted { swatch, .. }
            | Self::Seen { swatch, .. }
            | Self::RatioEstimated { swatch, .. }
            | Self::Spoilt { swatch, .. } => Some(*swatch),
        }
    }
}

/// How the paint of a step was put together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Made {
    /// Which step.
    pub step: StepRef,
    /// On a scale, by spoon or syringe, or by eye.
    pub how: Basis,
    /// What was really put together, in the unit of the plan's measure, above 0; empty for the
    /// amounts of the plan.
    pub parts: Vec<(Source, f64)>,
    /// Nobody mixed it but the simulated bench, or a simulated scale made up some of its weights.
    #[serde(default)]
    pub simulated: bool,
}

/// How much of a black bar shows through a film: an estimate by eye.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum BarShows {
    /// Nothing of it.
    Hidden,
    /// A trace.
    Trace,
    /// It is plain to see.
    Plain,
    /// As black as beside the paint.
    Full,
}

short_names!(
    BarShows,
    "bar",
    "hidden, trace, plain or full",
    Hidden = "hidden",
    Trace = "trace",
    Plain = "plain",
    Full = "full"
);

impl BarShows {
    /// The class of opacity that painters put to it (common practice, no source).
    #[must_use]
    pub fn class(self) -> &'static str {
        match self {
            Self::Hidden => "opaque",
            Self::Trace => "semi-opaque",
            Self::Plain => "semi-transparent",
            Self::Full => "transparent",
        }
    }
}

/// How speckled a film dried.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Grain {
    /// Smooth.
    None,
    /// Speckled where it is looked for.
    Slight,
    /// Speckled at first sight.
    Marked,
}

short_names!(
    Grain,
    "granulation",
    "none, slight or marked",
    None = "none",
    Slight = "slight",
    Marked = "marked"
);

/// A tile that tells whether the meter has drifted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Tile {
    /// The white one that comes with the meter.
    White,
    /// One of another colour, always the same.
    Check,
}

short_names!(Tile, "tile", "white or check", White = "white", Check = "check");

/// What painters say of a paint under the knife and the brush (common practice, no source).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Word {
    /// Streaks stay however long it is mixed.
    Streaky,
    /// Hard grains under the knife.
    Gritty,
    /// Dries while it is worked.
    DriesFast,
    /// Stays wet longer than the others.
    DriesSlowly,
    /// Runs into the wet colour beside it.
    Bleeds,
    /// Brush marks flow out.
    BrushesOutSmooth,
    /// Stands in ridges.
    Stiff,
    /// Will not stay where it is put.
    Runny,
    /// Binder stands apart from pigment.
    Separates,
    /// Shrinks from the paper.
    BeadsUp,
    /// Dries with shiny and dull places.
    PatchySheen,
    /// Dries darker than it looked.
    DriesDarker,
    /// Needs long mixing before it moves.
    Slow,
    /// Pulls at the knife.
    Sticky,
}

short_names!(
    Word,
    "observation",
    "one of the words offered",
    Streaky = "streaky",
    Gritty = "gritty",
    DriesFast = "dries fast",
    DriesSlowly = "dries slowly",
    Bleeds = "bleeds",
    BrushesOutSmooth = "brushes out smooth",
    Stiff = "stiff",
    Runny = "runny",
    Separates = "separates",
    BeadsUp = "beads up",
    PatchySheen = "patchy sheen",
    DriesDarker = "dries darker",
    Slow = "slow to mix",
    Sticky = "sticky"
);
