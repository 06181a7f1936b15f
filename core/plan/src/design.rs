//! What the user wants to try: charts, steps, tests and the circumstances of the table.

use serde::{Deserialize, Serialize};
use study::numbers::Ratios;
use study::{Medium, Mixture, TubeRef, short_names};

use crate::amounts::Film;
use crate::by_hand::Measures;
use crate::steps::Steps;

/// Everything a plan is worked out from, besides what earlier readings tell.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Design {
    /// What the trial is made to find out.
    #[serde(default)]
    pub question: Question,
    /// The charts, in the order they come on the sheets.
    pub charts: Vec<Chart>,
    /// The white, where one is used.
    pub white: Option<TubeRef>,
    /// How each colour is thinned.
    pub thinning: Thinning,
    /// What is tested besides the colour.
    pub tests: Tests,
    /// The pure colours stand again at both ends of each ladder.
    pub anchors: bool,
    /// The references of a star are dabbed beside their rows, and have no squares of their own.
    #[serde(default)]
    pub dots: bool,
    /// Knife and brush are washed after every mixture, whether a trace would show or not.
    #[serde(default)]
    pub wash_always: bool,
    /// How ratios are told.
    #[serde(default)]
    pub ratios: Ratios,
    /// Readings of each swatch, 0 to 10; 0 where everything is judged by eye.
    pub repeats: u32,
    /// Parents that differ by less than this ΔE00 need one swatch, not a ladder.
    pub alike: f64,
    /// How much of everything, and what it is measured with.
    pub supply: Supply,
    /// How long everything takes.
    pub pace: Pace,
    /// What a recipe is to look like, as the address of its recipes tells it; empty for every other trial.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub aim: String,
}

impl Design {
    /// Amounts are put out by eye.
    #[must_use]
    pub fn is_by_eye(&self) -> bool {
        self.supply.measure == study::Basis::Eye
    }
}

impl Default for Design {
    /// No chart yet; tints as most charts show them, and the usual table.
    fn default() -> Self {
        Self {
            question: Question::Free,
            charts: Vec::new(),
            white: None,
            thinning: Thinning::White {
                alone: vec![1.0, 2.0, 4.0, 8.0, 16.0],
                mixtures: vec![1.0, 4.0],
                film: false,
            },
            tests: Tests { opacity: true, lift: false, wet: false },
            anchors: true,
            dots: false,
            wash_always: false,
            ratios: Ratios::Parts,
            repeats: 3,
            alike: 3.0,
            supply: Supply::default(),
            pace: Pace::of(Medium::Acrylic),
            aim: String::new(),
        }
    }
}

/// What is tried against what.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum Chart {
    /// Each tube alone, with white in rising parts.
    Tints(Vec<TubeRef>),
    /// A ladder from each tube under test to each reference.
    Star {
        /// Tubes under test.
        tested: Vec<TubeRef>,
        /// What each is mixed with.
        references: Vec<TubeRef>,
        /// The ratios.
        steps: StepChoice,
        /// A tube that is in every mixture.
        third: Option<Third>,
    },
    /// From all of one tube to all of another.
    Ladder {
        /// The first tube.
        from: TubeRef,
        /// The second.
        to: TubeRef,
        /// The ratios.
        steps: StepChoice,
        /// A tube that is in every mixture.
        third: Option<Third>,
    },
    /// Every tube with every other, 1 : 1.
    Grid {
        /// The tubes, along both sides.
        tubes: Vec<TubeRef>,
        /// Each pair once is enough.
        half: bool,
    },
    /// A ladder between every two of some tubes.
    Pairs {
        /// The tubes.
        tubes: Vec<TubeRef>,
        /// The ratios.
        steps: StepChoice,
    },
    /// Three primaries: a ladder between every two, and all three together.
    Triad {
        /// The three.
        tubes: [TubeRef; 3],
        /// The ratios.
        steps: StepChoice,
    },
    /// A mixture of two, and the same with more and more of a third.
    Temper {
        /// The two, with their parts.
        base: [(TubeRef, f64); 2],
        /// The third.
        temper: TubeRef,
        /// Its parts to one part of the mixture, 0 and above.
        parts: Vec<f64>,
    },
    /// Mixtures that were chosen one by one, such as a recipe: alone in its design, with its tints.
    Chosen(Vec<Mixture>),
    /// The squares of an anchor card, after bare paper, printed black and the white: alone in its design.
    Card(Vec<Mixture>),
}

/// What a trial is made to find out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub enum Question {
    /// How these tubes mix with the palette.
    Mixes,
    /// Which of them is stronger.
    Stronger,
    /// Which is warm and which is cool, and beside what.
    Warmer,
    /// Which pair makes the cleanest green, orange or violet.
    Cleanest,
    /// Which pair makes the best grey or near-black.
    Neutral,
    /// What white and water do to them.
    WhiteAndWater,
    /// Whether one can do without them.
    Replaceable,
    /// Nothing in particular.
    #[default]
    Free,
}

short_names!(
    Question,
    "question",
    "mixes, stronger, warmer, cleanest, neutral, white-and-water, replaceable or free",
    Mixes = "mixes",
    Stronger = "stronger",
    Warmer = "warmer",
    Cleanest = "cleanest",
    Neutral = "neutral",
    WhiteAndWater = "white-and-water",
    Replaceable = "replaceable",
    Free = "free"
);

/// A tube at a fixed share of every mixture of a ladder.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Third {
    /// Which tube.
    pub tube: TubeRef,
    /// Its share, above 0 and below 1.
    pub share: f64,
}

/// How a ladder's ratios are chosen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum StepChoice {
    /// As a school teaches them, or as typed.
    Fixed(Steps),
    /// So many steps that look even to the eye.
    Even(usize),
}

/// What takes a colour from thick to pale.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum Thinning {
    /// White in rising parts to one part.
    White {
        /// With each tube alone.
        alone: Vec<f64>,
        /// With each mixture, and with the references for comparison.
        mixtures: Vec<f64>,
        /// A thin film or wash beside the tints as well.
        #[serde(default)]
        film: bool,
    },
    /// Water: a thick passage and a wash, for transparent water media.
    Water,
    /// Nothing: mass tones only.
    None,
}

/// What is tested besides the colour of the dry film.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Tests {
    /// Mass tones over black and over white.
    pub opacity: bool,
    /// Lifting the dry paint again.
    pub lift: bool,
    /// A reading while it is wet.
    pub wet: bool,
}

/// How parts are measured out, and of what there is only so much.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Supply {
    /// By weight, by volume or by eye.
    pub measure: study::Basis,
    /// Resolution of the scale in g, or of the syringe in ml, above 0.
    pub resolution: f64,
    /// The film of one swatch.
    pub film: Film,
    /// No pile is smaller than this, in g or ml; 0 for no limit.
    pub least_pile: f64,
    /// Piles that the palette has room for, 2 or more.
    pub places: usize,
    /// What is put out by eye.
    #[serde(default)]
    pub hand: Measures,
}

impl Supply {
    /// Paint for one swatch in the unit of the measure: g by weight, else ml.
    #[must_use]
    pub fn one_swatch(&self) -> f64 {
        match self.measure {
            study::Basis::Weight => self.film.grams(),
            _ => self.film.millilitres(),
        }
    }

    /// ml of paint in so much of the measure's unit.
    #[must_use]
    pub fn millilitres(&self, amount: f64) -> f64 {
        match self.measure {
            study::Basis::Weight => amount / self.film.density_g_ml,
            _ => amount,
        }
    }

    /// `g` or `ml`.
    #[must_use]
    pub fn unit(&self) -> &'static str {
        match self.measure {
            study::Basis::Weight => "g",
            _ => "ml",
        }
    }
}

impl Default for Supply {
    fn default() -> Self {
        Self {
            measure: study::Basis::Weight,
            resolution: 0.01,
            film: Film::default(),
            least_pile: 0.0,
            places: 12,
            hand: Measures::default(),
        }
    }
}

/// Minutes that each action takes; the defaults are common practice, no source.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Pace {
    /// To weigh one part.
    pub weigh: f64,
    /// To mix a pile until no streak is left.
    pub mix: f64,
    /// To let white into a little of a pile that is mixed already; `None` for as long as mixing it.
    #[serde(default)]
    pub tint: Option<f64>,
    /// To lay one swatch.
    pub swatch: f64,
    /// To wash knife and brush and change the water.
    pub clean: f64,
    /// To wipe the knife on a cloth.
    #[serde(default)]
    pub wipe: f64,
    /// To take one reading.
    pub read: f64,
    /// To lift one dry swatch.
    pub lift: f64,
    /// To put the palette aside and take a fresh one.
    pub clear: f64,
    /// Until a swatch is dry.
    pub dry: f64,
    /// How many times the usual minutes these are, as learnt from the user's own runs.
    #[serde(default = "as_usual")]
    pub learned: f64,
}

fn as_usual() -> f64 {
    1.0
}

impl Pace {
    /// The same where amounts are put out by eye, and nothing is weighed (common practice, no source).
    #[must_use]
    pub fn by_eye(self) -> Self {
        let tint = Some(0.1);
        Self {
            weigh: 0.0,
            mix: 0.5,
            tint,
            swatch: 0.25,
            clean: 0.75,
            wipe: 0.1,
            clear: 1.0,
            ..self
        }
    }

    /// True where these are not the usual minutes, but the user's own.
    #[must_use]
    pub fn is_learned(&self) -> bool {
        (self.learned - 1.0).abs() > 0.01
    }

    /// The same for someone who takes so many times as long; paint dries no sooner for it.
    #[must_use]
    pub fn times(self, factor: f64) -> Self {
        Self {
            weigh: factor * self.weigh,
            mix: factor * self.mix,
            tint: self.tint.map(|minutes| factor * minutes),
            swatch: factor * self.swatch,
            clean: factor * self.clean,
            wipe: factor * self.wipe,
            read: factor * self.read,
            lift: factor * self.lift,
            clear: factor * self.clear,
            dry: self.dry,
            learned: factor * self.learned,
        }
    }

    /// The usual pace, with the drying time of a medium.
    #[must_use]
    pub fn of(medium: Medium) -> Self {
        let dry = match medium {
            Medium::Oil => 4.0 * 24.0 * 60.0,
            Medium::Watercolour => 20.0,
            Medium::Gouache => 30.0,
            Medium::Acrylic | Medium::Tempera => 45.0,
        };
        Self {
            weigh: 0.5,
            mix: 1.5,
            tint: None,
            swatch: 0.5,
            clean: 1.5,
            wipe: 0.1,
            read: 0.2,
            lift: 1.0,
            clear: 3.0,
            dry,
            learned: 1.0,
        }
    }
}
