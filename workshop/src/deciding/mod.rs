//! What K and S of the shelf's tubes are good for.
//!
//! 1. `known`: the tubes as paints, each with what that rests on.
//! 2. `asked`: what a recipe is asked for, as text; `recipe`: a target, tubes and limits → recipes; `mix`: a recipe as a
//!    trial; `confirmed`: recipes that were painted and do the same as a tube.
//! 3. `keep`: which tubes the others can stand for, worked out in the background; `job`: how far that is.
//! 4. `reach`: what a palette reaches, where it falls short and what would fill it; `greys`: its greys.

mod asked;
mod confirmed;
mod greys;
mod job;
mod keep;
mod known;
mod mix;
mod reach;
mod recipe;

pub use asked::{RecipeAsked, newest_palette};
pub use confirmed::Confirmed;
pub use greys::{PaletteGreys, PlacedGrey};
pub(crate) use job::Decided;
pub use keep::{Deciding, KeptShelf, MOST_KEPT};
pub use known::{KnownShelf, Which};
pub use mix::Corrected;
pub use reach::{CleanPair, Filler, PairForecast, PaletteReach};
pub use recipe::{Aim, RecipeAnswer, RecipeRequest};
