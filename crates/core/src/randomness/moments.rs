//! Tests on the values themselves.

use super::{Outcome, RandomnessError, check};
use crate::corr::lagged_products;
use crate::num::{chi_squared, scale};

/// Ljung and Box: the first autocorrelations taken together.
///
/// # Formula
/// `Q = n(n+2) Σ_{k≤K} r_k²/(n-k)`, χ² with K degrees of freedom.
///
/// # Source
/// Ljung, G. M. and Box, G. E. P. (1978), Biometrika 65, 297-303.
///
/// # Errors
/// [`RandomnessError`].
pub fn portmanteau(y: &[f64], lags: usize) -> Result<Outcome, RandomnessError> {
    check(y)?;
    if lags == 0 || lags >= y.len() {
        return Err(RandomnessError::Lags { lags, observations: y.len() });
    }
    let products = lagged_products(&scale::deviations(y), lags);
    let n = y.len() as f64;
    let sum: f64 = (1..=lags).map(|lag| (products[lag] / products[0]).powi(2) / (n - lag as f64)).sum();
    let q = n * (n + 2.0) * sum;
    Ok(Outcome { statistic: q, p_value: chi_squared::survival(q, lags).unwrap_or(1.0) })
}

/// `McLeod` and Li: the portmanteau statistic of the squared deviations, which shows volatility
/// that comes in clusters.
///
/// # Source
/// `McLeod`, A. I. and Li, W. K. (1983), Journal of Time Series Analysis 4, 269-273.
///
/// # Errors
/// [`RandomnessError`]; [`InvalidSeries::Constant`](crate::num::scale::InvalidSeries::Constant) if all deviations are of one size.
pub fn mcleod_li(y: &[f64], lags: usize) -> Result<Outcome, RandomnessError> {
    check(y)?;
    let squares: Vec<f64> = scale::deviations(y).iter().map(|deviation| deviation.powi(2)).collect();
    portmanteau(&squares, lags)
}

/// Jarque and Bera: skewness and kurtosis of a normal distribution. Returns both with
/// the test.
///
/// # Formula
/// `JB = n/6 (S² + (K-3)²/4)`, χ² with two degrees of freedom for long series; below a few
/// hundred values it rejects less often than it says.
///
/// # Source
/// Jarque, C. M. and Bera, A. K. (1980), Economics Letters 6, 255-259.
///
/// # Errors
/// [`RandomnessError`].
pub fn jarque_bera(y: &[f64]) -> Result<(Outcome, f64, f64), RandomnessError> {
    check(y)?;
    let n = y.len() as f64;
    let e = scale::deviations(y);
    let moment = |power: i32| e.iter().map(|deviation| deviation.powi(power)).sum::<f64>() / n;
    let variance = moment(2);
    let (skewness, kurtosis) = (moment(3) / variance.powf(1.5), moment(4) / (variance * variance));
    let statistic = n / 6.0 * (skewness * skewness + 0.25 * (kurtosis - 3.0).powi(2));
    // The upper tail of χ² with two degrees of freedom.
    Ok((Outcome { statistic, p_value: (-0.5 * statistic).exp() }, skewness, kurtosis))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::corr::{AcfOptions, acf};
    use crate::num::rng::NormalStream;
    use crate::num::scale::InvalidSeries;

    #[test]
    fn the_portmanteau_is_that_of_the_autocorrelations() {
        let y = NormalStream::new(41, 0).take(80);
        let by_acf = acf(&y, &AcfOptions { lags: Some(7), ..AcfOptions::default() }).expect("enough").lags[6];
        let ours = portmanteau(&y, 7).expect("enough");
        assert!((ours.statistic - by_acf.q).abs() < 1e-10);
        assert_eq!(Some(ours.p_value), by_acf.p_value);
        assert!(portmanteau(&y, 80).is_err());
    }

    #[test]
    fn skewness_and_kurtosis_by_hand() {
        // Nine zeros and a ten: deviations -1 and 9, moments 9, 72, 657.
        let mut y = vec![0.0; 10];
        y[3] = 10.0;
        let (test, skewness, kurtosis) = jarque_bera(&y).expect("enough");
        assert!((skewness - 72.0 / 27.0).abs() < 1e-12 && (kurtosis - 657.0 / 81.0).abs() < 1e-12);
        let expected = 10.0 / 6.0 * ((72.0_f64 / 27.0).powi(2) + 0.25 * (657.0_f64 / 81.0 - 3.0).powi(2));
        assert!((test.statistic - expected).abs() < 1e-10);
    }

    #[test]
    fn clustered_spread_is_seen() {
        let noise = NormalStream::new(42, 0).take(300);
        let y: Vec<f64> =
            noise.iter().enumerate().map(|(t, e)| if t / 50 % 2 == 0 { *e } else { 4.0 * e }).collect();
        assert!(mcleod_li(&y, 10).is_ok_and(|test| test.p_value < 1e-6));
        assert!(mcleod_li(&noise, 10).is_ok_and(|test| test.p_value > 0.01));
        let two: Vec<f64> = (0..20).map(|t| f64::from(t % 2)).collect();
        assert_eq!(mcleod_li(&two, 3), Err(RandomnessError::InvalidSeries(InvalidSeries::Constant)));
    }
}
