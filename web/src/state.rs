//! What every handler can reach.

use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use colour::Reflectance;
use instruments::simulated::SimulatedBench;
use instruments::{DeviceError, Meter, Scale, Specimen};
use mixing::Geometry;
use store::Store;

use crate::judged::Judgements;
use crate::news::News;
use crate::waiting::Waiting;

/// The store, the devices and what has been worked out already.
#[derive(Clone)]
pub struct AppState {
    pub(crate) store: Store,
    pub(crate) judgements: Arc<Judgements>,
    pub(crate) news: News,
    pub(crate) waiting: Arc<Mutex<Option<Waiting>>>,
    pub(crate) simulated: Option<SimulatedBench>,
    meter: Arc<Mutex<dyn Meter>>,
    about_meter: Arc<Mutex<AboutMeter>>,
    scale: Option<Arc<Mutex<dyn Scale>>>,
}

/// What the meter said of itself last.
#[derive(Debug, Clone)]
pub(crate) struct AboutMeter {
    pub name: String,
    pub geometry: Geometry,
    pub repeatability: f64,
}

impl AboutMeter {
    fn of(meter: &dyn Meter) -> Self {
        Self {
            name: meter.name().to_owned(),
            geometry: meter.geometry(),
            repeatability: meter.repeatability(),
        }
    }
}

impl AppState {
    /// Serves the records of `store` and reads swatches with `meter`.
    pub fn new(store: Store, meter: impl Meter + 'static) -> Self {
        Self {
            store,
            judgements: Arc::default(),
            news: News::default(),
            waiting: Arc::default(),
            simulated: None,
            about_meter: Arc::new(Mutex::new(AboutMeter::of(&meter))),
            meter: Arc::new(Mutex::new(meter)),
            scale: None,
        }
    }

    /// Weighs with this scale.
    #[must_use]
    pub fn with_scale(self, scale: impl Scale + 'static) -> Self {
        Self { scale: Some(Arc::new(Mutex::new(scale))), ..self }
    }

    /// Lets the user pull the plugs of simulated devices.
    #[must_use]
    pub fn with_simulated(self, bench: SimulatedBench) -> Self {
        Self { simulated: Some(bench), ..self }
    }

    /// The records.
    #[must_use]
    pub fn store(&self) -> &Store {
        &self.store
    }

    /// What the meter is called, its geometry and its repeatability. Never waits for the device.
    pub(crate) fn about_meter(&self) -> AboutMeter {
        lock(&self.about_meter).clone()
    }

    pub(crate) fn has_scale(&self) -> bool {
        self.scale.is_some()
    }

    /// Takes one reading, without holding up other requests.
    pub(crate) async fn read(&self, specimen: Specimen) -> Result<Reflectance, DeviceError> {
        let (meter, about) = (Arc::clone(&self.meter), Arc::clone(&self.about_meter));
        let reading = tokio::task::spawn_blocking(move || {
            let mut meter = lock(&meter);
            let read = meter.read(&specimen);
            *lock(&about) = AboutMeter::of(&*meter);
            read
        });
        reading.await.unwrap_or(Err(DeviceError::Silent("meter")))
    }

    /// Weighs what is put on the scale now, in g; `about` is what should lie there.
    pub(crate) async fn weigh(&self, about: f64) -> Result<f64, DeviceError> {
        let scale = self.scale.clone().ok_or(DeviceError::Silent("scale"))?;
        let weighing = tokio::task::spawn_blocking(move || {
            let mut scale = lock(&scale);
            scale.tare()?;
            scale.weigh(about)
        });
        weighing.await.unwrap_or(Err(DeviceError::Silent("scale")))
    }
}

/// What was locked by a thread that panicked is used on.
pub(crate) fn lock<T: ?Sized>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}
