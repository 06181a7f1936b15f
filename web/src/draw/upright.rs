//! The small upright of lists: mass tone above, truest tint below.

use askama::Template;

use super::Paint;

/// A tube at a glance; an unread step stays hollow, and a white, which has no tints, is one piece.
#[derive(Template)]
#[template(path = "upright.svg", escape = "html")]
pub(crate) struct MiniUpright {
    pub title: String,
    pub mass_tone: Option<Paint>,
    pub truest: Option<Paint>,
    /// Nobody read it: dotted, as somebody saw it.
    pub seen: bool,
}
