//! Why a text is no expression.

use thiserror::Error;

/// Why a text is not an expression; `at` is the byte where it goes wrong.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum ParseError {
    /// Nothing, or nothing more, where a column, a number or a bracket should be.
    #[error("a column or a number is missing")]
    NothingThere {
        /// Where.
        at: usize,
    },
    /// Something that is not allowed there.
    #[error("{what:?} is not possible here")]
    Unexpected {
        /// Where.
        at: usize,
        /// What is there.
        what: String,
    },
    /// A back-quote without its partner.
    #[error("a closing back-quote is missing")]
    OpenQuote {
        /// Where it opens.
        at: usize,
    },
    /// A bracket without its partner.
    #[error("a closing bracket is missing")]
    OpenBracket {
        /// Where it opens.
        at: usize,
    },
    /// Digits that make no number.
    #[error("this is not a number")]
    NoNumber {
        /// Where.
        at: usize,
    },
    /// Square brackets that hold something else than `t-1`, `t-2`, ….
    #[error("a lag is written [t-1]")]
    NoLag {
        /// Where the bracket opens.
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
    /// A step that exists, with a value it cannot take, or without the one it needs.
    #[error("{name:?} is written {form}")]
    StepValue {
        /// Where.
        at: usize,
        /// As typed.
        name: String,
        /// How it is written.
        form: &'static str,
    },
    /// More words than an expression can have.
    #[error("the expression is too long")]
    TooLong {
        /// Where it becomes so.
        at: usize,
    },
    /// Brackets within brackets beyond any sense.
    #[error("there are too many brackets within brackets")]
    TooDeep {
        /// Where.
        at: usize,
    },
}

impl ParseError {
    /// The byte where it goes wrong.
    pub fn at(&self) -> usize {
        match self {
            Self::NothingThere { at }
            | Self::Unexpected { at, .. }
            | Self::OpenQuote { at }
            | Self::OpenBracket { at }
            | Self::NoNumber { at }
            | Self::NoLag { at }
            | Self::UnknownStep { at, .. }
            | Self::StepValue { at, .. }
            | Self::TooLong { at }
            | Self::TooDeep { at } => *at,
        }
    }
}
