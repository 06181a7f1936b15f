//! The short code that lets one phone in.

use std::fmt;
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

/// A code is good for so long.
const GOOD_FOR: Duration = Duration::from_secs(10 * 60);
/// After so many wrong ones nobody is paired for [`LOCKED_FOR`].
const WRONG: u32 = 5;
const LOCKED_FOR: Duration = Duration::from_secs(10 * 60);
/// Codes have six digits.
const CODES: u32 = 1_000_000;

/// Pairing as it stands.
#[derive(Debug, Default)]
pub(crate) struct Pairing(Mutex<Standing>);

#[derive(Debug, Default)]
struct Standing {
    code: Option<(u32, Instant)>,
    wrong: u32,
    locked_until: Option<Instant>,
}

/// Why a phone was not paired.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum WrongCode {
    /// No code is good now.
    None,
    /// It is another one; so many tries are left.
    Other(u32),
    /// Too many wrong ones: so many minutes are left.
    Locked(u64),
}

impl fmt::Display for WrongCode {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::None => f.write_str(
                "no phone is being paired now, or the ten minutes are over: press “Pair a phone” on the \
                 computer for a new code",
            ),
            Self::Other(1) => f.write_str("that is not the code; you can try once more"),
            Self::Other(left) => write!(f, "that is not the code; you can try {left} times more"),
            Self::Locked(minutes) => write!(
                f,
                "there were five wrong codes: nobody can pair a phone for {minutes} minutes"
            ),
        }
    }
}

impl Pairing {
    fn standing(&self) -> MutexGuard<'_, Standing> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Makes a new code, good for ten minutes; an older one is good no more.
    pub fn begin(&self, now: Instant) {
        self.standing().code = Some((rand::random_range(0..CODES), now + GOOD_FOR));
    }

    /// The code that is good now, and how long.
    pub fn code(&self, now: Instant) -> Option<(String, Duration)> {
        let standing = self.standing();
        let (code, until) = standing.code.filter(|(_, until)| *until > now)?;
        Some((format!("{code:06}"), until - now))
    }

    /// Minutes for which nobody is paired; `None` where somebody may be.
    pub fn locked(&self, now: Instant) -> Option<u64> {
        let until = self.standing().locked_until.filter(|until| *until > now)?;
        Some((until - now).as_secs().div_ceil(60))
    }

    /// Takes a code: the right one is good no more, and five wrong ones lock pairing.
    pub fn enter(&self, text: &str, now: Instant) -> Result<(), WrongCode> {
        if let Some(minutes) = self.locked(now) {
            return Err(WrongCode::Locked(minutes));
        }
        let mut standing = self.standing();
        let Some((code, _)) = standing.code.filter(|(_, until)| *until > now) else {
            return Err(WrongCode::None);
        };
        let typed: String = text.chars().filter(|letter| !letter.is_whitespace()).collect();
        if typed.len() == 6 && typed.parse() == Ok(code) {
            *standing = Standing::default();
            return Ok(());
        }
        standing.wrong += 1;
        if standing.wrong >= WRONG {
            *standing = Standing { locked_until: Some(now + LOCKED_FOR), ..Standing::default() };
            return Err(WrongCode::Locked(LOCKED_FOR.as_secs() / 60));
        }
        Err(WrongCode::Other(WRONG - standing.wrong))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const MINUTE: Duration = Duration::from_secs(60);

    fn wrong(code: &str) -> String {
        let other = code.parse::<u32>().map_or(0, |code| (code + 1) % CODES);
        format!("{other:06}")
    }

    #[test]
    fn a_code_lets_one_phone_in_for_ten_minutes() {
        let (pairing, start) = (Pairing::default(), Instant::now());
        assert_eq!(pairing.enter("000000", start), Err(WrongCode::None));
        pairing.begin(start);
        let (code, _) = pairing.code(start).expect("a code");
        let spaced = format!(" {} {}", &code[..3], &code[3..]);
        assert_eq!(pairing.enter(&spaced, start + 9 * MINUTE), Ok(()));
        assert_eq!(pairing.enter(&code, start + 9 * MINUTE), Err(WrongCode::None), "one phone");
        pairing.begin(start);
        let (code, _) = pairing.code(start).expect("a code");
        assert_eq!(pairing.code(start + 10 * MINUTE), None);
        assert_eq!(pairing.enter(&code, start + 10 * MINUTE), Err(WrongCode::None));
    }

    #[test]
    fn five_wrong_codes_lock_pairing_for_ten_minutes() {
        let (pairing, start) = (Pairing::default(), Instant::now());
        pairing.begin(start);
        let (code, _) = pairing.code(start).expect("a code");
        for left in [4, 3, 2, 1] {
            assert_eq!(pairing.enter(&wrong(&code), start), Err(WrongCode::Other(left)));
        }
        assert_eq!(pairing.enter(&wrong(&code), start), Err(WrongCode::Locked(10)));
        // The right one comes too late, and so does a new one.
        pairing.begin(start);
        let (code, _) = pairing.code(start).expect("a code");
        assert_eq!(pairing.enter(&code, start + 9 * MINUTE), Err(WrongCode::Locked(1)));
        pairing.begin(start + 10 * MINUTE);
        let (code, _) = pairing.code(start + 10 * MINUTE).expect("a code");
        assert_eq!(pairing.enter(&code, start + 10 * MINUTE), Ok(()));
    }
}
