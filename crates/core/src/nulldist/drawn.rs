//! Null distributions simulated on the spot.

use rayon::prelude::*;

use super::quantiles::{CriticalValues, Tail};
use crate::num::rng::NormalStream;
use crate::num::scale;

/// A null distribution drawn for one series' own length and settings, where no table covers
/// them.
///
/// # References
/// Barnard (1963), *Journal of the Royal Statistical Society B* 25, 294; Dufour (2006), *Journal
/// of Econometrics* 133, 443-477: with `m` draws the p-value `(1 + more extreme) / (m + 1)` is
/// exact whatever m is.
#[derive(Debug, Clone)]
pub struct Drawn {
    sorted: Vec<f64>,
}

/// Draws several statistics of the same simulated series; each draw has a stream of its own,
/// so that the result depends on the seed only. Draws without a finite value are left out.
pub fn draw_null(
    draws: usize,
    seed: u64,
    statistics: impl Fn(&mut NormalStream) -> Option<Vec<f64>> + Sync,
) -> Vec<Drawn> {
    let all = draws_of(draws, seed, statistics);
    let count = all.first().map_or(0, Vec::len);
    (0..count).map(|place| Drawn::new(all.iter().filter_map(|row| row.get(place).copied()))).collect()
}

/// The draws themselves, for statistics that are to be put together.
pub fn draws_of<T: Send>(
    draws: usize,
    seed: u64,
    statistics: impl Fn(&mut NormalStream) -> Option<T> + Sync,
) -> Vec<T> {
    (0..draws as u64)
        .into_par_iter()
        .filter_map(|number| statistics(&mut NormalStream::new(seed, number)))
        .collect()
}

/// A random walk from zero with independent normal steps.
pub fn random_walk(stream: &mut NormalStream, n: usize) -> Vec<f64> {
    let mut walk = stream.take(n);
    for t in 1..n {
        walk[t] += walk[t - 1];
    }
    walk
}

impl Drawn {
    /// Of values in any order; what is not finite is left out.
    pub fn new(values: impl Iterator<Item = f64>) -> Self {
        let mut sorted: Vec<f64> = values.filter(|value| value.is_finite()).collect();
        sorted.sort_unstable_by(f64::total_cmp);
        Self { sorted }
    }

    /// How many there are.
    pub fn draws(&self) -> usize {
        self.sorted.len()
    }

    /// Mean and standard deviation.
    pub fn mean_and_sd(&self) -> (f64, f64) {
        let mean = scale::mean(&self.sorted);
        let squares: f64 = self.sorted.iter().map(|value| (value - mean).powi(2)).sum();
        (mean, (squares / (self.sorted.len().max(2) - 1) as f64).sqrt())
    }

    /// `(1 + as extreme or more) / (draws + 1)`.
    pub fn p_value(&self, statistic: f64, side: Tail) -> f64 {
        let below = match side {
            Tail::Lower => self.sorted.partition_point(|value| *value <= statistic),
            Tail::Upper => self.sorted.len() - self.sorted.partition_point(|value| *value < statistic),
        };
        (1 + below) as f64 / (self.sorted.len() + 1) as f64
    }

    /// Critical values at 1, 5 and 10 %; `None` with fewer than 99 draws.
    pub fn critical_values(&self, side: Tail) -> Option<CriticalValues> {
        if self.sorted.len() < 99 {
            return None;
        }
        let at = |level: f64| {
            // A small non-negative number.
            #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
            let rank = (level * (self.sorted.len() + 1) as f64).floor().max(1.0) as usize;
            let place = match side {
                Tail::Lower => rank - 1,
                Tail::Upper => self.sorted.len() - rank,
            };
            self.sorted.get(place).copied()
        };
        Some(CriticalValues { one: at(0.01)?, five: at(0.05)?, ten: at(0.10)? })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ranks_make_the_p_value_and_the_critical_values() {
        let drawn = Drawn::new((1..=99).rev().map(f64::from));
        assert!((drawn.p_value(1.0, Tail::Lower) - 0.02).abs() < 1e-15);
        assert!((drawn.p_value(0.5, Tail::Lower) - 0.01).abs() < 1e-15);
        assert!((drawn.p_value(99.0, Tail::Upper) - 0.02).abs() < 1e-15);
        assert!((drawn.p_value(-3.0, Tail::Upper) - 1.0).abs() < 1e-15);
        let lower = drawn.critical_values(Tail::Lower).expect("enough draws");
        assert_eq!((lower.one, lower.five, lower.ten), (1.0, 5.0, 10.0));
        let upper = drawn.critical_values(Tail::Upper).expect("enough draws");
        assert_eq!((upper.one, upper.five, upper.ten), (99.0, 95.0, 90.0));
        // At a critical value the p-value is not above the level by more than one rank.
        assert!(drawn.p_value(upper.five, Tail::Upper) <= 0.06);
    }

    #[test]
    fn draws_depend_on_the_seed_alone() {
        let of = |seed| draw_null(200, seed, |stream| Some(vec![stream.draw(), stream.draw().powi(2)]));
        let (a, b) = (of(1), of(1));
        assert_eq!(a[0].sorted, b[0].sorted);
        assert_ne!(a[0].sorted, of(2)[0].sorted);
        assert_eq!(a[1].draws(), 200);
        assert!(draw_null(50, 1, |_| None).is_empty());
    }
}
