//! The short code that lets one phone in.

use std::collections::HashMap;
use std::fmt;
use std::net::IpAddr;
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

/// A code is good for so long.
const GOOD_FOR: Duration = Duration::from_secs(10 * 60);
/// After so many wrong ones from one address nobody is paired from there for [`LOCKED_FOR`].
const WRONG: u32 = 5;
const LOCKED_FOR: Duration = Duration::from_secs(10 * 60);
/// Codes have so many letters out of those that nobody takes for another one: 40 bits, so that a whole network of
/// strangers, each with five tries, guesses none in ten minutes.
const LETTERS: &[u8; 32] = b"ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
pub(crate) const LENGTH: usize = 8;
/// Addresses whose wrong codes are remembered at once.
const MOST_ADDRESSES: usize = 4096;

/// Pairing as it stands.
#[derive(Debug, Default)]
pub(crate) struct Pairing(Mutex<Standing>);

#[derive(Debug, Default)]
struct Standing {
    code: Option<(String, Instant)>,
    /// Wrong codes by where they come from, each with when they are forgotten.
    wrong: HashMap<IpAddr, (u32, Instant)>,
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
                "there were five wrong codes: this phone can try again in {minutes} minutes"
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
        let letter = |_| char::from(LETTERS[rand::random_range(0..LETTERS.len())]);
        self.standing().code = Some(((0..LENGTH).map(letter).collect(), now + GOOD_FOR));
    }

    /// The code that is good now, and how long.
    pub fn code(&self, now: Instant) -> Option<(String, Duration)> {
        let standing = self.standing();
        let (code, until) = standing.code.as_ref().filter(|(_, until)| *until > now)?;
        Some((code.clone(), *until - now))
    }

    /// Takes a code from an address: the right one is good no more, and five wrong ones lock that address.
    pub fn enter(&self, text: &str, from: IpAddr, now: Instant) -> Result<(), WrongCode> {
        let from = network(from);
        let mut standing = self.standing();
        let known = standing.wrong.get(&from).copied().filter(|(_, until)| *until > now);
        let (wrong, until) = known.unwrap_or((0, now + LOCKED_FOR));
        if wrong >= WRONG {
            return Err(WrongCode::Locked((until - now).as_secs().div_ceil(60)));
        }
        let Some((code, _)) = standing.code.as_ref().filter(|(_, until)| *until > now) else {
            return Err(WrongCode::None);
        };
        let typed = text.chars().filter(|letter| letter.is_ascii_alphanumeric());
        let typed: String = typed.map(|letter| letter.to_ascii_uppercase()).collect();
        if typed == *code {
            standing.code = None;
            standing.wrong.remove(&from);
            return Ok(());
        }
        standing.remember(from, (wrong + 1, now + LOCKED_FOR), now);
        match WRONG - wrong - 1 {
            0 => Err(WrongCode::Locked(LOCKED_FOR.as_secs() / 60)),
            left => Err(WrongCode::Other(left)),
        }
    }
}

impl Standing {
    fn remember(&mut self, from: IpAddr, wrong: (u32, Instant), now: Instant) {
        if self.wrong.len() >= MOST_ADDRESSES && !self.wrong.contains_key(&from) {
            self.wrong.retain(|_, (_, until)| *until > now);
            let oldest = self.wrong.iter().min_by_key(|(_, (_, until))| *until).map(|it| *it.0);
            if let Some(oldest) = oldest.filter(|_| self.wrong.len() >= MOST_ADDRESSES) {
                self.wrong.remove(&oldest);
            }
        }
        self.wrong.insert(from, wrong);
    }
}

/// What counts as one address: of IPv6 its first half, since one machine has all that follow.
pub(crate) fn network(address: IpAddr) -> IpAddr {
    match address.to_canonical() {
        IpAddr::V6(address) => {
            let [a, b, c, d, ..] = address.segments();
            IpAddr::from([a, b, c, d, 0, 0, 0, 0])
        }
        address @ IpAddr::V4(_) => address,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const MINUTE: Duration = Duration::from_secs(60);

    fn phone(last: u8) -> IpAddr {
        IpAddr::from([192, 168, 1, last])
    }

    #[test]
    fn a_code_lets_one_phone_in_for_ten_minutes() {
        let (pairing, start) = (Pairing::default(), Instant::now());
        assert_eq!(pairing.enter("AAAA AAAA", phone(2), start), Err(WrongCode::None));
        pairing.begin(start);
        let (code, _) = pairing.code(start).expect("a code");
        let typed = format!(" {} {}", &code[..4].to_lowercase(), &code[4..]);
        assert_eq!(pairing.enter(&typed, phone(2), start + 9 * MINUTE), Ok(()));
        let again = pairing.enter(&code, phone(2), start + 9 * MINUTE);
        assert_eq!(again, Err(WrongCode::None), "one phone");
        pairing.begin(start);
        let (code, _) = pairing.code(start).expect("a code");
        assert_eq!(pairing.code(start + 10 * MINUTE), None);
        assert_eq!(pairing.enter(&code, phone(2), start + 10 * MINUTE), Err(WrongCode::None));
    }

    /// A stranger who goes on guessing locks out nobody but himself.
    #[test]
    fn five_wrong_codes_lock_one_address_for_ten_minutes() {
        let (pairing, start) = (Pairing::default(), Instant::now());
        pairing.begin(start);
        for left in [4, 3, 2, 1] {
            assert_eq!(pairing.enter("wrong", phone(9), start), Err(WrongCode::Other(left)));
        }
        for _ in 0..100 {
            assert_eq!(pairing.enter("wrong", phone(9), start), Err(WrongCode::Locked(10)));
        }
        let (code, _) = pairing.code(start).expect("a code");
        assert_eq!(pairing.enter(&code, phone(9), start + 9 * MINUTE), Err(WrongCode::Locked(1)));
        assert_eq!(pairing.enter(&code, phone(2), start + 9 * MINUTE), Ok(()));
        pairing.begin(start + 10 * MINUTE);
        let (code, _) = pairing.code(start + 10 * MINUTE).expect("a code");
        assert_eq!(pairing.enter(&code, phone(9), start + 10 * MINUTE), Ok(()));
        // One machine has all addresses of its network.
        let [one, other] =
            ["fe80::1:2:3:4", "fe80::9:9:9:9"].map(|it| it.parse().expect("an address"));
        assert_eq!(network(one), network(other));
    }

    #[test]
    fn so_many_strangers_are_remembered_and_no_more() {
        let (pairing, start) = (Pairing::default(), Instant::now());
        pairing.begin(start);
        for number in 0..2 * MOST_ADDRESSES as u32 {
            let stranger = IpAddr::from(number.to_be_bytes());
            assert_eq!(pairing.enter("wrong", stranger, start), Err(WrongCode::Other(4)));
        }
        assert_eq!(pairing.standing().wrong.len(), MOST_ADDRESSES);
    }
}
