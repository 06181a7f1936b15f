//! How much of a file is read: far beyond any trial, and never so much that it fills the memory.

/// Most bytes of a file.
pub const MAX_BYTES: u64 = 64_000_000;
/// Most readings of a file.
pub const MAX_ROWS: usize = 150_000;
/// Most tubes of a file.
pub const MAX_TUBES: usize = 1_000;
/// Most columns of a table; ours have 63.
pub const MAX_COLUMNS: usize = 500;
