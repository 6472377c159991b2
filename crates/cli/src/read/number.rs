//! Cells of numbers, with decimal points or commas and marks between thousands.

use serde::{Deserialize, Serialize};

/// What a cell of a number column holds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum CellValue {
    Number(f64),
    Missing,
    Text,
}

/// The mark before the decimals.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Decimal {
    Point,
    Comma,
}

/// How cells are written.
#[derive(Debug, Clone)]
pub struct Style {
    pub decimal: Decimal,
    /// Marks of a missing value in addition to the usual ones, in lower case.
    pub missing: Vec<String>,
}

/// The usual marks of a missing value, in lower case.
const MISSING: &[&str] = &["", "na", "n/a", "#n/a", "nan", "null", "none", ".", "..", "-", "?"];

/// Marks that separate thousands in any style.
const SPACES: &[char] = &[' ', '\u{a0}', '\u{202f}', '\u{2009}', '\'', '’'];

/// Reads one cell.
pub fn read(text: &str, style: &Style) -> CellValue {
    let text = text.trim();
    // Most cells of most files are plain numbers.
    let is_plain = |b: u8| b.is_ascii_digit() || matches!(b, b'.' | b'-' | b'+' | b'e' | b'E');
    let plain = style.decimal == Decimal::Point
        && text.as_bytes().last().is_some_and(u8::is_ascii_digit)
        && text.bytes().all(is_plain);
    if plain
        && style.missing.is_empty()
        && let Ok(value) = text.parse()
        && f64::is_finite(value)
        && !vanishes(value, text)
    {
        return CellValue::Number(value);
    }
    let is_mark = |mark: &str| text.eq_ignore_ascii_case(mark);
    if MISSING.iter().any(|mark| is_mark(mark)) || style.missing.iter().any(|mark| is_mark(mark)) {
        return CellValue::Missing;
    }
    let bare = |text: &str| -> Option<f64> {
        let value = match style.decimal {
            Decimal::Point if text.bytes().all(is_plain) => text.parse().ok(),
            _ => regular(text, style.decimal).and_then(|regular| regular.parse().ok()),
        };
        value.filter(|value: &f64| value.is_finite() && !vanishes(*value, text))
    };
    let marked = || {
        let (inside, marks) = without_marks(text);
        let is_marked = marks != Marks::default();
        // A sign inside brackets is no number.
        let signed = marks.brackets && inside.starts_with(['-', '+', '−']);
        let value = bare(inside).filter(|_| is_marked && !signed)?;
        Some(if marks.brackets { -value } else { value })
    };
    bare(text).or_else(marked).map_or(CellValue::Text, CellValue::Number)
}

/// Whether a number that is not zero is too small to be told from it.
fn vanishes(value: f64, text: &str) -> bool {
    let digits = |text: &str| {
        text.split(['e', 'E']).next().is_some_and(|own| own.contains(|c: char| matches!(c, '1'..='9')))
    };
    value.abs() < f64::MIN_POSITIVE && digits(text)
}

/// What stands around the digits of a cell.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Marks {
    /// `3.8%`, which is 3.8.
    pub percent: bool,
    /// `$3.8` or `3.8 €`.
    pub currency: bool,
    /// `(3.8)`, which is −3.8.
    pub brackets: bool,
}

/// Signs of currencies.
const CURRENCIES: &[char] = &['$', '€', '£', '¥'];

/// A cell without its marks, and these.
pub fn without_marks(text: &str) -> (&str, Marks) {
    let mut marks = Marks::default();
    let mut rest = text.trim();
    if let Some(inside) = rest.strip_prefix('(').and_then(|own| own.strip_suffix(')')) {
        (rest, marks.brackets) = (inside.trim(), true);
    }
    if let Some(before) = rest.strip_suffix('%') {
        (rest, marks.percent) = (before.trim_end(), true);
    }
    let unpriced = rest.strip_prefix(CURRENCIES).or_else(|| rest.strip_suffix(CURRENCIES));
    if let Some(number) = unpriced {
        (rest, marks.currency) = (number.trim(), true);
    }
    (rest, marks)
}

/// The cell with a decimal point and without marks between thousands; `None` if
/// the marks are wrongly.
fn regular(text: &str, decimal: Decimal) -> Option<String> {
    let (point, comma) = match decimal {
        Decimal::Point => ('.', ','),
        Decimal::Comma => (',', '.'),
    };
    let text = text.replace('−', "-");
    let (sign, digits) = match text.strip_prefix(['-', '+']) {
        Some(rest) => (&text[..1], rest),
        None => ("", text.as_str()),
    };
    let (mantissa, exponent) = match digits.find(['e', 'E']) {
        Some(at) => digits.split_at(at),
        None => (digits, ""),
    };
    let (whole, decimals) = match mantissa.split_once(point) {
        Some((whole, decimals)) => (whole, Some(decimals)),
        None => (mantissa, None),
    };
    let whole = without_groups(whole, comma)?;
    let all_digits = |part: &str| part.bytes().all(|b| b.is_ascii_digit());
    if !all_digits(decimals.unwrap_or("")) || (whole.is_empty() && decimals.is_none_or(str::is_empty)) {
        return None;
    }
    Some(format!("{sign}{whole}.{}{exponent}", decimals.unwrap_or("0")))
}

/// A number with a decimal comma, rewritten with a point; other text as it is.
pub fn with_point(text: &str) -> String {
    let number = regular(text, Decimal::Comma).filter(|regular| regular.parse::<f64>().is_ok());
    number.unwrap_or_else(|| text.to_owned())
}

/// The digits of a whole number whose thousands may be set apart: groups of
/// three after a first of one to three.
fn without_groups(whole: &str, comma: char) -> Option<String> {
    let separator = whole.chars().find(|c| !c.is_ascii_digit());
    let Some(separator) = separator else {
        return Some(whole.to_owned());
    };
    if separator != comma && !SPACES.contains(&separator) {
        return None;
    }
    let groups: Vec<&str> = whole.split(separator).collect();
    let (first, others) = groups.split_first()?;
    let digits = |group: &str| group.bytes().all(|b| b.is_ascii_digit());
    let well_formed = (1..=3).contains(&first.len()) && others.iter().all(|group| group.len() == 3);
    (well_formed && groups.iter().all(|group| digits(group))).then(|| groups.concat())
}

/// What a cell says about the decimal mark.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Evidence {
    Nothing,
    /// Only with a decimal point.
    Point,
    /// Only with a decimal comma.
    Comma,
    /// `1,234`: a thousand with a point elsewhere, or one and a bit.
    Either,
}

/// Which decimal mark a cell speaks for.
pub fn evidence(text: &str) -> Evidence {
    let (text, _) = without_marks(text);
    if !text.contains([',', '.']) {
        return Evidence::Nothing;
    }
    let reads = |decimal| regular(text, decimal).is_some_and(|regular| regular.parse::<f64>().is_ok());
    match (reads(Decimal::Point), reads(Decimal::Comma)) {
        (true, false) => Evidence::Point,
        (false, true) => Evidence::Comma,
        (true, true) if text.contains(',') => Evidence::Either,
        // `1.234` is a number with three decimals far more often than a thousand.
        _ => Evidence::Nothing,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn with(decimal: Decimal, text: &str) -> CellValue {
        read(text, &Style { decimal, missing: vec!["k.a.".to_owned()] })
    }

    #[test]
    fn numbers_missing_marks_and_text() {
        let point = |text| with(Decimal::Point, text);
        assert_eq!(point(" 12.5 "), CellValue::Number(12.5));
        assert_eq!(
            (point("-1e3"), point("+2."), point(".5")),
            (CellValue::Number(-1000.0), CellValue::Number(2.0), CellValue::Number(0.5))
        );
        for mark in ["", "NA", "n/a", "NaN", "..", "K.A."] {
            assert_eq!(point(mark), CellValue::Missing, "{mark}");
        }
        assert_eq!((point("0e-400"), point("-0.000")), (CellValue::Number(0.0), CellValue::Number(-0.0)));
        for text in [
            "abc", "inf", "1,5", "1e999", "1e-400", "-3e-310", "12 t", "1,23,456", "1.2.3", "--1", "1-2",
            "e5", "1 23",
        ] {
            assert_eq!(point(text), CellValue::Text, "{text}");
        }
    }

    #[test]
    fn marks_around_a_number_are_read_and_what_is_no_number_stays_text() {
        let point = |text| with(Decimal::Point, text);
        for (text, value) in [
            ("3.8%", 3.8),
            ("3.8 %", 3.8),
            ("-0.5%", -0.5),
            ("$1,234.5", 1234.5),
            ("12 €", 12.0),
            ("£-3", -3.0),
            ("(1.5)", -1.5),
            ("($1,200)", -1200.0),
            ("(2.5%)", -2.5),
        ] {
            assert_eq!(point(text), CellValue::Number(value), "{text}");
        }
        assert_eq!(with(Decimal::Comma, "1 234,5"), CellValue::Number(1234.5));
        assert_eq!(with(Decimal::Comma, "3,8%"), CellValue::Number(3.8));
        for text in ["%", "()", "(-1)", "$", "3%%", "$$3", "(a)", "((1))", "3 % p.a."] {
            assert_eq!(point(text), CellValue::Text, "{text}");
        }
        assert_eq!((evidence("3,8%"), evidence("(1.5)")), (Evidence::Comma, Evidence::Point));
    }

    #[test]
    fn thousands_may_be_separated() {
        for text in ["1,234,567.5", "1 234 567.5", "1\u{a0}234\u{202f}567.5", "1'234'567.5"] {
            let expected =
                if text.contains('\u{202f}') { CellValue::Text } else { CellValue::Number(1_234_567.5) };
            assert_eq!(with(Decimal::Point, text), expected, "{text}");
        }
        assert_eq!(with(Decimal::Comma, "1.234.567,5"), CellValue::Number(1_234_567.5));
        assert_eq!(with(Decimal::Comma, "−12,25"), CellValue::Number(-12.25));
        assert_eq!(with(Decimal::Comma, "12.5"), CellValue::Text);
        assert_eq!(with(Decimal::Comma, "12345,5"), CellValue::Number(12345.5));
    }

    #[test]
    fn cells_speak_for_their_decimal_mark() {
        for (text, expected) in [
            ("1,5", Evidence::Comma),
            ("1.234,5", Evidence::Comma),
            ("1.5", Evidence::Point),
            ("1,234.5", Evidence::Point),
            ("1,234", Evidence::Either),
            ("1.234", Evidence::Nothing),
            ("1234", Evidence::Nothing),
            ("a, b", Evidence::Nothing),
        ] {
            assert_eq!(evidence(text), expected, "{text}");
        }
    }
}
