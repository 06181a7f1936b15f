//! What a JPEG's segments say (ISO/IEC 10918-1, annex B).

/// The frame of a JPEG.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Frame {
    /// How many pixels it has.
    pub pixels: u64,
    /// How many components it has.
    pub components: u8,
    /// It is stored coarse first, and can only be read as a whole.
    pub is_progressive: bool,
}

/// Its frame, and whether its picture ends where it should. What a camera puts after the end (a film) is no part of it.
pub(super) fn frame_and_end(bytes: &[u8]) -> (Option<Frame>, bool) {
    let mut frame = None;
    let mut at = 2;
    while let Some((kind, from)) = marker(bytes, at) {
        match kind {
            0xd9 => return (frame, true),
            // Without a length.
            0x01 | 0xd0..=0xd8 => {
                at = from;
                continue;
            }
            _ => {}
        }
        let Some(length) = bytes.get(from..from + 2) else { break };
        let length = usize::from(u16::from_be_bytes([length[0], length[1]]));
        if (0xc0..=0xcf).contains(&kind) && ![0xc4, 0xc8, 0xcc].contains(&kind) {
            let is_progressive = matches!(kind, 0xc2 | 0xc6 | 0xca | 0xce);
            frame = bytes.get(from + 3..from + 8).map(|it| Frame {
                pixels: side([it[0], it[1]]) * side([it[2], it[3]]),
                components: it[4],
                is_progressive,
            });
        }
        at = from + length;
        if kind == 0xda {
            at = after_scan(bytes, at);
        }
    }
    (frame, false)
}

fn side(bytes: [u8; 2]) -> u64 {
    u64::from(u16::from_be_bytes(bytes))
}

/// The next marker's kind and the place after it; `None` where none stands there.
fn marker(bytes: &[u8], mut at: usize) -> Option<(u8, usize)> {
    if *bytes.get(at)? != 0xff {
        return None;
    }
    while *bytes.get(at)? == 0xff {
        at += 1;
    }
    Some((bytes[at], at + 1))
}

/// Where the coded data of a scan end: at the next marker that is no restart and no stuffed byte.
fn after_scan(bytes: &[u8], from: usize) -> usize {
    let is_end = |pair: &[u8]| pair[0] == 0xff && !matches!(pair[1], 0x00 | 0xd0..=0xd7 | 0xff);
    let rest = bytes.get(from..).unwrap_or_default();
    rest.windows(2).position(is_end).map_or(bytes.len(), |found| from + found)
}
