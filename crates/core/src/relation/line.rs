//! The regression line through scattered points, with the confidence band of its mean.

use crate::num::student;

/// A regression line of points (x, y).
#[derive(Debug, Clone, PartialEq)]
pub struct FittedLine {
    /// Value at x = 0.
    pub intercept: f64,
    /// Change of the mean of y per unit of x.
    pub slope: f64,
    /// Place x, lower and upper limit of the confidence interval of the mean of y there, in order of places.
    pub band: Vec<(f64, f64, f64)>,
}

/// Fits `y = a + b x` by least squares, with the confidence band of the mean at `places` evenly spaced x.
///
/// # Formula
/// `b = Σ (x - x̄)(y - ȳ) / Sxx`, `a = ȳ - b x̄`; limits `a + b x ± t s √(1/n + (x - x̄)²/Sxx)` with `s² = SSR/(n - 2)` and the
/// quantile t of Student's distribution with n - 2 degrees of freedom. The band holds for uncorrelated errors.
///
/// `None` for fewer than three points, equal x, or values too large for their squares.
pub fn fitted_line(points: &[(f64, f64)], level: f64, places: usize) -> Option<FittedLine> {
    let n = points.len() as f64;
    let t = student::quantile(0.5 * (1.0 + level), points.len().checked_sub(2)?)?;
    let mean = |of: fn(&(f64, f64)) -> f64| points.iter().map(of).sum::<f64>() / n;
    let (centre, height) = (mean(|point| point.0), mean(|point| point.1));
    let sxx: f64 = points.iter().map(|(x, _)| (x - centre).powi(2)).sum();
    let sxy: f64 = points.iter().map(|(x, y)| (x - centre) * (y - height)).sum();
    let slope = sxy / sxx;
    let residual = |(x, y): &(f64, f64)| y - height - slope * (x - centre);
    let sd = (points.iter().map(|point| residual(point).powi(2)).sum::<f64>() / (n - 2.0)).sqrt();
    if !(slope.is_finite() && sd.is_finite()) {
        return None;
    }
    let ends = (f64::INFINITY, f64::NEG_INFINITY);
    let (low, high) = points.iter().fold(ends, |(low, high), (x, _)| (low.min(*x), high.max(*x)));
    let limits = |place: usize| {
        let x = low + (high - low) * place as f64 / (places.max(2) - 1) as f64;
        let fit = height + slope * (x - centre);
        let half = t * sd * (1.0 / n + (x - centre).powi(2) / sxx).sqrt();
        (x, fit - half, fit + half)
    };
    let band = (0..places.max(2)).map(limits).collect();
    Some(FittedLine { intercept: height - slope * centre, slope, band })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn a_small_example_by_hand() {
        // x = 1, 2, 3, 4; y = 2, 1, 4, 3: Sxx = 5, Sxy = 3, SSR = 5 - 9/5 = 3.2, s² = 1.6, t(0.975, 2) = 4.302653.
        let found = fitted_line(&[(1.0, 2.0), (2.0, 1.0), (3.0, 4.0), (4.0, 3.0)], 0.95, 4).expect("a line");
        assert!((found.slope - 0.6).abs() < 1e-12 && (found.intercept - 1.0).abs() < 1e-12);
        let half = 4.302_653 * 1.6_f64.sqrt() * (0.25 + 2.25 / 5.0_f64).sqrt();
        let (x, low, high) = found.band[0];
        assert!((x - 1.0).abs() < 1e-12);
        assert!((low - (1.6 - half)).abs() < 1e-5 && (high - (1.6 + half)).abs() < 1e-5, "{low} {high}");
    }

    #[test]
    fn the_band_contains_the_true_mean_as_often_as_it_says() {
        let inside = (0..2_000).filter(|run| {
            let mut stream = NormalStream::new(31, *run);
            let points: Vec<(f64, f64)> =
                (0..20).map(|x| (f64::from(x), 1.0 + 0.5 * f64::from(x) + stream.draw())).collect();
            let (x, low, high) = fitted_line(&points, 0.95, 5).expect("a line").band[3];
            (low..high).contains(&(1.0 + 0.5 * x))
        });
        let rate = inside.count() as f64 / 2_000.0;
        // Four standard errors of a share of 0.95 of 2,000.
        assert!((rate - 0.95).abs() < 0.02, "{rate}");
    }

    #[test]
    fn points_without_a_line_have_none() {
        assert_eq!(fitted_line(&[(1.0, 2.0), (2.0, 3.0)], 0.95, 5), None);
        assert_eq!(fitted_line(&[(1.0, 2.0), (1.0, 3.0), (1.0, 4.0)], 0.95, 5), None);
        assert_eq!(fitted_line(&[(0.0, 1e200), (1.0, 0.0), (2.0, 1e200)], 0.95, 5), None);
    }
}
