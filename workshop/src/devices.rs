//! The meter and the scale, asked without holding up anything else.

use std::sync::{Arc, Mutex};

use colour::Reflectance;
use instruments::simulated::SimulatedBench;
use instruments::{DeviceError, Meter, Scale, Specimen};
use mixing::Geometry;
use store::How;

use crate::kept::lock;

/// What stands on the table besides paint.
#[derive(Clone, Default)]
pub(crate) struct Devices {
    meter: Option<TheMeter>,
    scale: Option<Arc<Mutex<dyn Scale>>>,
    pub simulated: SimulatedBench,
}

#[derive(Clone)]
struct TheMeter {
    device: Arc<Mutex<dyn Meter>>,
    info: Arc<Mutex<MeterInfo>>,
}

/// What the meter said of itself last.
#[derive(Debug, Clone)]
pub struct MeterInfo {
    /// What it is called.
    pub name: String,
    /// It is a simulated one.
    pub simulated: bool,
    /// It has answered once; else the rest is only assumed.
    pub met: bool,
    /// Its measuring geometry.
    pub geometry: Geometry,
    /// Its repeatability, MCDM in ΔE00, above 0.
    pub repeatability: f64,
}

impl MeterInfo {
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
    pub(crate) fn how(&self) -> How<'_> {
        How::Meter {
            name: &self.name,
            simulated: self.simulated,
            geometry: self.geometry,
            repeatability: self.repeatability,
        }
    }
}

impl Devices {
    pub fn connect_meter(&mut self, meter: impl Meter + 'static) {
        let info = Arc::new(Mutex::new(MeterInfo::of(&meter)));
        self.meter = Some(TheMeter { device: Arc::new(Mutex::new(meter)), info });
    }

    pub fn connect_scale(&mut self, scale: impl Scale + 'static) {
        self.scale = Some(Arc::new(Mutex::new(scale)));
    }

    pub fn meter_info(&self) -> Option<MeterInfo> {
        self.meter.as_ref().map(|meter| lock(&meter.info).clone())
    }

    pub fn has_scale(&self) -> bool {
        self.scale.is_some()
    }

    /// Takes one reading; with what the meter says of itself.
    pub async fn read(&self, specimen: Specimen) -> Result<(Reflectance, MeterInfo), DeviceError> {
        let TheMeter { device, info } = self.meter.clone().ok_or(DeviceError::Silent("meter"))?;
        let reading = tokio::task::spawn_blocking(move || {
            let mut meter = lock(&device);
            let read = meter.read(&specimen);
            let now = MeterInfo::of(&*meter);
            *lock(&info) = now.clone();
            Ok((read?, now))
        });
        reading.await.unwrap_or(Err(DeviceError::Silent("meter")))
    }

    /// Weighs what is put on the scale now, in g, and tells whether the scale is a simulated one;
    /// `about` is what should lie there.
    pub async fn weigh(&self, about: f64) -> Result<(f64, bool), DeviceError> {
        let scale = self.scale.clone().ok_or(DeviceError::Silent("scale"))?;
        let weighing = tokio::task::spawn_blocking(move || {
            let mut scale = lock(&scale);
            scale.tare()?;
            Ok((scale.weigh(about)?, scale.simulated()))
        });
        weighing.await.unwrap_or(Err(DeviceError::Silent("scale")))
    }
}
