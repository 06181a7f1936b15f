//! Tubes beside each other, against what hidden paints really do.
//!
//! What is wanted stands in the checks of the issue on comparing (reached there in a trial implementation); the simulated
//! workshop has finite films, crowding white, weighing and mixing errors and a noisy meter, and none of the analysis's code.

mod bench;
mod bridges;
mod pairs;
mod value;
