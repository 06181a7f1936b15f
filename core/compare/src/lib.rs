//! Two tubes beside each other, from whatever was read of them: is one of them enough?
//!
//! 1. `told`: a trial or a file with what it tells of its tubes.
//! 2. `cells`: the squares of one tube, and those that two tubes share.
//! 3. `footing`: how two trials may be compared, and what that costs; `bridge`: by tubes that both read, where their
//!    whites differ.
//! 4. `pairs`: the squares that are compared; `brought`: those that only one was read in.
//! 5. `equal`: one tube brought to the strength of the other.
//! 6. `distance`, `noise`, `pictures`: how far they differ then, with intervals; `twins`: all of it.
//! 7. `verdict`: what that means, and `sentence`: the same in words.

mod bridge;
mod brought;
mod cells;
mod distance;
mod equal;
mod footing;
mod noise;
mod pairs;
mod pictures;
mod sentence;
mod told;
mod twins;
mod verdict;

pub use cells::Origin;
pub use distance::Distance;
pub use footing::{Apart, Footing};
pub use told::{Subject, Told};
pub use twins::{TwinCell, Twins, Worst, compare};
pub use verdict::{ALIKE, UNSEEN, Verdict};
