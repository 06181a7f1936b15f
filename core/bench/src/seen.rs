//! What the eye saw of a swatch, in the trade's words (common practice, no source).

use std::fmt;

use serde::{Deserialize, Serialize};
use study::short_names;

/// One thing that was seen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Look {
    /// How vivid it is.
    Vividness(EyeVividness),
    /// Where it leans, beside the colour it is named after.
    Lean(Lean),
    /// What is left after it was lifted.
    Lift(LiftLeaves),
    /// What drying did to it.
    Drying(Dried),
    /// How it looks beside what it was mixed for.
    Beside(BesideAim),
}

impl fmt::Display for Look {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Vividness(word) => word.fmt(f),
            Self::Lean(lean) => write!(f, "leans toward {lean}"),
            Self::Lift(leaves) => leaves.fmt(f),
            Self::Drying(dried) => dried.fmt(f),
            Self::Beside(beside) => beside.fmt(f),
        }
    }
}

/// How vivid a colour is, beside the most vivid of its hue that one could think of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum EyeVividness {
    /// As clean as its hue can be.
    Vivid,
    /// A little grey in it.
    Softened,
    /// As much grey as colour.
    Muted,
    /// Grey, brown or black.
    Neutral,
}

short_names!(
    EyeVividness,
    "vividness",
    "vivid, softened, muted or neutral",
    Vivid = "vivid",
    Softened = "softened",
    Muted = "muted",
    Neutral = "neutral"
);

/// The hue that a colour leans toward.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Lean {
    /// Toward red.
    Red,
    /// Toward orange.
    Orange,
    /// Toward yellow.
    Yellow,
    /// Toward green.
    Green,
    /// Toward blue.
    Blue,
    /// Toward violet.
    Violet,
}

short_names!(
    Lean,
    "lean",
    "red, orange, yellow, green, blue or violet",
    Red = "red",
    Orange = "orange",
    Yellow = "yellow",
    Green = "green",
    Blue = "blue",
    Violet = "violet"
);

/// What is left where a dry swatch was wetted, brushed and dabbed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum LiftLeaves {
    /// The paper as it was.
    Paper,
    /// A pale trace.
    Ghost,
    /// Nearly all of it.
    Stain,
}

short_names!(
    LiftLeaves,
    "lift",
    "lifts clean, leaves a ghost or stains",
    Paper = "lifts clean",
    Ghost = "leaves a ghost",
    Stain = "stains"
);

/// What drying did.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Dried {
    /// It is darker than it was wet.
    Darker,
    /// It looks the same.
    Same,
    /// It is lighter.
    Lighter,
}

short_names!(
    Dried,
    "drying",
    "darker, the same or lighter",
    Darker = "dried darker",
    Same = "dried the same",
    Lighter = "dried lighter"
);

/// How a recipe's swatch looks beside what it was mixed for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum BesideAim {
    /// Nobody could tell the two apart.
    Same,
    /// They can be told apart.
    Other,
}

short_names!(
    BesideAim,
    "look beside its target",
    "the same as its target, or not the same as its target",
    Same = "the same as its target",
    Other = "not the same as its target"
);

/// Everything that was seen of one swatch; what was said last stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Looks {
    /// How vivid it is.
    pub vividness: Option<EyeVividness>,
    /// Where it leans.
    pub lean: Option<Lean>,
    /// What lifting leaves.
    pub lift: Option<LiftLeaves>,
    /// What drying did.
    pub drying: Option<Dried>,
    /// How it looks beside what it was mixed for.
    pub beside: Option<BesideAim>,
}

impl Looks {
    pub(crate) fn take(&mut self, look: Look) {
        match look {
            Look::Vividness(word) => self.vividness = Some(word),
            Look::Lean(lean) => self.lean = Some(lean),
            Look::Lift(leaves) => self.lift = Some(leaves),
            Look::Drying(dried) => self.drying = Some(dried),
            Look::Beside(beside) => self.beside = Some(beside),
        }
    }

    /// In words.
    #[must_use]
    pub fn words(&self) -> Vec<String> {
        let mut words = Vec::new();
        words.extend(self.vividness.map(Look::Vividness));
        words.extend(self.lean.map(Look::Lean));
        words.extend(self.lift.map(Look::Lift));
        words.extend(self.drying.map(Look::Drying));
        words.extend(self.beside.map(Look::Beside));
        words.iter().map(ToString::to_string).collect()
    }
}
