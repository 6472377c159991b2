//! Outliers against the same months, quarters or weekdays of other years.

use super::expanding::student_score;
use crate::num::scale;

/// Fewest values at a place of the season.
const MIN_SAME_SEASON: usize = 4;
/// Degrees of freedom that the spread at all places adds to that at one place.
const SHARED_DEGREES: f64 = 4.0;

/// Each value against the other years at its place of the season.
///
/// # Formula
/// With m values at a place: `(z - z̄)/(s √(1 + 1/(m-1)))`, z the value less the trend, the mean that of the other years;
/// `s² = (d₀ s₀² + (m-2) s₁²)/(d₀ + m - 2)`, where `s₁` is the standard deviation of the other years and `s₀` the usual one
/// of a place (`d₀ = 4`), since that of three values alone says little. The Student variable with `d₀ + m - 2` degrees of
/// freedom is turned into a normal score. A value beyond `limit` is left out before the rest of its place is tested, the
/// largest first, so that it does not count against its siblings. None at places with fewer than four values.
///
/// # Source
/// The weighed variance is that of Smyth, G. K. (2004), Statistical Applications in Genetics and Molecular Biology 3(1).
pub(super) fn same_season(detrended: &[f64], season: usize, limit: f64) -> Vec<Option<f64>> {
    let places: Vec<Vec<usize>> = (0..season)
        .map(|place| (place..detrended.len()).step_by(season).collect::<Vec<usize>>())
        .filter(|own| own.len() >= MIN_SAME_SEASON)
        .collect();
    let shared = shared_variance(detrended, &places);
    let mut scores = vec![None; detrended.len()];
    for own in places {
        let mut left = own;
        while left.len() >= MIN_SAME_SEASON {
            let tested: Vec<(usize, Option<f64>)> =
                left.iter().map(|t| (*t, score(detrended, &left, *t, shared))).collect();
            for (t, score) in &tested {
                scores[*t] = *score;
            }
            let size = |score: &Option<f64>| score.map_or(0.0, f64::abs);
            let largest = tested.iter().max_by(|a, b| size(&a.1).total_cmp(&size(&b.1)));
            match largest.filter(|(_, score)| size(score) > limit) {
                Some((odd, _)) => left.retain(|t| t != odd),
                None => break,
            }
        }
    }
    scores
}

/// The score of value `t` among those at its place.
fn score(detrended: &[f64], own: &[usize], t: usize, shared: f64) -> Option<f64> {
    let others: Vec<f64> = own.iter().filter(|one| **one != t).map(|one| detrended[*one]).collect();
    let (count, degrees) = (others.len() as f64, others.len() as f64 - 1.0);
    let (mean, squares) = mean_and_squares(&others);
    let variance = (SHARED_DEGREES * shared + squares) / (SHARED_DEGREES + degrees);
    let gap = detrended[t] - mean;
    // Values that agree to the last digit have no spread to measure by.
    let is_measured = variance.sqrt() > 1e-12 * gap.abs();
    is_measured
        .then(|| gap / (variance * (1.0 + 1.0 / count)).sqrt())
        .and_then(|t_value| student_score(t_value, SHARED_DEGREES + degrees))
}

/// The median over places of the variance at a place, made unbiased for normal values.
fn shared_variance(detrended: &[f64], places: &[Vec<usize>]) -> f64 {
    let variance = |own: &Vec<usize>| {
        let values: Vec<f64> = own.iter().map(|t| detrended[*t]).collect();
        let degrees = values.len() as f64 - 1.0;
        // The median of a chi-squared variable over its mean, by Wilson and Hilferty (1931).
        let median = (1.0 - 2.0 / (9.0 * degrees)).powi(3);
        mean_and_squares(&values).1 / degrees / median
    };
    let all: Vec<f64> = places.iter().map(variance).collect();
    if all.is_empty() { 0.0 } else { scale::median(&all) }
}

fn mean_and_squares(values: &[f64]) -> (f64, f64) {
    let mean = values.iter().sum::<f64>() / values.len() as f64;
    (mean, values.iter().map(|value| (value - mean).powi(2)).sum())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn scores_are_those_of_the_others_mean_and_the_weighed_spread() {
        let values = [1.0, 10.0, 2.0, 11.0, 3.0, 12.0, 9.0, 11.5, 2.5, 10.5];
        let scores = same_season(&values, 2, 9.0);
        // Against 1, 2, 3, 2.5 (mean 2.125, sum of squares 2.1875) with the median of the two variances.
        let variance = |own: &[f64]| {
            let mean = own.iter().sum::<f64>() / own.len() as f64;
            own.iter().map(|v| (v - mean).powi(2)).sum::<f64>() / (own.len() as f64 - 1.0)
        };
        let (odd, even) = (variance(&[1.0, 2.0, 3.0, 9.0, 2.5]), variance(&[10.0, 11.0, 12.0, 11.5, 10.5]));
        let shared = 0.5 * (odd + even) / (1.0_f64 - 2.0 / 36.0).powi(3);
        let weighed = (4.0 * shared + 2.1875) / 7.0;
        let expected = student_score((9.0 - 2.125) / (weighed * 1.25).sqrt(), 7.0);
        assert!((scores[6].expect("judged") - expected.expect("degrees")).abs() < 1e-9);
        assert_eq!(same_season(&values[..6], 2, 3.0), [None; 6]);
    }

    #[test]
    fn one_bad_december_among_four_is_found_and_its_siblings_are_not() {
        for draw in 0..40 {
            let mut y: Vec<f64> = NormalStream::new(71, draw)
                .take(48)
                .iter()
                .zip(0..)
                .map(|(e, t)| [3.0, -1.0, 0.0, 2.0, -4.0, 5.0, 1.0, 0.0, -2.0, 4.0, -6.0, 9.0][t % 12] + e)
                .collect();
            let bad = 11 + 12 * usize::try_from(draw % 4).expect("small");
            y[bad] -= 12.0;
            let scores = same_season(&y, 12, 3.25);
            let odd: Vec<usize> =
                (0..48).filter(|t| scores[*t].is_some_and(|one| one.abs() > 3.25)).collect();
            assert!(odd.contains(&bad) && odd.iter().all(|t| *t == bad || t % 12 != 11), "{draw}: {odd:?}");
        }
    }

    #[test]
    fn normal_values_exceed_two_no_more_often_than_a_normal_score_does() {
        let all: Vec<f64> = (0..200)
            .flat_map(|draw| same_season(&NormalStream::new(72, draw).take(60), 12, 9.0))
            .flatten()
            .collect();
        let share = all.iter().filter(|score| score.abs() > 2.0).count() as f64 / all.len() as f64;
        // Where all places have one variance, it is known better than by four degrees of freedom.
        assert!((0.012..0.0455).contains(&share), "{share}");
    }
}
