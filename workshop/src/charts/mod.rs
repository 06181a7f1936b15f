//! Charts that were ruled by hand, and not printed here: a picture of one becomes a trial of its own.
//!
//! 1. `receive`: the picture is kept; where the chart lies in it has to be said.
//! 2. `meant`: what somebody typed about rows and columns → what stands in each square.
//! 3. `rule`: corners and squares kept; from then on `pictures` reads it as it reads a sheet.
//! 4. `drawn`: an old chart by the simulated workshop.

mod drawn;
mod meant;
mod receive;
mod rule;

pub use meant::{ChartMeant, ChartWrong, in_square, meant};
pub use receive::ShownPicture;
