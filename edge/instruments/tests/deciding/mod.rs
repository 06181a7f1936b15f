//! What is decided by K and S, against hidden paints that share none of its formulas: films of finite thickness, crowding
//! white, weighing, streaks and noise.

mod bench;
mod learning;
mod pairs;
mod recipes;
mod shelves;
