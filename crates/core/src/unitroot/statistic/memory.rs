//! Estimates of the order of fractional integration.

use std::f64::consts::PI;

use realfft::RealFftPlanner;

/// An estimate of the order of fractional integration.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Memory {
    /// d.
    pub d: f64,
    /// Its asymptotic standard error.
    pub std_error: f64,
    /// Frequencies used.
    pub bandwidth: usize,
}

/// The number of frequencies, `floor(n^0.65)`, at most half of n.
pub fn memory_bandwidth(n: usize) -> usize {
    // A small non-negative number.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let wanted = (n as f64).powf(0.65).floor() as usize;
    wanted.min(n.saturating_sub(1) / 2)
}

/// The periodogram `|Σ x_t e^{-iωt}|² / (2πn)` at the first Fourier frequencies `2πj/n`, from
/// j = 1. The mean takes no part.
pub fn periodogram(x: &[f64], frequencies: usize) -> Option<Vec<f64>> {
    let n = x.len();
    let transform = RealFftPlanner::<f64>::new().plan_fft_forward(n);
    let mut input = x.to_vec();
    let mut output = transform.make_output_vec();
    transform.process(&mut input, &mut output).ok()?;
    let scale = 1.0 / (2.0 * PI * n as f64);
    Some(output.iter().skip(1).take(frequencies).map(|value| value.norm_sqr() * scale).collect())
}

/// The log-periodogram regression.
///
/// # Formula
/// d from `ln I(ω_j) = c - 2d ln(2 sin(ω_j/2)) + u_j`, j = 1 … m; standard error
/// `π / √(24 m)`, the limit, from the variance of the regressor in this sample:
/// `(π²/6 / Σ (x_j - x̄)²)^{1/2}`.
///
/// `None` where a periodogram ordinate is zero.
///
/// # References
/// Geweke and Porter-Hudak (1983), *Journal of Time Series Analysis* 4, 221-238; Robinson
/// (1995), *Annals of Statistics* 23, 1048-1072.
pub fn log_periodogram(ordinates: &[f64], n: usize) -> Option<Memory> {
    let m = ordinates.len();
    let frequency = |j: usize| 2.0 * PI * (j + 1) as f64 / n as f64;
    let regressor: Vec<f64> = (0..m).map(|j| -2.0 * (2.0 * (0.5 * frequency(j)).sin()).ln()).collect();
    let mean = regressor.iter().sum::<f64>() / m as f64;
    let square: f64 = regressor.iter().map(|v| (v - mean).powi(2)).sum();
    let cross: f64 = regressor.iter().zip(ordinates).map(|(v, i)| (v - mean) * i.ln()).sum();
    let d = cross / square;
    d.is_finite().then(|| Memory { d, std_error: (PI * PI / 6.0 / square).sqrt(), bandwidth: m })
}

/// The local Whittle estimate.
///
/// # Formula
/// The d that makes `ln (1/m Σ ω_j^{2d} I(ω_j)) - 2d/m Σ ln ω_j` least, between -1 and 2.5;
/// standard error `1 / (2 √m)`.
///
/// # Numerics
/// The function is convex in d: golden section to 1e-10.
///
/// # References
/// Künsch (1987), *Proceedings of the First World Congress of the Bernoulli Society* 1, 67-74;
/// Robinson (1995), *Annals of Statistics* 23, 1630-1661.
pub fn local_whittle(ordinates: &[f64], n: usize) -> Option<Memory> {
    let m = ordinates.len();
    let logs: Vec<f64> = (1..=m).map(|j| (2.0 * PI * j as f64 / n as f64).ln()).collect();
    let mean = logs.iter().sum::<f64>() / m as f64;
    let value = |d: f64| {
        let sum: f64 = logs.iter().zip(ordinates).map(|(log, i)| (2.0 * d * (log - mean)).exp() * i).sum();
        (sum / m as f64).ln()
    };
    let golden = 0.5 * (5.0_f64.sqrt() - 1.0);
    let (mut low, mut high) = (-1.0, 2.5);
    while high - low > 1e-10 {
        let (left, right) = (high - golden * (high - low), low + golden * (high - low));
        if value(left) <= value(right) {
            high = right;
        } else {
            low = left;
        }
    }
    let d = 0.5 * (low + high);
    value(d).is_finite().then(|| Memory { d, std_error: 0.5 / (m as f64).sqrt(), bandwidth: m })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    /// `(1 - B)^{-d}` of noise, its weights from the gamma recursion.
    fn fractional(d: f64, n: usize, seed: u64) -> Vec<f64> {
        let past = 2000;
        let noise = NormalStream::new(seed, 0).take(n + past);
        let mut weights = vec![1.0];
        for k in 1..past {
            weights.push(weights[k - 1] * (k as f64 - 1.0 + d) / k as f64);
        }
        (past..n + past).map(|t| weights.iter().enumerate().map(|(k, w)| w * noise[t - k]).sum()).collect()
    }

    #[test]
    fn the_periodogram_is_the_sum_of_cosines_and_sines() {
        let x = NormalStream::new(51, 0).take(31);
        let ours = periodogram(&x, 5).expect("finite");
        for (j, value) in ours.iter().enumerate() {
            let frequency = 2.0 * PI * (j + 1) as f64 / 31.0;
            let sum = |f: fn(f64) -> f64| {
                x.iter().enumerate().map(|(t, v)| v * f(frequency * t as f64)).sum::<f64>()
            };
            let plain = (sum(f64::cos).powi(2) + sum(f64::sin).powi(2)) / (2.0 * PI * 31.0);
            assert!((value - plain).abs() < 1e-12);
        }
    }

    #[test]
    fn both_find_the_order_of_long_memory_within_their_errors() {
        for (d, seed) in [(0.0, 52), (0.4, 53), (-0.3, 54)] {
            let x = fractional(d, 4000, seed);
            let ordinates = periodogram(&x, memory_bandwidth(4000)).expect("finite");
            for found in [log_periodogram(&ordinates, 4000), local_whittle(&ordinates, 4000)] {
                let found = found.expect("finite");
                assert!((found.d - d).abs() < 3.0 * found.std_error, "{d}: {found:?}");
            }
        }
    }

    #[test]
    fn an_exact_power_of_frequency_gives_its_exponent() {
        let n = 500;
        let sines: Vec<f64> =
            (1..=40).map(|j| (2.0 * (PI * f64::from(j) / n as f64).sin()).powf(-0.6)).collect();
        assert!((log_periodogram(&sines, n).expect("finite").d - 0.3).abs() < 1e-12);
        let plain: Vec<f64> = (1..=40).map(|j| (2.0 * PI * f64::from(j) / n as f64).powf(-0.6)).collect();
        assert!((local_whittle(&plain, n).expect("finite").d - 0.3).abs() < 1e-6);
        assert_eq!(memory_bandwidth(200), 31);
    }
}
