//! A trial or a readings file, with what it tells of its tubes.

use colour::{Conditions, Lab, StatedLab};
use mixing::{Constants, InternalReflectance, Surface};
use study::{Averages, FittedTubes, Study, SwatchColour, TubeLabel, TubeRef};

/// A trial or a readings file, averaged and fitted.
#[derive(Debug, Clone, Copy)]
pub struct Told<'a> {
    /// Tubes, circumstances and readings.
    pub study: &'a Study,
    /// Its readings, averaged.
    pub averages: &'a Averages,
    /// K and S of its tubes.
    pub fitted: &'a FittedTubes,
    /// The instrument that read it, as far as that is known.
    pub instrument: Option<&'a str>,
    /// The sheen of its films was stated, and not assumed.
    pub sheen_stated: bool,
}

/// The light that colours are seen by, and the surface they are seen through.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Frame {
    pub conditions: Conditions,
    pub surface: Option<Surface>,
}

/// A tube in a trial or a file.
#[derive(Debug, Clone, Copy)]
pub struct Subject<'a> {
    /// What was read of it.
    pub told: Told<'a>,
    /// Which tube.
    pub tube: TubeRef,
}

impl<'a> Told<'a> {
    /// A simulated device made up some of its readings that count.
    pub(crate) fn is_simulated(&self) -> bool {
        self.averages.counted.1 > 0
    }

    /// The white's label.
    pub(crate) fn white(&self) -> Option<TubeLabel> {
        self.study.white.map(|white| self.study.label(white))
    }

    /// The light and the surface that its own colours are seen by.
    pub(crate) fn frame(&self) -> Frame {
        Frame { conditions: self.study.conditions, surface: self.fitted.surface }
    }

    /// A colour as another trial would have read it: a spectrum under its light and through its surface, a colour alone
    /// adapted to its illuminant (linear Bradford). `None` where that cannot be.
    pub(crate) fn lab_in(&self, colour: &SwatchColour, frame: Frame) -> Option<Lab> {
        let own = self.frame();
        if own == frame {
            return Some(colour.lab);
        }
        match &colour.reflectance {
            Some(reflectance) if own.surface == frame.surface => {
                Some(Lab::from_reflectance(reflectance, frame.conditions))
            }
            Some(reflectance) => {
                let internal = InternalReflectance::from_measured(reflectance, own.surface);
                Some(Lab::from_reflectance(&internal.to_measured(frame.surface), frame.conditions))
            }
            None if own.surface == frame.surface => {
                let stated = StatedLab { lab: colour.lab, conditions: own.conditions };
                stated.under(frame.conditions).ok()
            }
            None => None,
        }
    }

    /// K and S of one of its tubes.
    pub(crate) fn constants(&self, tube: TubeRef) -> Option<&'a Constants> {
        self.fitted.tubes.get(tube.0)?.constants.as_ref()
    }
}

impl<'a> Subject<'a> {
    /// The tube's label.
    #[must_use]
    pub fn label(&self) -> TubeLabel {
        self.told.study.label(self.tube)
    }

    /// K and S of the tube, where they are known.
    pub(crate) fn constants(&self) -> Option<&'a Constants> {
        self.told.constants(self.tube)
    }
}
