//! The workshop: the records, the devices, and what has been worked out already.

use std::sync::Arc;

use instruments::simulated::SimulatedBench;
use instruments::{DeviceError, Meter, Scale};
use store::Store;

use crate::devices::{Devices, MeterInfo};
use crate::news::News;
use crate::rooms::Rooms;

/// Everything that a page, a command or the demo can reach. Clones share it.
#[derive(Clone)]
pub struct Workshop {
    pub(crate) store: Store,
    rooms: Arc<Rooms>,
    pub(crate) devices: Devices,
    pub(crate) news: News,
    /// What the simulated phone and scanner draw follows from this number; `None` where there are none.
    pub(crate) camera: Option<u64>,
}

impl Workshop {
    /// Works on the records of `store`, without any device.
    #[must_use]
    pub fn new(store: Store) -> Self {
        Self {
            store,
            rooms: Arc::default(),
            devices: Devices::default(),
            news: News::default(),
            camera: None,
        }
    }

    /// Reads swatches with this meter.
    #[must_use]
    pub fn with_meter(mut self, meter: impl Meter + 'static) -> Self {
        self.devices.connect_meter(meter);
        self
    }

    /// Weighs with this scale.
    #[must_use]
    pub fn with_scale(mut self, scale: impl Scale + 'static) -> Self {
        self.devices.connect_scale(scale);
        self
    }

    /// Lets the user pull the plugs of the devices that this program simulates.
    #[must_use]
    pub fn with_simulated(mut self, simulated: SimulatedBench) -> Self {
        self.devices.simulated = simulated;
        self
    }

    /// Lets a simulated phone and scanner take pictures of sheets that nobody painted; `seed` is that of the
    /// simulated meter, so that both see the same paint.
    #[must_use]
    pub fn with_simulated_camera(mut self, seed: u64) -> Self {
        self.camera = Some(seed);
        self
    }

    /// True where a simulated phone and scanner take pictures.
    #[must_use]
    pub fn has_simulated_camera(&self) -> bool {
        self.camera.is_some()
    }

    /// What a room keeps from request to request.
    pub(crate) fn kept<T: Default + Send + Sync + 'static>(&self) -> Arc<T> {
        self.rooms.of()
    }

    /// The records.
    #[must_use]
    pub fn store(&self) -> &Store {
        &self.store
    }

    /// What was recorded, told to whoever listens.
    #[must_use]
    pub fn news(&self) -> &News {
        &self.news
    }

    /// The devices that this program simulates, with their plugs.
    #[must_use]
    pub fn simulated(&self) -> &SimulatedBench {
        &self.devices.simulated
    }

    /// What the meter says of itself; `None` where there is no meter. Never waits for the device.
    #[must_use]
    pub fn meter_info(&self) -> Option<MeterInfo> {
        self.devices.meter_info()
    }

    /// True where a scale is connected.
    #[must_use]
    pub fn has_scale(&self) -> bool {
        self.devices.has_scale()
    }

    /// Weighs what is put on the scale now, in g, and tells whether the scale is a simulated one;
    /// `about` is what should lie there.
    ///
    /// # Errors
    /// When the scale does not answer.
    pub async fn weigh(&self, about: f64) -> Result<(f64, bool), DeviceError> {
        self.devices.weigh(about).await
    }
}
