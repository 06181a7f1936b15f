//! How large a plan may be.

/// More tubes than this in a grid are too many for one sitting.
pub(crate) const LARGE_GRID: usize = 8;
/// Most tubes in a grid.
pub const MOST_GRID: usize = 24;
/// Most squares of one plan.
pub const MOST_SQUARES: usize = 11_000;
/// Most ladders of one plan.
pub const MOST_LADDERS: usize = 400;
