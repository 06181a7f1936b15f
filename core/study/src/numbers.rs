//! Numbers as text: one precision for each quantity, a true minus sign, never a minus zero.

use serde::{Deserialize, Serialize};

/// With so many decimals, a true minus sign, and never a minus zero.
#[must_use]
pub fn number(value: f64, digits: usize) -> String {
    let text = format!("{value:.digits$}");
    let magnitude = text.trim_start_matches('-');
    if text.starts_with('-') && !is_zero(magnitude) {
        format!("−{magnitude}")
    } else {
        magnitude.to_owned()
    }
}

/// The same with a plus sign; zero has none.
#[must_use]
pub fn signed_number(value: f64, digits: usize) -> String {
    let text = number(value, digits);
    if text.starts_with('−') || is_zero(&text) { text } else { format!("+{text}") }
}

/// The half-width of an interval, as exact as its value and never nothing.
#[must_use]
pub fn half_width(half: f64, digits: usize) -> String {
    let unit = 0.1_f64.powi(i32::try_from(digits).unwrap_or_default());
    number(if half > 0.0 { half.max(unit) } else { half }, digits)
}

/// A value lies outside its interval about zero, as both are written.
#[must_use]
pub fn is_beyond(value: f64, half: f64, digits: usize) -> bool {
    let written = |value: f64| (value.abs() * 10_f64.powf(digits as f64)).round();
    value.abs() > half && written(value) > written(half)
}

/// Parts with at most two decimals, from ten on with one, and no trailing zeros; a share too small for that keeps its
/// first figure.
#[must_use]
pub fn parts(parts: f64) -> String {
    if parts > 0.0 && parts < 0.005 {
        let digits = (-parts.log10()).ceil().clamp(3.0, 9.0) as usize;
        return format!("{parts:.digits$}");
    }
    let digits = if parts < 9.995 { 2 } else { 1 };
    let text = format!("{parts:.digits$}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// The ends of an interval, with enough decimals that they are not the same text.
#[must_use]
pub fn ends([low, high]: [f64; 2], digits: usize) -> [String; 2] {
    let more = (digits..=digits + 3).find(|digits| number(low, *digits) != number(high, *digits));
    [low, high].map(|end| number(end, more.unwrap_or(digits)))
}

/// Minutes as people say them: `45 min`, `4 h 10 min`.
#[must_use]
pub fn hours(minutes: f64) -> String {
    // Five minutes are as exact as such a forecast can be.
    let minutes = 5.0 * (minutes / 5.0).ceil();
    let (days, rest) = ((minutes / 1440.0).floor(), minutes % 1440.0);
    let (whole, left) = ((rest / 60.0).floor(), rest % 60.0);
    match (days > 0.0, whole > 0.0) {
        (true, _) => format!("{days:.0} d {whole:.0} h"),
        (_, true) if left > 0.0 => format!("{whole:.0} h {left:.0} min"),
        (_, true) => format!("{whole:.0} h"),
        _ => format!("{left:.0} min"),
    }
}

/// `1 swatch`, `2 swatches`.
#[must_use]
pub fn counted(count: usize, one: &str, many: &str) -> String {
    if count == 1 { format!("1 {one}") } else { format!("{count} {many}") }
}

/// A number as people type it, with a point or a comma; `None` for an empty field.
///
/// # Errors
/// The text, where it is not a number.
pub fn read_number(text: &str) -> Result<Option<f64>, String> {
    let trimmed = text.trim();
    if trimmed.is_empty() {
        return Ok(None);
    }
    match trimmed.replace(',', ".").replace('−', "-").parse::<f64>() {
        Ok(value) if value.is_finite() => Ok(Some(value)),
        _ => Err(trimmed.to_owned()),
    }
}

fn is_zero(text: &str) -> bool {
    text.bytes().all(|byte| matches!(byte, b'0' | b'.'))
}

/// A ratio with the smaller of the two as one part, to one decimal: `1 : 4`, `2.4 : 1`.
#[must_use]
pub fn ratio(first: f64, second: f64) -> String {
    let least = first.min(second);
    let part = |value: f64| {
        let value = value / least;
        let whole = (value - value.round()).abs() < 0.02;
        parts(if whole { value.round() } else { (10.0 * value).round() / 10.0 })
    };
    format!("{} : {}", part(first), part(second))
}

/// How ratios of colours are told; white is always told as parts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub enum Ratios {
    /// `4 : 1`.
    #[default]
    Parts,
    /// `80 : 20 %`.
    Percent,
}

impl Ratios {
    /// The ratio of two.
    #[must_use]
    pub fn of(self, first: f64, second: f64) -> String {
        match self {
            Self::Parts => ratio(first, second),
            Self::Percent => percent(&[first, second]),
        }
    }
}

/// Shares of the whole, with one decimal only where a whole number would make one of them nothing.
#[must_use]
pub fn percent(parts: &[f64]) -> String {
    let whole: f64 = parts.iter().sum();
    let share = |part: &f64| 100.0 * part / whole;
    let fine = parts.iter().any(|part| *part > 0.0 && share(part) < 1.5);
    let texts: Vec<String> =
        parts.iter().map(|part| number(share(part), usize::from(fine))).collect();
    format!("{} %", texts.join(" : "))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_are_set_to_be_compared() {
        assert_eq!(number(-7.46, 1), "−7.5");
        assert_eq!(number(-0.04, 1), "0.0");
        assert_eq!(signed_number(7.46, 1), "+7.5");
        assert_eq!(signed_number(-0.2, 0), "0");
        assert_eq!(
            [half_width(0.2, 0), half_width(1.24, 1), half_width(0.0, 0)],
            ["1", "1.2", "0"]
        );
        assert!(is_beyond(-1.6, 1.0, 0) && !is_beyond(1.4, 1.0, 0) && is_beyond(1.4, 1.0, 1));
        let cases = [(4.0, "4"), (0.25, "0.25"), (0.004, "0.004"), (0.0, "0"), (50.16, "50.2")];
        for (value, text) in cases {
            assert_eq!(parts(value), text);
        }
        assert_eq!(ends([-0.04, 0.04], 0), ["−0.04", "0.04"]);
        assert_eq!(ends([66.0, 74.2], 0), ["66", "74"]);
    }

    #[test]
    fn ratios_are_told_as_parts_or_as_percent() {
        let cases = [
            ([4.0, 1.0], "4 : 1", "80 : 20 %"),
            ([0.5, 1.2], "1 : 2.4", "29 : 71 %"),
            ([1.0, 99.0], "1 : 99", "1.0 : 99.0 %"),
        ];
        for ([a, b], parts, percent) in cases {
            assert_eq!(
                (Ratios::Parts.of(a, b), Ratios::Percent.of(a, b)),
                (parts.into(), percent.into())
            );
        }
        assert_eq!(percent(&[2.0, 2.0, 1.0]), "40 : 40 : 20 %");
    }

    #[test]
    fn times_are_said_as_people_say_them() {
        let spans = [(0.0, "0 min"), (42.1, "45 min"), (60.0, "1 h"), (246.0, "4 h 10 min")];
        for (minutes, text) in spans {
            assert_eq!(hours(minutes), text);
        }
        assert_eq!(hours(4.0 * 1440.0), "4 d 0 h");
    }
}
