//! How large a colour difference must be to count.

/// A ΔE00 under this, its interval included, is no visible difference (ours, adjustable later).
pub const VISIBLE: f64 = 1.0;
/// A ΔE00 under this is close (ours, adjustable later).
pub const CLOSE: f64 = 2.0;
