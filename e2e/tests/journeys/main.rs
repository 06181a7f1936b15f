//! Browser journeys, one file a job: in one program, so that they are linked once and run beside each other.

mod by_eye;
mod compare;
mod first_ten_minutes;
mod first_trial;
mod judged_at_once;
mod older_chart;
mod planned_star;
