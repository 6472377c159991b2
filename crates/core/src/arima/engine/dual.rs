//! Numbers with derivatives, for the seasonal recursion.

use std::ops::{Add, Div, Mul, Sub};

/// What the seasonal recursion computes with: plain numbers, or numbers with derivatives.
pub(in crate::arima) trait Number:
    Copy + Add<Output = Self> + Sub<Output = Self> + Mul<Output = Self> + Div<Output = Self>
{
    fn constant(value: f64) -> Self;
    fn value(self) -> f64;
    /// Largest difference in value or derivative.
    fn distance(self, other: Self) -> f64;
}

impl Number for f64 {
    fn constant(value: f64) -> Self {
        value
    }

    fn value(self) -> f64 {
        self
    }

    fn distance(self, other: Self) -> f64 {
        (self - other).abs()
    }
}

/// A number and its derivatives in a few directions.
#[derive(Debug, Clone, Copy)]
pub(in crate::arima) struct Dual<const DIRECTIONS: usize> {
    pub value: f64,
    pub slope: [f64; DIRECTIONS],
}

impl<const DIRECTIONS: usize> Dual<DIRECTIONS> {
    fn joined(self, other: Self, value: f64, own: f64, theirs: f64) -> Self {
        let mut slope = [0.0; DIRECTIONS];
        for (k, entry) in slope.iter_mut().enumerate() {
            *entry = own * self.slope[k] + theirs * other.slope[k];
        }
        Self { value, slope }
    }
}

impl<const DIRECTIONS: usize> Number for Dual<DIRECTIONS> {
    fn constant(value: f64) -> Self {
        Self { value, slope: [0.0; DIRECTIONS] }
    }

    fn value(self) -> f64 {
        self.value
    }

    fn distance(self, other: Self) -> f64 {
        let slopes = self.slope.iter().zip(&other.slope).map(|(a, b)| (a - b).abs());
        slopes.fold((self.value - other.value).abs(), f64::max)
    }
}

impl<const DIRECTIONS: usize> Add for Dual<DIRECTIONS> {
    type Output = Self;
    fn add(self, other: Self) -> Self {
        self.joined(other, self.value + other.value, 1.0, 1.0)
    }
}

impl<const DIRECTIONS: usize> Sub for Dual<DIRECTIONS> {
    type Output = Self;
    fn sub(self, other: Self) -> Self {
        self.joined(other, self.value - other.value, 1.0, -1.0)
    }
}

impl<const DIRECTIONS: usize> Mul for Dual<DIRECTIONS> {
    type Output = Self;
    fn mul(self, other: Self) -> Self {
        self.joined(other, self.value * other.value, other.value, self.value)
    }
}

impl<const DIRECTIONS: usize> Div for Dual<DIRECTIONS> {
    type Output = Self;
    fn div(self, other: Self) -> Self {
        let quotient = self.value / other.value;
        self.joined(other, quotient, 1.0 / other.value, -quotient / other.value)
    }
}

/// The solution of a small system by elimination with pivots; none where it is singular.
pub(in crate::arima) fn solved<T: Number>(mut rows: Vec<Vec<T>>, mut right: Vec<T>) -> Option<Vec<T>> {
    let count = right.len();
    for pivot in 0..count {
        let best = (pivot..count)
            .max_by(|a, b| rows[*a][pivot].value().abs().total_cmp(&rows[*b][pivot].value().abs()))?;
        if rows[best][pivot].value().abs() < f64::MIN_POSITIVE {
            return None;
        }
        rows.swap(pivot, best);
        right.swap(pivot, best);
        for row in pivot + 1..count {
            let factor = rows[row][pivot] / rows[pivot][pivot];
            let (above, below) = rows.split_at_mut(row);
            for (entry, over) in below[0][pivot..].iter_mut().zip(&above[pivot][pivot..]) {
                *entry = *entry - factor * *over;
            }
            right[row] = right[row] - factor * right[pivot];
        }
    }
    for row in (0..count).rev() {
        for column in row + 1..count {
            right[row] = right[row] - rows[row][column] * right[column];
        }
        right[row] = right[row] / rows[row][row];
    }
    Some(right)
}
