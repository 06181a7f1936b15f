//! Where tubes stand beside each other.

use workshop::TubeId;

/// The address of a comparison.
pub(crate) fn address(tubes: &[TubeId], rack: &str) -> String {
    let rack = if rack.is_empty() { String::new() } else { format!("&rack={rack}") };
    format!("/compare?{}{rack}", fields(tubes))
}

/// The tubes as fields of an address.
pub(crate) fn fields(tubes: &[TubeId]) -> String {
    tubes.iter().map(|tube| format!("tube={}", tube.0)).collect::<Vec<_>>().join("&")
}
