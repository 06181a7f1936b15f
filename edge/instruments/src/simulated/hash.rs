//! One number from a text, to draw made-up properties from.

/// FNV-1a, 64 bits: the same on every machine and in every release.
pub(super) fn stable_hash(text: &str) -> u64 {
    text.bytes().fold(0xcbf2_9ce4_8422_2325, |hash, byte| {
        (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3)
    })
}
