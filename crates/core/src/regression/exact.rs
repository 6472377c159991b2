//! Sums of products with twice the digits, by error-free transformations.
//!
//! # References
//! Dekker (1971), *Numerische Mathematik* 18, 224-242; Ogita, Rump and Oishi (2005), *SIAM
//! Journal on Scientific Computing* 26, 1955-1988.

/// `2^27 + 1`: splits a double into two halves.
const SPLITTER: f64 = 134_217_729.0;

/// A running sum and what rounding has taken from it.
#[derive(Debug, Clone, Copy, Default)]
pub struct ExactSum {
    high: f64,
    low: f64,
}

impl ExactSum {
    /// Adds a value.
    pub fn add(&mut self, value: f64) {
        let sum = self.high + value;
        let part = sum - self.high;
        self.low += (self.high - (sum - part)) + (value - part);
        self.high = sum;
    }

    /// Adds a product, without the rounding of its multiplication.
    pub fn add_product(&mut self, a: f64, b: f64) {
        let product = a * b;
        let ((a1, a2), (b1, b2)) = (halves(a), halves(b));
        self.low += a2 * b2 - (((product - a1 * b1) - a2 * b1) - a1 * b2);
        self.add(product);
    }

    /// The sum, rounded once.
    pub fn value(self) -> f64 {
        self.high + self.low
    }
}

fn halves(x: f64) -> (f64, f64) {
    let scaled = SPLITTER * x;
    let high = scaled - (scaled - x);
    (high, x - high)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_cancels_in_plain_sums_is_kept() {
        let mut sum = ExactSum::default();
        for value in [1e16, 1.0, -1e16] {
            sum.add(value);
        }
        assert_eq!(sum.value().to_bits(), 1.0_f64.to_bits());
        // (1 + u)² - (1 + 2u) = u², far below one rounding of the product.
        let u = 2.0_f64.powi(-30);
        let mut product = ExactSum::default();
        product.add_product(1.0 + u, 1.0 + u);
        product.add(-(1.0 + 2.0 * u));
        assert_eq!(product.value().to_bits(), (u * u).to_bits());
    }
}
