//! The paces at which a trial may be worked.

/// How a trial is worked: the defaults of everything that is measured or not.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum PlanPace {
    /// Eyes, a knife, ratios that people can make.
    ByEye,
    /// A scale and a meter.
    Measured,
    /// Before a room of people: few colours, large piles.
    Teaching,
}

impl PlanPace {
    pub const ALL: [Self; 3] = [Self::ByEye, Self::Measured, Self::Teaching];

    pub fn key(self) -> &'static str {
        match self {
            Self::ByEye => "eye",
            Self::Measured => "measured",
            Self::Teaching => "teaching",
        }
    }

    pub fn label(self) -> &'static str {
        match self {
            Self::ByEye => "by eye",
            Self::Measured => "measured",
            Self::Teaching => "to show a room",
        }
    }

    pub fn of(key: &str) -> Self {
        Self::ALL.into_iter().find(|pace| pace.key() == key).unwrap_or(Self::Measured)
    }
}
