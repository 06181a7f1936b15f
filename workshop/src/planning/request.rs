//! What is wanted of a trial.

use std::fmt;

use colour::Conditions;
use mixing::Sheen;
use plan::{Design, Question, StepChoice, Supply, Tests, Thinning};
use sheet::Paper;
use store::{PaletteId, TubeId};
use study::numbers::Ratios;

/// A trial as it is wanted. [`TrialRequest::new`] asks for nothing yet, in the usual way.
#[derive(Debug, Clone)]
pub struct TrialRequest {
    /// What it will be called; empty for a name made of the question and the tubes.
    pub name: String,
    /// What it is made to find out.
    pub question: Question,
    /// Tubes under test.
    pub tested: Vec<TubeId>,
    /// The palette whose colours they are tried against.
    pub palette: Option<PaletteId>,
    /// Tubes that they are tried against besides.
    pub references: Vec<TubeId>,
    /// The white; the palette's, where none is named.
    pub white: Option<TubeId>,
    /// Which mixtures.
    pub charts: Vec<ChartRequest>,
    /// Which tubes are mixed with white alone.
    pub tints: TintRequest,
    /// What makes them paler.
    pub thinning: ThinningRequest,
    /// What is tested besides colour.
    pub tests: Tests,
    /// The pure colours stand at the ends of each row.
    pub anchors: bool,
    /// The references are dabbed beside their rows.
    pub dots: bool,
    /// Knife and brush are washed after every mixture.
    pub wash_always: bool,
    /// How ratios are told.
    pub ratios: Ratios,
    /// What the user's own minutes are, where they were typed.
    pub minutes: OwnMinutes,
    /// Readings of each swatch, 0 to 10.
    pub repeats: u32,
    /// Tubes that lie nearer than this, ΔE00, need no ladder.
    pub alike: f64,
    /// Amounts and the table.
    pub supply: Supply,
    /// Illuminant and observer of the figures.
    pub conditions: Conditions,
    /// Sheen of the dry film.
    pub sheen: Sheen,
    /// What the sheets are printed on.
    pub paper: Paper,
    /// What a recipe is to look like, as the address of its recipes tells it; empty for every other trial.
    pub aim: String,
}

impl TrialRequest {
    /// Nothing is chosen yet.
    #[must_use]
    pub fn new(name: &str) -> Self {
        let usual = Design::default();
        Self {
            name: name.to_owned(),
            question: usual.question,
            tested: Vec::new(),
            palette: None,
            references: Vec::new(),
            white: None,
            charts: Vec::new(),
            tints: TintRequest::Tested,
            thinning: ThinningRequest::Given(usual.thinning),
            tests: usual.tests,
            anchors: usual.anchors,
            dots: usual.dots,
            wash_always: usual.wash_always,
            ratios: usual.ratios,
            minutes: OwnMinutes::default(),
            repeats: usual.repeats,
            alike: usual.alike,
            supply: usual.supply,
            conditions: Conditions::D65_10,
            sheen: Sheen::default(),
            paper: Paper::default(),
            aim: String::new(),
        }
    }
}

/// A chart.
#[derive(Debug, Clone)]
pub enum ChartRequest {
    /// Every tube under test with every reference.
    Star {
        /// Ratios.
        steps: StepChoice,
        /// A tube in every mixture.
        third: Option<ThirdRequest>,
    },
    /// From one tube to another.
    Ladder {
        /// One end.
        from: TubeId,
        /// The other.
        to: TubeId,
        /// Ratios.
        steps: StepChoice,
        /// A tube in every mixture.
        third: Option<ThirdRequest>,
    },
    /// Every tube with every other, 1 : 1.
    Grid {
        /// Which; the references where none is named.
        tubes: Vec<TubeId>,
        /// Each pair once.
        half: bool,
    },
    /// A ladder between every two.
    Pairs {
        /// Of which; of all that are chosen where none is named.
        tubes: Vec<TubeId>,
        /// Ratios.
        steps: StepChoice,
    },
    /// A ladder between every two of three, and all three together.
    Triad {
        /// Of which.
        tubes: Vec<TubeId>,
        /// Ratios.
        steps: StepChoice,
    },
    /// One mixture, such as a recipe, and its tints: the only chart of its trial.
    Chosen {
        /// Its tubes with their parts, the white among them.
        parts: Vec<(TubeId, f64)>,
    },
    /// Two tubes with more and more of a third.
    Temper {
        /// The two, 1 : 1.
        base: [TubeId; 2],
        /// The third.
        temper: TubeId,
        /// Its parts to one part of the mixture.
        parts: Vec<f64>,
    },
}

/// What makes colours paler.
#[derive(Debug, Clone, PartialEq)]
pub enum ThinningRequest {
    /// What the tubes' medium asks for: water for water colour, white for acrylic, oil and tempera, both for
    /// gouache. With so many parts of white where there is white.
    ByMedium {
        /// To each tube alone.
        alone: Vec<f64>,
        /// To each mixture.
        mixtures: Vec<f64>,
    },
    /// As it is chosen.
    Given(Thinning),
}

/// Minutes that were typed; the usual ones stand for the others.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct OwnMinutes {
    /// To mix a pile.
    pub mix: Option<f64>,
    /// To lay a swatch.
    pub swatch: Option<f64>,
    /// To wipe the knife.
    pub wipe: Option<f64>,
    /// To wash knife and brush.
    pub wash: Option<f64>,
}

/// A third tube in every mixture of a chart.
#[derive(Debug, Clone, Copy)]
pub struct ThirdRequest {
    /// Which.
    pub tube: TubeId,
    /// Its share of the colours, 0 to 1.
    pub share: f64,
}

/// Which tubes are mixed with white alone.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TintRequest {
    /// None.
    None,
    /// Those under test.
    Tested,
    /// The references as well.
    All,
}

/// Why a request cannot be planned, and what of it is in the way.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RequestError {
    /// Where.
    pub place: RequestPlace,
    /// What is wrong, and what works.
    pub message: String,
}

impl fmt::Display for RequestError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.message)
    }
}

impl std::error::Error for RequestError {}

/// The part of a request that is in the way.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum RequestPlace {
    /// Nothing is wrong, but nothing is asked for yet.
    Nowhere,
    /// Tubes under test.
    Tested,
    /// The palette or the references.
    References,
    /// The white.
    White,
    /// The third tube of the star.
    StarThird,
    /// The ladder of this place among the ladders.
    Ladder(usize),
    /// The grid.
    Grid,
    /// The pairs of all tubes.
    Pairs,
    /// The three primaries.
    Triad,
    /// The tempering of this place among the temperings.
    Temper(usize),
    /// How many steps.
    Steps,
    /// Ratios of one's own.
    OwnSteps,
    /// Parts of white to one tube alone.
    WhitesAlone,
    /// Parts of white to the mixtures.
    WhitesMixed,
    /// What the scale or syringe resolves.
    Resolution,
    /// The size of a square.
    SquareSide,
    /// Places of the palette.
    Places,
}
