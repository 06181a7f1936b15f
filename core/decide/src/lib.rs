//! What K and S of read tubes are good for: a recipe, what to add to a pile, which tube to keep, what a palette reaches.
//!
//! 1. `paints`: the tubes, and what mixtures of them look like; `learn`: what mixtures that were read teach of them;
//!    `target`: what a mixture is to look like.
//! 2. `solve`: the best shares of one choice of tubes; `search`: the best choices; `parts`: whole parts of them;
//!    `recipe`: all of it, ordered, and what cannot be reached.
//! 3. `correct`: what to add to a pile that was read or looked at.
//! 4. `keep`: how near the other tubes come to each; `confirmed`: mixtures that were read and do the same.
//! 5. `reach`: how vivid a palette's pairs can be at every hue and lightness; `gaps`: where it falls short, in words;
//!    `choose`: the tubes that reach furthest together; `darkest`: how dark it goes.
//! 6. `forecast`: what two tubes do together, and why; `neutral`: greys, and what takes a cast from one.

mod choose;
mod confirmed;
mod correct;
mod darkest;
mod forecast;
mod gaps;
mod keep;
mod learn;
mod neutral;
mod of_study;
mod paints;
mod parts;
mod reach;
mod recipe;
mod search;
mod solve;
mod target;

pub use choose::{Chosen, PairReaches, choose};
pub use confirmed::confirmed_by;
pub use correct::{Addition, PileReading, Seen, Touch, correct, pile_as_read, touches};
pub use darkest::{darkest, value_floor};
pub use forecast::{Forecast, Reason, Window, ladder};
pub use gaps::{Family, Gap, gaps, hue_name};
pub use keep::{Keep, Kept, Shelf};
pub use learn::{ReadMixture, read_mixtures};
pub use neutral::{
    CastCure, GREY_TINTS, Grey, NEUTRALISES, cast_cures, grey_pair, grey_pairs, grey_triad,
    value_steps,
};
pub use of_study::mixes_as_paint;
pub use paints::{MOST_COLOURS, Paint, Paints, Shares, TINT, Widths};
pub use parts::{MOST_PARTS, NEAR, Parts};
pub use reach::{LEVELS, Reach, SECTORS, level_from};
pub use recipe::{Limit, MOST_RECIPES, Recipe, Recipes};
pub use search::{Effort, Limits, Watch};
pub use target::{At, Look, NoTarget, Target};
