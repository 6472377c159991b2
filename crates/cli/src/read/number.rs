/// What a cell of a number column holds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Cell {
    Number(f64),
    Missing,
    Text,
}

/// Marks of a missing value, in lower case.
const MISSING: &[&str] = &["", "na", "n/a", "#n/a", "nan", "null", "none", ".", "..", "-", "?"];

/// Reads one cell.
pub fn read(text: &str) -> Cell {
    let text = text.trim();
    if MISSING.iter().any(|mark| text.eq_ignore_ascii_case(mark)) {
        return Cell::Missing;
    }
    // The parser also knows "inf" and "infinity", which are no data.
    let looks_numeric = text.bytes().any(|b| b.is_ascii_digit());
    match text.parse::<f64>() {
        Ok(value) if looks_numeric && value.is_finite() => Cell::Number(value),
        _ => Cell::Text,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_missing_marks_and_text() {
        assert_eq!(read(" 12.5 "), Cell::Number(12.5));
        assert_eq!(read("-1e3"), Cell::Number(-1000.0));
        for mark in ["", "NA", "n/a", "NaN", ".."] {
            assert_eq!(read(mark), Cell::Missing, "{mark}");
        }
        for text in ["abc", "inf", "1,5", "1e999", "12 t"] {
            assert_eq!(read(text), Cell::Text, "{text}");
        }
    }
}
