//! Rolling moments of a series.

/// Mean and standard deviation (divisor w - 1) of the w values about each place; `None` nearer
/// to an end than half of w, or where w is below two.
///
/// # Numerics
/// Running sums of the deviations from the overall mean: linear in the values whatever w is.
pub fn rolling(y: &[f64], window: usize) -> Vec<Option<(f64, f64)>> {
    let n = y.len();
    let centre = crate::num::scale::mean(y);
    let mut sums = vec![(0.0, 0.0); n + 1];
    for (t, value) in y.iter().enumerate() {
        let e = value - centre;
        sums[t + 1] = (sums[t].0 + e, sums[t].1 + e * e);
    }
    let count = window as f64;
    let at = |t: usize| {
        let from = t.checked_sub(window / 2)?;
        let to = from + window;
        if window < 2 || to > n {
            return None;
        }
        let (sum, squares) = (sums[to].0 - sums[from].0, sums[to].1 - sums[from].1);
        let mean = sum / count;
        Some((centre + mean, ((squares - count * mean * mean).max(0.0) / (count - 1.0)).sqrt()))
    };
    (0..n).map(at).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn each_is_the_mean_and_spread_of_its_window() {
        let y: Vec<f64> = NormalStream::new(17, 0).take(40).iter().map(|z| 1e4 + z).collect();
        for window in [2, 5, 12] {
            for (t, found) in rolling(&y, window).into_iter().enumerate() {
                let inside = t >= window / 2 && t + window - window / 2 <= 40;
                assert_eq!(found.is_some(), inside, "{t} {window}");
                let Some((mean, sd)) = found else { continue };
                let own = &y[t - window / 2..t - window / 2 + window];
                let expected = own.iter().sum::<f64>() / window as f64;
                let squares: f64 = own.iter().map(|v| (v - expected).powi(2)).sum();
                assert!((mean - expected).abs() < 1e-9);
                assert!((sd - (squares / (window as f64 - 1.0)).sqrt()).abs() < 1e-6);
            }
        }
        assert!(rolling(&y, 1).iter().all(Option::is_none));
    }
}
