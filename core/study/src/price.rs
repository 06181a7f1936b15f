//! What a tube cost, as it was typed.

/// A price: an amount, and a currency as it was typed. Currencies are never converted.
///
/// ```
/// # use study::Price;
/// let price = Price::typed("9,80 EUR").expect("a price");
/// assert_eq!((price.amount, price.currency.as_str()), (9.8, "EUR"));
/// assert_eq!(Price::typed("€ 1 249.50").map(|it| it.amount), Some(1249.5));
/// assert_eq!(Price::typed("a gift"), None);
/// ```
#[derive(Debug, Clone, PartialEq)]
pub struct Price {
    /// Above 0.
    pub amount: f64,
    /// What stands beside the number; may be empty.
    pub currency: String,
}

impl Price {
    /// The one number in a text, with a point or a comma before at most two decimals; `None` where there is none, or
    /// more than one.
    #[must_use]
    pub fn typed(text: &str) -> Option<Self> {
        let is_number = |letter: char| letter.is_ascii_digit() || ".,".contains(letter);
        let (first, last) = (text.find(is_number)?, text.rfind(is_number)?);
        let number = &text[first..=last];
        let currency = format!("{} {}", text[..first].trim(), text[last + 1..].trim());
        let digits: String = number.chars().filter(|it| !it.is_whitespace()).collect();
        let (whole, decimals) = match digits.rfind(['.', ',']) {
            // 1,250 is one thousand two hundred and fifty.
            Some(at) if digits.len() - at - 1 != 3 => (&digits[..at], &digits[at + 1..]),
            _ => (digits.as_str(), ""),
        };
        let whole: String = whole.chars().filter(|it| !".,".contains(*it)).collect();
        let amount: f64 = format!("{whole}.{decimals}").parse().ok()?;
        let is_price = amount.is_finite() && amount > 0.0;
        is_price.then(|| Self { amount, currency: currency.trim().to_owned() })
    }
}
