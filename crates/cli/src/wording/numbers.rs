//! Numbers and probabilities as they are shown.

use std::fmt;

/// The smallest level of the simulated distributions, and the smallest p-value that is shown.
const OUTERMOST_LEVEL: f64 = 0.0001;

/// A number that is one: neither infinite nor undefined.
#[derive(Clone, Copy, PartialEq)]
pub struct Finite(f64);

impl fmt::Debug for Finite {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

impl Finite {
    /// The number, if it is one.
    pub fn of(value: impl Into<Option<f64>>) -> Option<Self> {
        value.into().filter(|value| value.is_finite()).map(Self)
    }

    /// The number.
    pub fn get(self) -> f64 {
        self.0
    }
}

/// What stands for a number that is none.
const NONE: &str = "·";

/// A number with a given number of decimals and a true minus; never a negative zero.
/// What is too large for its digits, or would be zero for being small, is written with a power of ten.
pub fn number(value: f64, decimals: usize) -> String {
    if !value.is_finite() {
        return NONE.to_owned();
    }
    let size = value.abs();
    let is_lost =
        decimals >= SCALED && size < 0.5 * 0.1_f64.powi(i32::try_from(decimals).unwrap_or(i32::MAX));
    if size >= LARGEST || (is_lost && size > 0.0 && !ROUNDING.contains(&size)) {
        return scientific(value, 2);
    }
    let plain = format!("{value:.decimals$}");
    let zero = plain.bytes().all(|b| matches!(b, b'0' | b'.' | b'-'));
    match plain.strip_prefix('-') {
        Some(digits) if zero => digits.to_owned(),
        Some(digits) => format!("−{digits}"),
        None => plain,
    }
}

/// From this number of decimals on they follow the scale of the data.
const SCALED: usize = 4;
/// Whole digits beyond this size are those of the machine.
const LARGEST: f64 = 1e15;
/// What arithmetic on numbers near one leaves of a zero.
const ROUNDING: std::ops::Range<f64> = 1e-25..1e-12;

/// `3.70e−7`.
fn scientific(value: f64, decimals: usize) -> String {
    format!("{value:.decimals$e}").replace('-', "−")
}

/// The fewest digits that read back as the same number; where it is a number of few digits but for the noise that
/// arithmetic leaves from the sixteenth digit on, without the noise.
pub fn exact(value: f64) -> String {
    if !value.is_finite() {
        return NONE.to_owned();
    }
    let full = value.to_string();
    let mantissa = format!("{value:.14e}");
    let digits = mantissa.split('e').next().unwrap_or_default().trim_end_matches('0');
    let few = digits.bytes().filter(u8::is_ascii_digit).count() <= FEW_DIGITS;
    let plain = mantissa.parse::<f64>().ok().filter(|_| few);
    plain.map_or(full, |plain| plain.to_string())
}

/// A number of up to this number of digits was typed rather than computed.
const FEW_DIGITS: usize = 12;

/// A p-value to four decimals; below 0.0001 only the bound.
pub fn p_value(p: f64) -> String {
    if !p.is_finite() {
        return NONE.to_owned();
    }
    if p < OUTERMOST_LEVEL { format!("<{OUTERMOST_LEVEL}") } else { format!("{p:.4}") }
}

/// `p = 0.0300`, or `p < 0.0001`.
pub fn p_equals(p: f64) -> String {
    let text = p_value(p);
    match text.strip_prefix('<') {
        Some(bound) => format!("p < {bound}"),
        None => format!("p = {text}"),
    }
}

/// A posterior probability in whole per cent.
pub fn probability(probability: f64) -> String {
    match 100.0 * probability {
        p if p > 99.5 => "above\u{a0}99\u{a0}%".to_owned(),
        p => format!("{p:.0}\u{a0}%"),
    }
}

/// A share as a percentage without needless zeros.
pub fn percent(share: f64) -> String {
    let rounded = (share * 1e6).round() / 1e4;
    rounded.to_string()
}

/// A number with about four significant digits.
pub fn short(value: f64) -> String {
    if !value.is_finite() {
        return NONE.to_owned();
    }
    let size = value.abs();
    if size >= 1e9 || (size > 0.0 && size < 1e-5) {
        return scientific(value, 3);
    }
    let decimals = match size {
        _ if size >= 1000.0 => 0,
        _ if size >= 100.0 => 1,
        _ if size >= 10.0 => 2,
        _ if size >= 0.1 => 3,
        _ if size >= 0.01 || size == 0.0 => 5,
        // Three significant digits at least.
        _ if size >= 0.001 => 6,
        _ if size >= 0.0001 => 7,
        _ => 8,
    };
    // Nothing is added to a number but to a negative zero.
    let text = format!("{:.decimals$}", value + 0.0);
    text.replace('-', "−")
}

/// Decimals that show differences within a spread.
pub fn decimals(spread: f64) -> usize {
    match spread {
        _ if spread >= 100.0 => 1,
        _ if spread >= 1.0 => 2,
        _ if spread >= 0.01 => 4,
        _ => 6,
    }
}

/// A p-value from a simulated distribution: below the outermost simulated
/// level it is known to be small, not how small.
pub fn simulated_p(p: Option<f64>) -> String {
    match p {
        None => "no p-value".to_owned(),
        Some(p) => p_equals(p),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_numbers_are_written_as_numbers() {
        for value in [f64::NAN, f64::INFINITY, f64::NEG_INFINITY] {
            assert_eq!(Finite::of(value), None);
            let texts = [number(value, 2), short(value), exact(value), p_value(value), p_equals(value)];
            assert_eq!(texts, ["·", "·", "·", "·", "p = ·"]);
        }
        assert_eq!(Finite::of(Some(2.5)).map(Finite::get), Some(2.5));
        assert_eq!((short(-0.0), number(-0.0, 5)), ("0.00000".to_owned(), "0.00000".to_owned()));
    }

    #[test]
    fn digits_follow_the_size() {
        for (value, decimals, text) in [
            (0.0, 6, "0.000000"),
            (-0.000_000_1, 2, "0.00"),
            (3.7e-7, 6, "3.70e−7"),
            (-3.7e-150, 4, "−3.70e−150"),
            (1e-17, 4, "0.0000"),
            (0.000_06, 4, "0.0001"),
            (123_456.789, 1, "123456.8"),
            (-1.506e149, 2, "−1.51e149"),
        ] {
            assert_eq!(number(value, decimals), text);
        }
        assert_eq!(
            [3.698_82e-7, -2.5e12, 0.0, 5.0].map(short),
            ["3.699e−7", "−2.500e12", "0.00000", "5.000"]
        );
    }

    #[test]
    fn a_p_value_is_never_equal_to_a_bound() {
        assert_eq!(p_equals(0.01234), "p = 0.0123");
        assert_eq!(p_equals(3e-9), "p < 0.0001");
        assert_eq!(p_equals(0.0001), "p = 0.0001");
    }

    #[test]
    fn a_simulated_p_value_claims_no_more_than_was_simulated() {
        assert_eq!(simulated_p(Some(3e-9)), "p < 0.0001");
        assert_eq!(simulated_p(Some(0.01234)), "p = 0.0123");
        assert_eq!(simulated_p(None), "no p-value");
    }
}
