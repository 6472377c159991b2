use schemars::JsonSchema;
use serde::Serialize;
use thiserror::Error;

use super::partial::partial_autocorrelations;
use crate::num::scale::{self, Unusable};
use crate::num::sum::dot;
use crate::num::{chi_squared, normal};

/// The fewest observations whose autocorrelations are worth showing.
const FEWEST: usize = 8;

/// What the autocorrelation function is told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct AcfOptions {
    /// Largest lag; default: [`default_lags`].
    pub lags: Option<usize>,
    /// Seasonal period, 1 for none; 0 counts as 1.
    pub season: usize,
}

/// Why there are no autocorrelations.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum AcfError {
    /// Too few observations.
    #[error("{observations} observations are too few: at least {needed} are needed")]
    TooShort {
        /// Observations given.
        observations: usize,
        /// Observations needed.
        needed: usize,
    },
    /// As many lags as observations, or none.
    #[error("{lags} lags for {observations} observations")]
    Lags {
        /// Lags asked for.
        lags: usize,
        /// Observations given.
        observations: usize,
    },
    /// All values are alike.
    #[error("the series is constant")]
    Constant,
    /// A value is infinite or not a number.
    #[error("the value at place {place} is not finite")]
    NotFinite {
        /// Its place, 0-based.
        place: usize,
    },
}

impl From<Unusable> for AcfError {
    fn from(reason: Unusable) -> Self {
        match reason {
            Unusable::NotFinite(place) => Self::NotFinite { place },
            Unusable::Constant => Self::Constant,
        }
    }
}

/// Everything at one lag.
#[derive(Debug, Clone, Copy, PartialEq, JsonSchema, Serialize)]
pub struct AcfLag {
    /// The lag.
    pub lag: usize,
    /// Autocorrelation.
    pub acf: f64,
    /// Bartlett's standard error of it, were the series a moving average of a
    /// lower order.
    pub acf_se: f64,
    /// Partial autocorrelation.
    pub pacf: f64,
    /// Ljung-Box statistic of all lags up to this one.
    pub q: f64,
    /// Its p-value.
    pub p_value: Option<f64>,
}

/// Autocorrelations of a series.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct Acf {
    /// Length of the series.
    pub observations: usize,
    /// Its mean.
    pub mean: f64,
    /// Its variance, divisor n.
    pub variance: f64,
    /// Lags 1, 2, ….
    pub lags: Vec<AcfLag>,
    /// Half the width of the 95 % band of white noise, `1.96/√n`.
    pub band: f64,
    /// Lags whose autocorrelation lies outside the band.
    pub significant: Vec<usize>,
}

/// The default largest lag: three seasons (24 at least) for seasonal data, 40
/// otherwise, a quarter of the observations at most.
pub fn default_lags(n: usize, season: usize) -> usize {
    let wanted = if season > 1 { (3 * season).max(24) } else { 40 };
    wanted.min(n / 4).max(1)
}

/// Autocorrelation and partial autocorrelation functions with portmanteau
/// statistics.
///
/// # Formula
/// `r_k = c_k / c_0`, `c_k = (1/n) Σ (y_t - ȳ)(y_{t-k} - ȳ)`; partial ones by
/// [`partial_autocorrelations`]; `se_k = √((1 + 2 Σ_{j<k} r_j²)/n)`;
/// `Q_k = n (n+2) Σ_{j≤k} r_j²/(n-j)`, χ² with k degrees of freedom.
///
/// # Input
/// `y` in order of time, without gaps, at least 8 values.
///
/// # Errors
/// [`AcfError`].
///
/// # Numerics
/// `n` products per lag.
///
/// # References
/// Bartlett (1946), *JRSS Supplement* 8, 27-41; Ljung and Box (1978),
/// *Biometrika* 65, 297-303.
pub fn acf(y: &[f64], options: &AcfOptions) -> Result<Acf, AcfError> {
    let n = y.len();
    if n < FEWEST {
        return Err(AcfError::TooShort { observations: n, needed: FEWEST });
    }
    scale::check(y)?;
    let most = options.lags.unwrap_or_else(|| default_lags(n, options.season));
    if most == 0 || most >= n {
        return Err(AcfError::Lags { lags: most, observations: n });
    }
    let mean = scale::mean(y);
    let unit = y.iter().fold(0.0, |largest: f64, v| largest.max((v - mean).abs()));
    let e: Vec<f64> = y.iter().map(|v| (v - mean) / unit).collect();
    let square = dot(&e, &e);
    let r: Vec<f64> = (1..=most).map(|k| dot(&e[k..], &e) / square).collect();
    let band = normal::quantile(0.975) / (n as f64).sqrt();
    let lags = per_lag(&r, n);
    Ok(Acf {
        observations: n,
        mean,
        variance: square / n as f64 * unit * unit,
        significant: lags.iter().filter(|lag| lag.acf.abs() > band).map(|lag| lag.lag).collect(),
        lags,
        band,
    })
}

fn per_lag(r: &[f64], n: usize) -> Vec<AcfLag> {
    let size = n as f64;
    let mut squares = 0.0;
    let mut weighted = 0.0;
    r.iter()
        .zip(partial_autocorrelations(r))
        .zip(1..)
        .map(|((r, pacf), lag)| {
            let acf_se = ((1.0 + 2.0 * squares) / size).sqrt();
            squares += r * r;
            weighted += r * r / (size - lag as f64);
            let q = size * (size + 2.0) * weighted;
            AcfLag { lag, acf: *r, acf_se, pacf, q, p_value: chi_squared::survival(q, lag) }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn eight_numbers_by_hand() {
        // y = 1..8: deviations ±0.5 … ±3.5, c_0 n = 42, lag 1: 26.25, lag 2: 11.5.
        let y: Vec<f64> = (1..=8).map(f64::from).collect();
        let result = acf(&y, &AcfOptions { lags: Some(2), season: 1 }).expect("long enough");
        assert!((result.lags[0].acf - 26.25 / 42.0).abs() < 1e-14);
        assert!((result.lags[1].acf - 11.5 / 42.0).abs() < 1e-14);
        assert!((result.variance - 5.25).abs() < 1e-14);
        let (r1, r2) = (26.25_f64 / 42.0, 11.5_f64 / 42.0);
        assert!((result.lags[1].q - 80.0 * (r1 * r1 / 7.0 + r2 * r2 / 6.0)).abs() < 1e-12);
        assert!((result.lags[1].acf_se - ((1.0 + 2.0 * r1 * r1) / 8.0).sqrt()).abs() < 1e-14);
        assert!((result.lags[1].pacf - (r2 - r1 * r1) / (1.0 - r1 * r1)).abs() < 1e-14);
    }

    #[test]
    fn certified_lag_one_of_three_huge_numbers_repeated() {
        // NIST StRD, NumAcc2: 1.2, then 1.1 and 1.3 in turn, 1001 values: mean
        // 1.2, standard deviation 0.1, first autocorrelation -0.999.
        let y: Vec<f64> = (0..1001)
            .map(|t| {
                if t == 0 {
                    1.2
                } else if t % 2 == 1 {
                    1.1
                } else {
                    1.3
                }
            })
            .collect();
        let result = acf(&y, &AcfOptions { lags: Some(1), season: 1 }).expect("long enough");
        assert!((result.mean - 1.2).abs() < 1e-14);
        assert!((result.lags[0].acf + 0.999).abs() < 1e-12);
    }

    #[test]
    fn default_lags_cover_three_seasons_where_they_can() {
        assert_eq!(default_lags(288, 12), 36);
        assert_eq!(default_lags(100, 12), 25);
        assert_eq!(default_lags(1000, 4), 24);
        assert_eq!(default_lags(75, 1), 18);
        assert_eq!(default_lags(8, 12), 2);
    }

    #[test]
    fn bad_input_is_an_error_by_name() {
        let options = AcfOptions::default();
        assert_eq!(acf(&[1.0; 5], &options), Err(AcfError::TooShort { observations: 5, needed: 8 }));
        assert_eq!(acf(&[1.0; 20], &options), Err(AcfError::Constant));
        let mut y: Vec<f64> = (0..20).map(f64::from).collect();
        let long = AcfOptions { lags: Some(20), season: 1 };
        assert_eq!(acf(&y, &long), Err(AcfError::Lags { lags: 20, observations: 20 }));
        y[3] = f64::INFINITY;
        assert_eq!(acf(&y, &options), Err(AcfError::NotFinite { place: 3 }));
    }
}
