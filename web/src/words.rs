//! Numbers as text: one precision for each quantity, a true minus sign, tabular.

use figures::{Figure, Outcome, WhyNot};
pub(crate) use study::numbers::{
    counted, half_width, hours, is_beyond, number, parts, signed_number,
};

/// A figure set for a table: its text, its interval smaller, and why it is missing where it is.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub(crate) struct FigureText {
    pub value: String,
    /// `± 0.4`, or empty.
    pub interval: String,
    /// Why there is no figure or no interval; empty where both stand.
    pub why: String,
    /// A word that goes with it, such as its grade.
    pub word: String,
}

/// An amount of paint in ml, never as 0.0.
pub(crate) fn small(ml: f64) -> String {
    if ml < 0.05 { "under 0.1".to_owned() } else { number(ml, 1) }
}

/// What stands before a figure that only points the way.
pub(crate) const ABOUT: &str = "≈ ";

/// What stands in place of a figure that is missing.
pub(crate) const MISSING: &str = "–";

impl FigureText {
    /// A dash, and why there is no figure.
    pub fn missing(why: WhyNot) -> Self {
        Self { value: MISSING.into(), why: why.to_string(), ..Self::default() }
    }

    /// A plain text without interval.
    pub fn plain(value: String) -> Self {
        Self { value, ..Self::default() }
    }

    /// With `digits` decimals; `signed` shows a plus as well.
    pub fn number(figure: &Figure, digits: usize, signed: bool) -> Self {
        let interval = match figure.half_width {
            Ok(half) if half > 0.0 => format!("± {}", half_width(half, digits)),
            _ => String::new(),
        };
        let why = figure.half_width.err().map_or_else(String::new, |why| why.to_string());
        let value =
            if signed { signed_number(figure.value, digits) } else { number(figure.value, digits) };
        let value = if figure.indicative { format!("{ABOUT}{value}") } else { value };
        Self { value, interval, why, word: String::new() }
    }

    /// Degrees, signed, one decimal.
    pub fn degrees(outcome: &Outcome) -> Self {
        Self::of(outcome, |figure| {
            let text = Self::number(figure, 1, true);
            Self { value: text.value + "°", ..text }
        })
    }

    /// A fraction as a loss in percent: 0.46 reads −46 %.
    pub fn loss(outcome: &Outcome) -> Self {
        Self::of(outcome, |figure| {
            let percent = Figure {
                value: -100.0 * figure.value,
                half_width: figure.half_width.map(|half| 100.0 * half),
                ..*figure
            };
            let text = Self::number(&percent, 0, true);
            Self { value: text.value + " %", ..text }
        })
    }

    /// A ΔE00 or another plain number with one decimal.
    pub fn one_decimal(outcome: &Outcome) -> Self {
        Self::of(outcome, |figure| Self::number(figure, 1, false))
    }

    fn of(outcome: &Outcome, set: impl Fn(&Figure) -> Self) -> Self {
        match outcome {
            Ok(figure) if is_reference(figure) => Self::plain("—".into()),
            Ok(figure) => set(figure),
            Err(why) => Self::missing(*why),
        }
    }
}

/// The reference against itself: 0, with nothing to be unsure of.
fn is_reference(figure: &Figure) -> bool {
    figure.half_width == Ok(0.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn figures_carry_their_interval_or_the_reason() {
        let sure = Ok(Figure { value: 0.46, half_width: Ok(0.012), indicative: false });
        assert_eq!(
            FigureText::loss(&sure),
            FigureText {
                value: "−46 %".into(), interval: "± 1".into(), ..FigureText::default()
            }
        );
        let reference = Ok(Figure { value: 0.0, half_width: Ok(0.0), indicative: false });
        assert_eq!(FigureText::degrees(&reference).value, "—");
        let missing = FigureText::degrees(&Err(WhyNot::NearNeutral));
        assert_eq!((missing.value.as_str(), missing.why.is_empty()), ("–", false));
    }
}
