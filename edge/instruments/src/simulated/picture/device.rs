//! Which device takes a picture, and what its sensors see.

/// Which device takes the picture.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PictureDevice {
    /// A flatbed with a white lamp and a line of filtered sensors.
    LineScanner,
    /// A flatbed with coloured lamps and a line of bare sensors.
    LampScanner,
    /// A phone over a table.
    Phone,
    /// Any other one.
    Other(Sensors),
}

/// Sensors behind their filters, or the lamps before them: red, green and blue.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Sensors {
    /// A phone over a table, and no flatbed.
    pub is_phone: bool,
    /// Its lamps are coloured, one for each channel, and its light is not white.
    pub has_coloured_lamps: bool,
    /// Wavelength each is most sensitive to, nm, and how far that differs from one device to the next.
    pub centres_nm: [(u16, u16); 3],
    /// How wide each is, one σ, nm.
    pub widths_nm: [u16; 3],
}

impl PictureDevice {
    /// It is held over the table, and tilted.
    #[must_use]
    pub fn is_phone(self) -> bool {
        self.sensors().is_phone
    }

    pub(super) fn sensors(self) -> Sensors {
        match self {
            Self::LineScanner => Sensors {
                is_phone: false,
                has_coloured_lamps: false,
                centres_nm: [(606, 10), (536, 8), (456, 7)],
                widths_nm: [36, 40, 30],
            },
            Self::LampScanner => Sensors {
                is_phone: false,
                has_coloured_lamps: true,
                centres_nm: [(628, 6), (526, 8), (464, 6)],
                widths_nm: [11, 17, 12],
            },
            Self::Phone => Sensors {
                is_phone: true,
                has_coloured_lamps: false,
                centres_nm: [(598, 8), (534, 8), (458, 8)],
                widths_nm: [38, 44, 32],
            },
            Self::Other(sensors) => sensors,
        }
    }
}
