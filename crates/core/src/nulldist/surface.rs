//! Response surfaces in sample size and lags.

use super::levels::LEVEL_COUNT;
use super::quantiles::{InterpolationScale, Quantiles};

/// What makes a distribution move in steps rather than smoothly.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum DiscretenessTerm {
    /// Nothing.
    Smooth,
    /// Odd and even numbers of lags differ a little in short series.
    Parity,
    /// A bound at a quarter of n, rounded down.
    Quarter,
}

impl DiscretenessTerm {
    fn size(self, n: usize, lags: usize) -> usize {
        match self {
            Self::Smooth => 0,
            Self::Parity => lags % 2,
            Self::Quarter => n % 4,
        }
    }
}

/// A fitted response surface: for each level a polynomial in `x = 10/n`,
/// `u = lags/n` and `w`, the size of the step over n.
#[derive(Debug)]
pub struct Surface {
    /// The exponents of `x`, `u` and `w` in each term; the first is (0, 0, 0),
    /// the limit as n grows with fixed lags.
    pub powers: Vec<[i32; 3]>,
    /// One row of coefficients per level, in the order of the levels.
    pub coefficients: Vec<f64>,
    /// What `w` is.
    pub steps: DiscretenessTerm,
    /// On which scale the statistic's tails run straight against the normal's.
    pub stretch: InterpolationScale,
    /// The fewest observations simulated.
    pub fewest: usize,
    /// The largest share of lags in observations simulated.
    pub largest_share: f64,
    /// The most lags simulated, and for how many observations at most; with
    /// more observations the share of lags matters, not their number.
    pub most_lags: (usize, usize),
}

impl Surface {
    /// The distribution for `n` observations and `lags` lags.
    pub fn at(&self, n: usize, lags: usize) -> Quantiles {
        self.evaluate(&monomials(&self.powers, self.steps, n, lags))
    }

    /// The limit as the number of observations grows.
    pub fn asymptotic(&self) -> Quantiles {
        let mut terms = vec![0.0; self.powers.len()];
        if let Some(limit) = terms.first_mut() {
            *limit = 1.0;
        }
        self.evaluate(&terms)
    }

    /// Whether the simulation covered this size.
    pub fn covers(&self, n: usize, lags: usize) -> bool {
        let (most, observations) = self.most_lags;
        let share = lags as f64 / n as f64;
        let few = lags <= most || share <= most as f64 / observations as f64;
        n >= self.fewest && share <= self.largest_share && few
    }

    fn evaluate(&self, terms: &[f64]) -> Quantiles {
        let mut values = [0.0; LEVEL_COUNT];
        let rows = self.coefficients.chunks_exact(self.powers.len().max(1));
        for (value, row) in values.iter_mut().zip(rows) {
            *value = row.iter().zip(terms).map(|(c, x)| c * x).sum();
        }
        Quantiles::new(values, self.stretch)
    }
}

/// The terms of a surface at `n` observations and `lags` lags.
pub fn monomials(powers: &[[i32; 3]], steps: DiscretenessTerm, n: usize, lags: usize) -> Vec<f64> {
    let size = n as f64;
    let (x, u) = (10.0 / size, lags as f64 / size);
    let w = steps.size(n, lags) as f64 / size;
    powers.iter().map(|[i, j, k]| x.powi(*i) * u.powi(*j) * w.powi(*k)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::nulldist::{Statistic, Terms};

    #[test]
    fn what_was_not_simulated_is_not_claimed() {
        let surface = Statistic::Adf(Terms::Constant).given().surface().expect("a table");
        for (n, lags) in [(15, 0), (20, 3), (100, 30), (1_000_000, 120), (2200, 150)] {
            assert!(surface.covers(n, lags), "{n}, {lags}");
        }
        for (n, lags) in [(14, 0), (100, 45), (1000, 290), (1_000_000, 200_000)] {
            assert!(!surface.covers(n, lags), "{n}, {lags}");
        }
    }

    #[test]
    fn a_surface_is_the_polynomial_its_powers_say() {
        let terms = monomials(&[[0, 0, 0], [1, 0, 0], [1, 2, 0], [0, 0, 1]], DiscretenessTerm::Parity, 50, 5);
        for (ours, by_hand) in terms.iter().zip([1.0, 0.2, 0.2 * 0.01, 1.0 / 50.0]) {
            assert!((ours - by_hand).abs() < 1e-15);
        }
    }
}
