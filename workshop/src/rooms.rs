//! What each room of the workshop keeps from request to request, by its type: this file knows none of them.

use std::any::{Any, TypeId};
use std::collections::HashMap;
use std::fmt;
use std::sync::{Arc, Mutex};

use crate::kept::lock;

/// One value of each type that was asked for.
#[derive(Default)]
pub(crate) struct Rooms(Mutex<HashMap<TypeId, Arc<dyn Any + Send + Sync>>>);

impl Rooms {
    /// The value of a type, made when it is first asked for.
    pub fn of<T: Default + Send + Sync + 'static>(&self) -> Arc<T> {
        let mut rooms = lock(&self.0);
        let room = rooms.entry(TypeId::of::<T>()).or_insert_with(|| Arc::new(T::default()));
        // What stands under a type is of that type.
        Arc::clone(room).downcast().unwrap_or_default()
    }
}

impl fmt::Debug for Rooms {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{} rooms", lock(&self.0).len())
    }
}
