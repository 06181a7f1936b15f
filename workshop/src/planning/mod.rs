//! From what is wanted to a whole plan: the shelf, the palette and earlier readings brought together.
//!
//! 1. `request`: what is wanted, by the numbers of tubes and palettes.
//! 2. `resolve`: the request to a [`plan::Design`] with its tubes.
//! 3. `work_out`: the design with what is known of its tubes to a plan on ruled sheets; `naming` where it has no name.

mod naming;
mod request;
mod resolve;
mod work_out;

pub use request::{
    ChartRequest, OwnMinutes, RequestError, RequestPlace, ThinningRequest, ThirdRequest,
    TintRequest, TrialRequest,
};
pub use work_out::WorkedOut;
