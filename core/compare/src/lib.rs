//! Two tubes beside each other, from whatever was read of them: is one of them enough?
//!
//! 1. `told`: a trial or a file with what it tells of its tubes.
//! 2. `cells`: the squares of one tube, and those that two tubes share.
//! 3. `footing`: how two trials may be compared, and what that costs.
//! 4. `equal`: one tube brought to the strength of the other.
//! 5. `twins`: how far they differ then, with intervals.
//! 6. `verdict`: what that means, and `sentence`: the same in words.

mod cells;
mod equal;
mod footing;
mod noise;
mod sentence;
mod told;
mod twins;
mod verdict;

pub use footing::{Apart, Footing};
pub use told::{Subject, Told};
pub use twins::{Distance, TwinCell, Twins, Worst, compare};
pub use verdict::{ALIKE, UNSEEN, Verdict};
