//! What every handler can reach.

use std::sync::{Arc, Mutex, PoisonError};

use colour::Reflectance;
use instruments::{Meter, MeterError, Specimen};
use mixing::Geometry;
use store::Store;

use crate::judged::Judgements;

/// The store, the meter and what has been worked out already.
#[derive(Clone)]
pub struct AppState {
    pub(crate) store: Store,
    pub(crate) judgements: Arc<Judgements>,
    meter: Arc<Mutex<dyn Meter>>,
}

impl AppState {
    /// Serves the records of `store` and reads swatches with `meter`.
    pub fn new(store: Store, meter: impl Meter + 'static) -> Self {
        Self { store, judgements: Arc::default(), meter: Arc::new(Mutex::new(meter)) }
    }

    /// What the meter is called, its geometry and its repeatability.
    pub(crate) fn about_meter(&self) -> (String, Geometry, f64) {
        let meter = self.meter.lock().unwrap_or_else(PoisonError::into_inner);
        (meter.name().to_owned(), meter.geometry(), meter.repeatability())
    }

    /// Takes one reading, without holding up other requests.
    pub(crate) async fn read(&self, specimen: Specimen) -> Result<Reflectance, MeterError> {
        let meter = Arc::clone(&self.meter);
        let reading = tokio::task::spawn_blocking(move || {
            meter.lock().unwrap_or_else(PoisonError::into_inner).read(&specimen)
        });
        reading.await.unwrap_or(Err(MeterError::Silent))
    }
}
