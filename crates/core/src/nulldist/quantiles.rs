//! A distribution by its quantiles: p-values and critical values.

use std::sync::OnceLock;

use schemars::JsonSchema;
use serde::Serialize;

use super::levels::{LEVEL_COUNT, levels};
use crate::num::normal;

/// Which tail speaks against the null.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Tail {
    /// Small values (Dickey-Fuller).
    Lower,
    /// Large values (KPSS).
    Upper,
}

/// The scale on which a statistic is interpolated against normal quantiles.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum InterpolationScale {
    /// As it is: its tails fall like the normal's.
    Plain,
    /// Its square root: a quadratic form, whose tail falls exponentially.
    SquareRoot,
}

impl InterpolationScale {
    fn of(self, value: f64) -> f64 {
        match self {
            Self::Plain => value,
            Self::SquareRoot => value.max(0.0).sqrt(),
        }
    }

    fn undo(self, stretched: f64) -> f64 {
        match self {
            Self::Plain => stretched,
            Self::SquareRoot => stretched.max(0.0).powi(2),
        }
    }
}

/// Critical values at the three customary levels.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct CriticalValues {
    /// At 1 %.
    #[serde(rename = "1%")]
    pub one: f64,
    /// At 5 %.
    #[serde(rename = "5%")]
    pub five: f64,
    /// At 10 %.
    #[serde(rename = "10%")]
    pub ten: f64,
}

/// A distribution known by its quantiles, joined by straight lines on the
/// normal scale and continued beyond the outermost by the last line's slope,
/// so that no p-value is cut off.
#[derive(Debug, Clone)]
pub struct Quantiles {
    stretched: [f64; LEVEL_COUNT],
    scores: &'static [f64; LEVEL_COUNT],
    stretch: InterpolationScale,
}

/// Normal quantiles of the levels, computed once: they cost more than all else
/// in a p-value.
fn scores() -> &'static [f64; LEVEL_COUNT] {
    static SCORES: OnceLock<[f64; LEVEL_COUNT]> = OnceLock::new();
    SCORES.get_or_init(|| levels().map(normal::quantile))
}

impl Quantiles {
    /// From the quantiles at [`levels`](super::levels()). Where fitted values of
    /// neighbouring levels cross (by simulation error), the larger holds.
    pub fn new(values: [f64; LEVEL_COUNT], stretch: InterpolationScale) -> Self {
        let mut stretched = values.map(|v| stretch.of(v));
        let mut highest = f64::NEG_INFINITY;
        for value in &mut stretched {
            highest = highest.max(*value);
            *value = highest;
        }
        Self { stretched, scores: scores(), stretch }
    }

    /// The p-value of `statistic`: the null's probability of a value at least
    /// as extreme on `side`.
    pub fn p_value(&self, statistic: f64, side: Tail) -> f64 {
        let z = self.score(self.stretch.of(statistic));
        match side {
            Tail::Lower => normal::cdf(z),
            Tail::Upper => normal::survival(z),
        }
    }

    /// The value that the null exceeds on `side` with probability `level`.
    pub fn critical_value(&self, level: f64, side: Tail) -> f64 {
        let score = match side {
            Tail::Lower => normal::quantile(level),
            Tail::Upper => -normal::quantile(level),
        };
        self.stretch.undo(line(self.scores, &self.stretched, score))
    }

    /// The quantile at the level whose normal quantile is `score`; of standard normal scores,
    /// draws from the distribution.
    pub fn at_score(&self, score: f64) -> f64 {
        self.stretch.undo(line(self.scores, &self.stretched, score))
    }

    /// Critical values at 1, 5 and 10 %.
    pub fn critical_values(&self, side: Tail) -> CriticalValues {
        CriticalValues {
            one: self.critical_value(0.01, side),
            five: self.critical_value(0.05, side),
            ten: self.critical_value(0.10, side),
        }
    }

    fn score(&self, stretched: f64) -> f64 {
        line(&self.stretched, self.scores, stretched)
    }
}

/// The broken line through the points, continued straight at both ends.
fn line(xs: &[f64; LEVEL_COUNT], ys: &[f64; LEVEL_COUNT], x: f64) -> f64 {
    let above = xs.partition_point(|known| *known < x).clamp(1, LEVEL_COUNT - 1);
    // Equal neighbours make no line: widen until there is one.
    let mut right = above;
    let mut left = above - 1;
    while xs[right] <= xs[left] && (left > 0 || right < LEVEL_COUNT - 1) {
        left = left.saturating_sub(1);
        right = (right + 1).min(LEVEL_COUNT - 1);
    }
    let run = xs[right] - xs[left];
    if run > 0.0 { ys[left] + (ys[right] - ys[left]) * (x - xs[left]) / run } else { ys[left] }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn normal_quantiles() -> Quantiles {
        Quantiles::new(levels().map(normal::quantile), InterpolationScale::Plain)
    }

    #[test]
    fn a_normal_statistic_gets_normal_p_values_even_beyond_the_table() {
        let q = normal_quantiles();
        for z in [-6.0, -3.9, -1.3, 0.0, 2.2, 5.0] {
            assert!((q.p_value(z, Tail::Lower) / normal::cdf(z) - 1.0).abs() < 1e-9);
            assert!((q.p_value(z, Tail::Upper) / normal::survival(z) - 1.0).abs() < 1e-9);
        }
    }

    #[test]
    fn critical_value_and_p_value_undo_each_other() {
        let exponential = Quantiles::new(levels().map(|p| -(1.0 - p).ln()), InterpolationScale::SquareRoot);
        for level in [0.00003, 0.004, 0.01, 0.05, 0.10, 0.7] {
            let point = exponential.critical_value(level, Tail::Upper);
            let back = exponential.p_value(point, Tail::Upper);
            assert!((back / level - 1.0).abs() < 1e-6, "{level} came back as {back}");
        }
    }

    #[test]
    fn an_exponential_tail_is_continued_within_a_tenth() {
        let exponential = Quantiles::new(levels().map(|p| -(1.0 - p).ln()), InterpolationScale::SquareRoot);
        let p = exponential.p_value(11.0, Tail::Upper);
        assert!((p / (-11.0_f64).exp() - 1.0).abs() < 0.1, "{p}");
    }

    #[test]
    fn crossing_quantiles_still_give_rising_probabilities() {
        let mut values = levels().map(normal::quantile);
        values.swap(100, 101);
        let q = Quantiles::new(values, InterpolationScale::Plain);
        let mut last = 0.0;
        for step in -400..400 {
            let p = q.p_value(f64::from(step) / 100.0, Tail::Lower);
            assert!(p >= last);
            last = p;
        }
    }
}
