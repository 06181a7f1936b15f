//! What every handler can reach.

use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use colour::Reflectance;
use instruments::simulated::SimulatedBench;
use instruments::{DeviceError, Meter, Scale, Specimen};
use mixing::Geometry;
use store::{How, Store};

use crate::judged::AnalysedTrials;
use crate::news::News;
use crate::waiting::{Stopped, Waiting};

/// The store, the devices and what has been worked out already.
#[derive(Clone)]
pub struct AppState {
    pub(crate) store: Store,
    pub(crate) judgements: Arc<AnalysedTrials>,
    pub(crate) news: News,
    pub(crate) waiting: Arc<Mutex<Option<Waiting>>>,
    /// Why the reading that waited last was not recorded.
    pub(crate) stopped: Arc<Mutex<Option<Stopped>>>,
    pub(crate) simulated: SimulatedBench,
    /// ActualMixture while everything that is left is read: one run of it at a time.
    pub(crate) reading_all: Arc<tokio::sync::Mutex<()>>,
    meter: Option<TheMeter>,
    scale: Option<Arc<Mutex<dyn Scale>>>,
}

#[derive(Clone)]
struct TheMeter {
    device: Arc<Mutex<dyn Meter>>,
    about: Arc<Mutex<AboutMeter>>,
}

/// What the meter said of itself last.
#[derive(Debug, Clone)]
pub(crate) struct AboutMeter {
    pub name: String,
    pub simulated: bool,
    /// It has answered once; else the rest is only assumed.
    pub met: bool,
    pub geometry: Geometry,
    pub repeatability: f64,
}

impl AboutMeter {
    fn of(meter: &dyn Meter) -> Self {
        Self {
            name: meter.name().to_owned(),
            simulated: meter.simulated(),
            met: meter.met(),
            geometry: meter.geometry(),
            repeatability: meter.repeatability(),
        }
    }

    /// How a reading of this meter is recorded.
    pub fn how(&self) -> How<'_> {
        How::Meter {
            name: &self.name,
            simulated: self.simulated,
            geometry: self.geometry,
            repeatability: self.repeatability,
        }
    }
}

impl AppState {
    /// Serves the records of `store`, without any device.
    #[must_use]
    pub fn new(store: Store) -> Self {
        Self {
            store,
            judgements: Arc::default(),
            news: News::default(),
            waiting: Arc::default(),
            stopped: Arc::default(),
            simulated: SimulatedBench::default(),
            reading_all: Arc::default(),
            meter: None,
            scale: None,
        }
    }

    /// Reads swatches with this meter.
    #[must_use]
    pub fn with_meter(self, meter: impl Meter + 'static) -> Self {
        let about = Arc::new(Mutex::new(AboutMeter::of(&meter)));
        Self { meter: Some(TheMeter { device: Arc::new(Mutex::new(meter)), about }), ..self }
    }

    /// Weighs with this scale.
    #[must_use]
    pub fn with_scale(self, scale: impl Scale + 'static) -> Self {
        Self { scale: Some(Arc::new(Mutex::new(scale))), ..self }
    }

    /// Lets the user pull the plugs of the devices that this program simulates.
    #[must_use]
    pub fn with_simulated(self, simulated: SimulatedBench) -> Self {
        Self { simulated, ..self }
    }

    /// The records.
    #[must_use]
    pub fn store(&self) -> &Store {
        &self.store
    }

    /// What the meter says of itself; `None` where there is no meter. Never waits for the device.
    pub(crate) fn about_meter(&self) -> Option<AboutMeter> {
        self.meter.as_ref().map(|meter| lock(&meter.about).clone())
    }

    pub(crate) fn has_scale(&self) -> bool {
        self.scale.is_some()
    }

    /// Takes one reading, without holding up other requests; with what the meter says of itself.
    pub(crate) async fn read(
        &self,
        specimen: Specimen,
    ) -> Result<(Reflectance, AboutMeter), DeviceError> {
        let TheMeter { device, about } = self.meter.clone().ok_or(DeviceError::Silent("meter"))?;
        let reading = tokio::task::spawn_blocking(move || {
            let mut meter = lock(&device);
            let read = meter.read(&specimen);
            let now = AboutMeter::of(&*meter);
            *lock(&about) = now.clone();
            Ok((read?, now))
        });
        reading.await.unwrap_or(Err(DeviceError::Silent("meter")))
    }

    /// Weighs what is put on the scale now, in g, and tells whether the scale is a simulated one;
    /// `about` is what should lie there.
    pub(crate) async fn weigh(&self, about: f64) -> Result<(f64, bool), DeviceError> {
        let scale = self.scale.clone().ok_or(DeviceError::Silent("scale"))?;
        let weighing = tokio::task::spawn_blocking(move || {
            let mut scale = lock(&scale);
            scale.tare()?;
            Ok((scale.weigh(about)?, scale.simulated()))
        });
        weighing.await.unwrap_or(Err(DeviceError::Silent("scale")))
    }
}

/// What was locked by a thread that panicked is used on.
pub(crate) fn lock<T: ?Sized>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}
