//! Numbers in, SVG out. Every paint colour of the product is drawn here.

mod ladder;
mod meaning;
mod neighbours;
mod paint;
mod painted;
mod paths;
mod rack;
mod reach_map;
mod sheet_map;
mod strip;
mod together;
mod upright;

pub(crate) use ladder::{LadderCell, SmallLadder};
pub(crate) use meaning::Meaning;
pub(crate) use neighbours::{Neighbour, neighbours};
pub(crate) use paint::Paint;
pub(crate) use painted::{PaintedCell, PaintedCells};
pub(crate) use paths::{HuePath, HuePaths, PathPoint, dash};
pub(crate) use rack::{Cell, Foot, Head, RackDrawing};
pub(crate) use reach_map::ReachMap;
pub(crate) use sheet_map::{MapCell, MapState, SheetMap};
pub(crate) use strip::{LadderStrip, StripCell};
pub(crate) use together::{Beside, Together};
pub(crate) use upright::MiniUpright;
