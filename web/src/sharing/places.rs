//! Connections at once: this machine, phones that are known, and strangers each have places of their own, and no
//! address has more than its share. Whoever finds none is turned away at once, and holds nobody up.

use std::collections::{HashMap, HashSet};
use std::net::IpAddr;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use super::pairing::network;

/// Places of this machine.
const HERE: usize = 192;
/// Places of addresses from which a known phone has asked.
const KNOWN: usize = 128;
/// Places of everybody else.
const STRANGERS: usize = 64;
/// Places of one address on the network: a browser opens six.
const ONE_ADDRESS: usize = 24;
/// Addresses that are remembered.
const REMEMBERED: usize = 256;

/// The places that are taken.
#[derive(Debug, Default)]
pub(crate) struct Places(Mutex<Taken>);

#[derive(Debug, Default)]
struct Taken {
    known: HashSet<IpAddr>,
    by_kind: [usize; 3],
    by_address: HashMap<IpAddr, usize>,
}

/// Whose places.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Kind {
    Here,
    Known,
    Stranger,
}

impl Kind {
    fn most(self) -> usize {
        match self {
            Self::Here => HERE,
            Self::Known => KNOWN,
            Self::Stranger => STRANGERS,
        }
    }
}

/// A place, free again when it is dropped.
#[derive(Debug)]
pub(crate) struct Place {
    places: Arc<Places>,
    kind: Kind,
    address: IpAddr,
}

impl Places {
    fn taken(&self) -> MutexGuard<'_, Taken> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// A known phone asks from this address.
    pub fn know(&self, address: IpAddr) {
        let mut taken = self.taken();
        if taken.known.len() < REMEMBERED {
            taken.known.insert(network(address));
        }
    }

    /// A place for a connection from an address; `None` where none is left for it.
    pub fn take(self: &Arc<Self>, address: IpAddr) -> Option<Place> {
        let address = address.to_canonical();
        let mut taken = self.taken();
        let (kind, address) = match address.is_loopback() {
            true => (Kind::Here, address),
            false if taken.known.contains(&network(address)) => (Kind::Known, network(address)),
            false => (Kind::Stranger, network(address)),
        };
        let of_address = taken.by_address.get(&address).copied().unwrap_or_default();
        let is_full = kind != Kind::Here && of_address >= ONE_ADDRESS;
        if is_full || taken.by_kind[kind as usize] >= kind.most() {
            return None;
        }
        taken.by_kind[kind as usize] += 1;
        taken.by_address.insert(address, of_address + 1);
        Some(Place { places: Arc::clone(self), kind, address })
    }
}

impl Drop for Place {
    fn drop(&mut self) {
        let mut taken = self.places.taken();
        let kind = &mut taken.by_kind[self.kind as usize];
        *kind = kind.saturating_sub(1);
        if let Some(count) = taken.by_address.get_mut(&self.address) {
            *count -= 1;
            if *count == 0 {
                taken.by_address.remove(&self.address);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// However many strangers come, this machine and known phones find their places.
    #[test]
    fn nobody_takes_the_places_of_others() {
        let places = Arc::new(Places::default());
        let lan = |last: u8| IpAddr::from([192, 168, 1, last]);
        places.know(lan(2));
        let one: Vec<Place> = (0..100).map_while(|_| places.take(lan(9))).collect();
        assert_eq!(one.len(), ONE_ADDRESS);
        let strangers: Vec<Place> = (10..200).flat_map(|last| places.take(lan(last))).collect();
        assert_eq!(one.len() + strangers.len(), STRANGERS);
        assert!(
            places.take(lan(2)).is_some() && places.take(IpAddr::from([127, 0, 0, 1])).is_some()
        );
        let phone: Vec<Place> = (0..100).map_while(|_| places.take(lan(2))).collect();
        assert_eq!(phone.len(), ONE_ADDRESS);
        assert!(places.take(IpAddr::from([0, 0, 0, 0, 0, 0, 0, 1])).is_some());
        drop((one, strangers, phone));
        assert!(places.taken().by_address.is_empty() && places.taken().by_kind == [0; 3]);
    }
}
