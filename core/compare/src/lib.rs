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
//!
//! Beside it stand `alone`, a tube's tints at any depth and which way it leans there; `value`, what its work costs;
//! `drift`, a tube read twice; and `look_alikes`, every tube of a shelf beside every other.

mod alone;
mod bridge;
mod brought;
mod cells;
mod distance;
mod drift;
mod equal;
mod footing;
mod look_alikes;
mod noise;
mod pairs;
mod pictures;
mod sentence;
mod told;
mod twins;
mod value;
mod verdict;

pub use alone::{AtDepth, ByDepth, Lean, Step, shared_depths};
pub use cells::Origin;
pub use distance::Distance;
pub use drift::{Drifted, drift};
pub use footing::{Apart, Footing};
pub use look_alikes::{LookAlike, SeenWith, Signature, look_alikes, look_alikes_in_full};
pub use sentence::headline;
pub use told::{Subject, Told};
pub use twins::{TwinCell, Twins, Worst, compare};
pub use value::{Bought, PartsBy, Worth};
pub use verdict::{ALIKE, UNSEEN, Verdict};
