use thiserror::Error;

use super::steps::Step;

/// A column and the steps applied to it, from left to right.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Expression {
    /// As typed.
    pub text: String,
    /// The column.
    pub column: String,
    /// The steps.
    pub steps: Vec<Step>,
}

/// Why a text is not an expression; `at` is the byte where it goes wrong.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum ParseError {
    /// No column name.
    #[error("a column name is missing")]
    NoColumn {
        /// Where.
        at: usize,
    },
    /// A back-quote without its partner.
    #[error("a closing back-quote is missing")]
    OpenQuote {
        /// Where it opens.
        at: usize,
    },
    /// Text between a quoted name and the chain.
    #[error("a colon is wanted after the column name")]
    NoColon {
        /// Where.
        at: usize,
    },
    /// A step that does not exist.
    #[error("{name:?} is not a step")]
    UnknownStep {
        /// Where.
        at: usize,
        /// As typed.
        name: String,
    },
}

impl ParseError {
    /// The byte where it goes wrong.
    pub fn at(&self) -> usize {
        match self {
            Self::NoColumn { at }
            | Self::OpenQuote { at }
            | Self::NoColon { at }
            | Self::UnknownStep { at, .. } => *at,
        }
    }
}

/// Reads `column`, `column:step,step` or `` `column with blanks`:step ``.
///
/// # Errors
/// [`ParseError`] with the place.
pub fn parse(text: &str) -> Result<Expression, ParseError> {
    let (column, chain_at) = read_column(text)?;
    if column.trim().is_empty() {
        return Err(ParseError::NoColumn { at: 0 });
    }
    let steps = match chain_at {
        None => Vec::new(),
        Some(at) => read_chain(&text[at..], at)?,
    };
    Ok(Expression { text: text.trim().to_owned(), column: column.trim().to_owned(), steps })
}

/// The column's name and where the chain after its colon begins.
fn read_column(text: &str) -> Result<(&str, Option<usize>), ParseError> {
    let lead = text.len() - text.trim_start().len();
    let Some(quoted) = text[lead..].strip_prefix('`') else {
        return Ok(match text.find(':') {
            Some(colon) => (&text[..colon], Some(colon + 1)),
            None => (text, None),
        });
    };
    let length = quoted.find('`').ok_or(ParseError::OpenQuote { at: lead })?;
    let after = lead + 1 + length + 1;
    let rest = &text[after..];
    let blank = rest.len() - rest.trim_start().len();
    match rest.trim_start().chars().next() {
        None => Ok((&quoted[..length], None)),
        Some(':') => Ok((&quoted[..length], Some(after + blank + 1))),
        Some(_) => Err(ParseError::NoColon { at: after + blank }),
    }
}

fn read_chain(chain: &str, start: usize) -> Result<Vec<Step>, ParseError> {
    let mut at = start;
    let mut steps = Vec::new();
    for piece in chain.split(',') {
        let name = piece.trim();
        let place = at + (piece.len() - piece.trim_start().len());
        let unknown = || ParseError::UnknownStep { at: place, name: name.to_owned() };
        steps.push(Step::read(name).ok_or_else(unknown)?);
        at += piece.len() + 1;
    }
    Ok(steps)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_column_and_its_chain() {
        let read = parse("freight:ln, d1,d12").expect("valid");
        assert_eq!(read.column, "freight");
        assert_eq!(read.steps, [Step::Ln, Step::Difference(1), Step::Difference(12)]);
        assert_eq!(parse("`tug hours`:d1").expect("valid").column, "tug hours");
        assert_eq!(parse(" waiting ").expect("valid").steps, []);
    }

    #[test]
    fn errors_point_at_their_place() {
        assert_eq!(parse("freight:ln,dd1"), Err(ParseError::UnknownStep { at: 11, name: "dd1".into() }));
        assert_eq!(parse("freight:d0").map_err(|e| e.at()), Err(8));
        assert_eq!(parse("`freight").map_err(|e| e.at()), Err(0));
        assert_eq!(parse("`a b` d1").map_err(|e| e.at()), Err(6));
        assert_eq!(parse(":ln"), Err(ParseError::NoColumn { at: 0 }));
        assert_eq!(parse("freight:").map_err(|e| e.at()), Err(8));
    }
}
