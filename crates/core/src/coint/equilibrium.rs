//! How far series are from a cointegrating relation, period by period.

use crate::nulldist::SystemTerms;
use crate::num::scale::mean;

/// Equilibrium errors of a relation at every observation.
///
/// # Formula
/// `β'y_t + c` or `β'y_t + c t` with the term inside the relation, less what unrestricted terms give it: its mean, or
/// with an unrestricted trend its line by least squares. `vector` has the coefficients of the series in their order,
/// then that of the term inside, as [`super::Relations::vectors`] has them; t counts from zero. In units of the series
/// whose coefficient is one; empty where the series differ in length or the vector is too short.
///
/// # References
/// Johansen (1995), section 5.7.
pub fn equilibrium_errors(series: &[&[f64]], vector: &[f64], terms: SystemTerms) -> Vec<f64> {
    let n = series.first().map_or(0, |one| one.len());
    if vector.len() < series.len() || series.iter().any(|one| one.len() != n) {
        return Vec::new();
    }
    let inside = vector.get(series.len()).copied().unwrap_or(0.0);
    let term = |t: usize| match terms {
        SystemTerms::ConstantIn => inside,
        SystemTerms::TrendIn => inside * t as f64,
        SystemTerms::None | SystemTerms::Constant | SystemTerms::Trend => 0.0,
    };
    let sum = |t: usize| series.iter().zip(vector).map(|(one, weight)| weight * one[t]).sum::<f64>();
    let raw: Vec<f64> = (0..n).map(|t| sum(t) + term(t)).collect();
    match terms {
        SystemTerms::None | SystemTerms::ConstantIn => raw,
        SystemTerms::Constant | SystemTerms::TrendIn => around(&raw, 0.0),
        SystemTerms::Trend => around(&raw, slope(&raw)),
    }
}

/// Values less a line of that slope through their means.
fn around(values: &[f64], slope: f64) -> Vec<f64> {
    let (centre, middle) = (mean(values), 0.5 * (values.len() as f64 - 1.0));
    values.iter().enumerate().map(|(t, value)| value - centre - slope * (t as f64 - middle)).collect()
}

/// The slope by least squares, per period.
fn slope(values: &[f64]) -> f64 {
    let (centre, middle) = (mean(values), 0.5 * (values.len() as f64 - 1.0));
    let (mut along, mut square) = (0.0, 0.0);
    for (t, value) in values.iter().enumerate() {
        let time = t as f64 - middle;
        along += time * (value - centre);
        square += time * time;
    }
    if square > 0.0 { along / square } else { 0.0 }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::coint::{ResidualOptions, SystemInput, relations, residual_tests, system};
    use crate::nulldist::{Terms, random_walk};
    use crate::num::rng::NormalStream;

    /// Walk, and twice it with noise about a line.
    fn pair(intercept: f64, slope: f64) -> (Vec<f64>, Vec<f64>, Vec<f64>) {
        let x = random_walk(&mut NormalStream::new(77, 0), 400);
        let noise = NormalStream::new(77, 1).take(400);
        let line = |t: usize| intercept + slope * t as f64;
        let y = x.iter().zip(&noise).enumerate().map(|(t, (x, e))| line(t) + 2.0 * x + e).collect();
        (y, x, noise)
    }

    #[test]
    fn those_of_the_static_regression_are_its_residuals() {
        let (y, x, _) = pair(3.0, 0.05);
        let series: [&[f64]; 2] = [&y, &x];
        for (terms, of_system) in
            [(Terms::Constant, SystemTerms::Constant), (Terms::Trend, SystemTerms::Trend)]
        {
            let found = residual_tests(&series, &ResidualOptions { terms, ..ResidualOptions::default() })
                .expect("a regression");
            let own = equilibrium_errors(&series, &[1.0, -found.coefficients[0]], of_system);
            for (own, residual) in own.iter().zip(&found.residuals) {
                assert!((own - residual).abs() < 1e-9, "{own} {residual}");
            }
        }
    }

    #[test]
    fn a_system_finds_the_noise_that_a_relation_was_made_with() {
        for (terms, slope) in
            [(SystemTerms::ConstantIn, 0.0), (SystemTerms::Constant, 0.0), (SystemTerms::TrendIn, 0.1)]
        {
            let (y, x, noise) = pair(5.0, slope);
            let series: [&[f64]; 2] = [&y, &x];
            let found = system(SystemInput { series: &series, lags: 1, terms }).expect("a system");
            let vector = &relations(&found, 1).expect("a relation").vectors[0];
            let own = equilibrium_errors(&series, vector, terms);
            let centre = mean(&noise);
            let left: Vec<f64> = own.iter().zip(&noise).map(|(own, e)| own - (e - centre)).collect();
            let size = (left.iter().map(|value| value * value).sum::<f64>() / 400.0).sqrt();
            assert!(size < 0.2, "{terms:?}: {size}");
        }
    }

    #[test]
    fn series_that_do_not_match_have_none() {
        assert!(equilibrium_errors(&[&[1.0, 2.0], &[1.0]], &[1.0, 1.0], SystemTerms::None).is_empty());
        assert!(equilibrium_errors(&[&[1.0], &[1.0]], &[1.0], SystemTerms::None).is_empty());
        assert_eq!(equilibrium_errors(&[&[3.0], &[1.0]], &[1.0, -2.0], SystemTerms::None), [1.0]);
    }
}
