//! What K and S of the shelf's tubes are good for; `knowledge` has them.
//!
//! 1. `asked`: what a recipe is asked for, as text; `recipe`: a target, tubes and limits → recipes; `mix`: a recipe as a
//!    trial; `confirmed`: recipes that were painted and do the same as a tube.
//! 2. `keep`: which tubes the others can stand for, worked out in the background; `job`: how far that is.
//! 3. `reach`: what a palette reaches, where it falls short and what would fill it; `greys`: its greys.

mod asked;
mod confirmed;
mod greys;
mod job;
mod keep;
mod mix;
mod reach;
mod recipe;

pub use asked::{RecipeAsked, newest_palette};
pub use confirmed::Confirmed;
pub use greys::{PaletteGreys, PlacedGrey};
pub use keep::{Deciding, KeptShelf, MOST_KEPT};
pub use mix::Corrected;
pub use reach::{CleanPair, Filler, PairForecast, PaletteReach};
pub use recipe::{Aim, RecipeAnswer, RecipeRequest};
