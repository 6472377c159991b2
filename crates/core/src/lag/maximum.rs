//! The largest lag orders that are tried.

/// Residual degrees of freedom that the longest default regression must keep.
const DEGREES_KEPT: usize = 10;
/// Constant, trend and lagged level: the most that is included with the lags.
const OTHER_COEFFICIENTS: usize = 3;

/// The default largest number of lagged differences for a unit-root
/// regression on `n` observations.
///
/// # Formula
/// `floor(12 (n/100)^{1/4})`, capped so that the regression with constant and
/// trend keeps at least 10 residual degrees of freedom. The cap is the same
/// for all deterministic terms, so that they search the same lags.
///
/// # References
/// Schwert, G. W. (1989), *Journal of Business & Economic Statistics* 7, 147-159.
pub fn default_max_lags(n: usize) -> usize {
    let rule = (12.0 * (n as f64 / 100.0).powf(0.25)).floor();
    // A non-negative whole number far below 2^52.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let rule = rule as usize;
    rule.min(with_degrees_kept(n, DEGREES_KEPT))
}

/// The largest number of lagged differences that still leaves five residual
/// degrees of freedom with a constant and a trend.
pub fn largest_max_lags(n: usize) -> usize {
    with_degrees_kept(n, 5)
}

/// `n - 1 - p` rows and `p + 3` coefficients leave `n - 4 - 2p` degrees.
fn with_degrees_kept(n: usize, degrees: usize) -> usize {
    n.saturating_sub(1 + OTHER_COEFFICIENTS + degrees) / 2
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_rule_and_its_cap_by_hand() {
        assert_eq!(default_max_lags(100), 12);
        assert_eq!(default_max_lags(288), 15);
        assert_eq!(default_max_lags(1_000_000), 120);
        // n = 20: 20 - 1 - 3 rows leave 16 - 6 = 10 degrees of freedom.
        assert_eq!(default_max_lags(20), 3);
        assert_eq!(default_max_lags(14), 0);
        assert_eq!(default_max_lags(0), 0);
    }

    #[test]
    fn the_longest_regression_keeps_its_degrees_of_freedom() {
        for n in 14..500 {
            let p = default_max_lags(n);
            assert!(n - 1 - p >= p + 3 + 10, "n = {n}, p = {p}");
        }
    }
}
