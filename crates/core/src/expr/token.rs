//! The words and marks of an expression.

use super::error::ParseError;

/// A word of an expression.
#[derive(Debug, Clone, PartialEq)]
pub enum Word {
    /// A number, not negative.
    Number(f64),
    /// A name as it is.
    Name(String),
    /// A name in back-quotes, in which two stand for one.
    Quoted(String),
    /// One of `+ - * / ^ ( ) [ ] : , =`.
    Mark(char),
}

/// A word and the bytes it takes.
#[derive(Debug, Clone, PartialEq)]
pub struct Token {
    /// Its first byte.
    pub at: usize,
    /// The byte after it.
    pub end: usize,
    /// The word.
    pub word: Word,
}

const MARKS: &str = "+-*/^()[]:,=";

/// Cuts a text into words.
pub fn tokens(text: &str) -> Result<Vec<Token>, ParseError> {
    let mut found = Vec::new();
    let mut at = 0;
    while let Some(first) = text[at..].chars().next() {
        if first.is_whitespace() {
            at += first.len_utf8();
            continue;
        }
        let (word, length) = word(&text[at..], first, at)?;
        found.push(Token { at, end: at + length, word });
        at += length;
    }
    Ok(found)
}

/// The word at the beginning of `rest`, and its length.
fn word(rest: &str, first: char, at: usize) -> Result<(Word, usize), ParseError> {
    if MARKS.contains(first) {
        return Ok((Word::Mark(first), 1));
    }
    if first == '`' {
        let end = closing_quote(rest).ok_or(ParseError::OpenQuote { at })?;
        return Ok((Word::Quoted(rest[1..end].replace("``", "`")), end + 1));
    }
    if first.is_ascii_digit() || first == '.' {
        let length = number_length(rest);
        let number = rest[..length].parse().ok().filter(|v: &f64| v.is_finite());
        return Ok((Word::Number(number.ok_or(ParseError::NoNumber { at })?), length));
    }
    if first.is_alphabetic() || first == '_' {
        let length = rest.find(|c: char| !(c.is_alphanumeric() || c == '_')).unwrap_or(rest.len());
        return Ok((Word::Name(rest[..length].to_owned()), length));
    }
    Err(ParseError::Unexpected { at, what: first.to_string() })
}

/// Where a name in back-quotes ends; two of them stand for one of the name.
fn closing_quote(rest: &str) -> Option<usize> {
    let mut from = 1;
    loop {
        let end = from + rest.get(from..)?.find('`')?;
        if !rest[end + 1..].starts_with('`') {
            return Some(end);
        }
        from = end + 2;
    }
}

/// Digits, a point, digits, and an exponent if one is there.
fn number_length(rest: &str) -> usize {
    let digits = |from: usize| from + rest[from..].bytes().take_while(u8::is_ascii_digit).count();
    let mut end = digits(0);
    if rest[end..].starts_with('.') {
        end = digits(end + 1);
    }
    if rest[end..].starts_with(['e', 'E']) {
        let sign = usize::from(rest[end + 1..].starts_with(['+', '-']));
        let exponent = digits(end + 1 + sign);
        if exponent > end + 1 + sign {
            end = exponent;
        }
    }
    end
}
