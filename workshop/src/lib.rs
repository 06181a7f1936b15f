//! What the application does, without HTTP: the records, the devices and what follows from them.
//!
//! Requests go in as typed values; what was recorded or worked out comes out. Pages, the command line
//! and the demo all work through [`Workshop`].
//!
//! 1. [`Workshop`]: the records and the devices; `trials`: trials, analysed and kept; `kept`,
//!    `rooms`: what is worked out once; `knowledge`: what all of them, and the eye, tell of the tubes.
//! 2. `planning`: a [`TrialRequest`] to a plan.
//! 3. `work_order`, `prompt`: what the bench asks for now; `laying`, `events`: what was done there.
//! 4. `taking`: readings, and `waiting` for a meter that is away; `reading_check`: what a reading says
//!    at once.
//!    `pictures`: a scan or a photo of a sheet, read, and taken as readings in one step.
//!    `card`: the known colours that calibrate them; `charts`: charts that were ruled by hand.
//! 5. [`Matrix`]: a trial as a chart; `eye`: what the eye judged; `answer`: what the trial was made to find out.
//! 6. [`Comparison`]: tubes beside each other, from all their trials; which of the shelf behave alike.
//! 7. `deciding`: recipes, what to keep, what a palette reaches, its greys.
//! 8. `news`: what was recorded, told to whoever listens.

mod alone;
mod analysed;
mod answer;
mod background;
mod cache;
mod card;
mod card_check;
mod charts;
mod clock;
mod commands;
mod comparing;
mod deciding;
mod devices;
mod error;
mod events;
mod eye;
mod greys;
mod kept;
mod knowledge;
mod laying;
mod matrix;
mod mixtures;
mod news;
mod open_trial;
mod pictures;
mod planning;
mod prompt;
mod reading_check;
mod records;
mod rooms;
mod surprise;
mod taking;
mod taking_later;
mod told;
mod trials;
mod vivid;
mod waiting;
mod warmth;
mod work_order;
mod workshop;

pub use alone::{LeanBeside, is_warmer, leans};
pub use analysed::{AnalysedTrial, KnownColour};
pub use answer::answer;
pub use background::off_the_thread;
pub use card_check::CardByDevice;
pub use charts::{ChartMeant, ChartWrong, ShownPicture, in_square, meant};
pub use clock::now;
pub use comparing::{
    Beside, ComparedPair, Comparison, MOST_COMPARED, MostLike, OneStep, OwnedTwin, PartnerSquare,
    ShelfLookAlike, ShelfLookAlikes, TubeDrift, WithPartner,
};
pub use deciding::{
    Aim, CleanPair, Confirmed, Corrected, Deciding, Filler, KeptShelf, MOST_KEPT, PairForecast,
    PaletteGreys, PaletteReach, PlacedGrey, RecipeAnswer, RecipeAsked, RecipeRequest,
    newest_palette,
};
pub use devices::MeterInfo;
pub use error::WorkshopError;
pub use eye::{
    OrderByEye, StrengthByEye, judged_strengths, judged_tubes, order_by_eye, strengths_by_eye,
};
pub use knowledge::{Evidence, EvidenceSource, KnownShelf, Which};
pub use laying::{LayRequest, Line, PlannedLine, ToMake, left_ml, to_make};
pub use matrix::{
    ChartStep, MOST_STEPS, Matrix, MatrixRow, PairCell, PairWord, Pale, Rising, SaidBy, Shown,
    ShownColour, ThirdRow, ThirdStep, mass_tones, painted_squares,
};
pub use news::{News, Subscription};
pub use open_trial::OpenTrial;
pub use pictures::{
    LookedAt, NotUsable, PictureRead, Planned, Received, Square, WhyNotTaken, painted_sheet,
    specimen_of,
};
pub use planning::{
    ChartRequest, OwnMinutes, RequestError, RequestPlace, ThinningRequest, ThirdRequest,
    TintRequest, TrialRequest, WorkedOut,
};
pub use prompt::{AtHand, Prompt, drift_line, until};
pub use reading_check::{ReadingCheck, state_to_judge};
// What pages say of the records: they open none themselves.
pub use store::{
    LaidOut, Last, NewPalette, Palette, PaletteId, PictureDraft, PictureId, PlannedSwatch, Preset,
    ReadingId, Role, RuledChart, ShelfTube, SidesHold, StoreError, StoredPicture, StoredReading,
    StoredSession, SwatchId, Trial, TrialId, TrialPlan, TrialSummary, TubeId, TypedChart, called,
    picture_name, session_key,
};
pub use told::Answer;
pub use vivid::{VividMixture, WANTED_HUES, most_vivid};
pub use waiting::{Stopped, Waiting};
pub use work_order::WorkOrder;
pub use workshop::Workshop;
