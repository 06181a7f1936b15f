//! Readings to figures: each figure of the result page is worked out here and nowhere else.
//!
//! A [`study::Study`] goes in; an [`Analysis`] and its [`finding`]s come out.
//!
//! 1. `ladder`: the colours of one tube by parts of white.
//! 2. `tints`, `opacity`, `drying`, `strength`, `pair`, `mixtures`, `vividness`: the figures, each an
//!    [`Outcome`].
//! 3. `interval`: how each figure gets its 95 % interval; `between`: how far squares painted alike lie apart; `footing`: what it may say where it rests on pictures.
//! 4. `analysis`: every figure of a study.
//! 5. [`finding`]: figures to a verdict, and the verdict to one plain sentence.

mod analysis;
mod between;
pub mod by_eye;
mod drying;
pub mod finding;
mod footing;
mod interval;
mod ladder;
mod mixtures;
mod opacity;
mod pair;
mod pchip;
mod strength;
mod tints;
mod vividness;

pub use analysis::{Analysis, TubeFigures, WhiteFigures, analyse, analyse_averages};
pub use drying::Drying;
pub use interval::{Figure, Outcome, WhyNot};
pub use ladder::same_parts;
pub use mixtures::MixtureFigures;
pub use opacity::{Opacity, OpacityClass};
pub use pair::{Grade, Holding, Neutral, PairFigures, PairStep, loss_of_chroma};
pub use pchip::Pchip;
pub use strength::{
    Bound, EqualDepth, EqualStrengthColour, LighteningPower, SameRatio, Strength, StrengthBasis,
};
pub use tints::TintFigures;
pub use vividness::{Scale, Vividness, VividnessWord};
