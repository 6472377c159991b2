//! Cells that know why they have no value.

/// A value on its way through an expression.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Cell {
    /// Known.
    Value(f64),
    /// Not there.
    Missing,
    /// Undefined since the row named: no matter unless the sample needs it.
    Undefined(UndefinedOperation),
}

/// An operation that has no result.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct UndefinedOperation {
    /// The row of the frame where it first happened.
    pub row: usize,
    /// What happened.
    pub why: Undefined,
}

/// Why a value is undefined.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Undefined {
    /// The logarithm of a value that is not positive.
    Logarithm(f64),
    /// A root or power of a value that has none.
    Power(f64),
    /// A division by zero.
    Division,
    /// A result too large for a number.
    TooLarge,
}

impl Cell {
    /// The known value.
    pub fn value(self) -> Option<f64> {
        match self {
            Self::Value(value) => Some(value),
            _ => None,
        }
    }

    /// A finite result, or the trouble of one that is not.
    fn of(row: usize, value: f64) -> Self {
        if value.is_finite() { Self::Value(value) } else { undefined(row, Undefined::TooLarge) }
    }

    /// A function of the value; what it refuses is undefined from here on.
    pub fn map(self, row: usize, function: impl FnOnce(f64) -> Result<f64, Undefined>) -> Self {
        match self {
            Self::Value(value) => match function(value) {
                Ok(result) => Self::of(row, result),
                Err(why) => undefined(row, why),
            },
            other => other,
        }
    }

    /// A function of two values; undefined if either is, else missing if either is.
    pub fn join(
        self,
        other: Self,
        row: usize,
        function: impl FnOnce(f64, f64) -> Result<f64, Undefined>,
    ) -> Self {
        match (self, other) {
            (Self::Value(a), Self::Value(b)) => Self::Value(a).map(row, |a| function(a, b)),
            (trouble @ Self::Undefined(_), _) | (_, trouble @ Self::Undefined(_)) => trouble,
            _ => Self::Missing,
        }
    }
}

fn undefined(row: usize, why: Undefined) -> Cell {
    Cell::Undefined(UndefinedOperation { row, why })
}

/// The natural logarithm of a positive value.
pub fn logarithm(value: f64) -> Result<f64, Undefined> {
    if value > 0.0 { Ok(value.ln()) } else { Err(Undefined::Logarithm(value)) }
}

/// A quotient, unless by zero.
pub fn quotient(above: f64, below: f64) -> Result<f64, Undefined> {
    if below.abs() > 0.0 { Ok(above / below) } else { Err(Undefined::Division) }
}

/// A power, unless it has no real value.
pub fn power(base: f64, exponent: f64) -> Result<f64, Undefined> {
    let result = base.powf(exponent);
    if result.is_nan() || (result.is_infinite() && base.abs() <= 0.0) {
        Err(Undefined::Power(base))
    } else {
        Ok(result)
    }
}
