//! Tubes beside each other, against what hidden paints really do.
//!
//! What is wanted was reached in a trial implementation; the simulated
//! workshop has finite films, crowding white, weighing and mixing errors and a noisy meter, and none of the analysis's code.

mod bench;
mod bridges;
mod pairs;
mod value;
