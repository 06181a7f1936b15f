//! How a picture is held.

/// How a picture is turned when it is shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Turns {
    None,
    Quarter,
    Half,
    ThreeQuarters,
}
