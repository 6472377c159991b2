//! The inverse covariance of a stationary seasonal process, applied to a series.

use super::kernels::{add, recur_backwards};
use super::plan::{CorrectionFactor, LikelihoodPlan};
use super::whitening::WhitenedColumn;
use crate::arima::coefficients::Coefficients;

/// The inverse covariance matrix `Σ⁻¹` of n consecutive values of `φ(B) Φ(B^s) w = θ(B) Θ(B^s) e`, innovations of
/// variance one, and the logarithm of the determinant of Σ.
///
/// # Method
/// The quadratic form `w' Σ⁻¹ w` is found as for the likelihood; half its gradient in w is `Σ⁻¹ w`.
///
/// # Input
/// θ invertible and shorter than the season; Θ may have roots on the unit circle.
///
/// # Cost
/// Of the order of one recursion over the series, whatever the season.
pub struct Precision<'a> {
    plan: LikelihoodPlan<'a>,
    frame: CorrectionFactor,
    log_determinant: f64,
}

impl<'a> Precision<'a> {
    /// For this number of values; none where the process is not stationary.
    pub fn new(coefficients: &'a Coefficients, values: usize, season: usize) -> Option<Self> {
        if !coefficients.is_apart(season) || values <= coefficients.ar.len() {
            return None;
        }
        let plan = LikelihoodPlan::of_values(coefficients, values, season)?;
        let frame = plan.frame()?;
        let log_determinant = plan.log_determinant(&frame);
        log_determinant.is_finite().then_some(Self { plan, frame, log_determinant })
    }

    /// `ln |Σ|`.
    pub fn log_determinant(&self) -> f64 {
        self.log_determinant
    }

    /// `w' Σ⁻¹ w`.
    pub fn square(&self, w: &[f64]) -> f64 {
        self.plan.small(&self.frame, w, &self.plan.data(w)).sum
    }

    /// `Σ⁻¹ w`.
    pub fn times(&self, w: &[f64]) -> Vec<f64> {
        let Coefficients { ar, ma, .. } = self.plan.coefficients;
        let (p, q) = (ar.len(), ma.len());
        let data = self.plan.data(w);
        let small = self.plan.small(&self.frame, w, &data);
        let shares: Vec<f64> =
            small.solved.iter().copied().chain(small.kappa.iter().map(|value| -value)).collect();
        let whitening = self.plan.whitening();
        let combined = self.plan.corrections.combined(&shares);
        let (_, over) = whitening.white(self.plan.with_corrections(&data, &combined), 1.0);
        let mut unused = vec![0.0; self.plan.coefficients.seasonal_ar.len()];
        let mut of_x = whitening.filter_backwards(&whitening.backwards(over), &data.raw, &mut unused);
        recur_backwards(&mut of_x, ma);
        // Place τ of x is time τ + p - q, counted from zero.
        let late = of_x.get(q..).unwrap_or_default();
        let mut out: Vec<f64> = small.kappa.iter().copied().chain(late.iter().copied()).collect();
        out.resize(w.len(), 0.0);
        for (i, phi) in (1..).zip(ar) {
            let end = w.len() - i;
            add(&mut out[p - i..end], -phi, &late[..end + i - p]);
        }
        out
    }
}

impl LikelihoodPlan<'_> {
    /// The filtered series plus the combination of the corrections, whole periods of it.
    pub(super) fn with_corrections(&self, data: &WhitenedColumn, combined: &[f64]) -> Vec<f64> {
        let (s, count) = (self.layout.season, self.layout.count);
        let mut all = self.whitening().whole_periods(&data.filtered);
        let reach = self.corrections.sequences.reach.max(1);
        for (which, shares) in combined.chunks_exact(reach).enumerate() {
            for (period, share) in
                all[..count].chunks_mut(s).zip(shares).filter(|(_, share)| share.abs() > 0.0)
            {
                self.corrections.profiles.add_to(which, period, *share);
            }
        }
        all
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arima::engine::likelihood;
    use crate::num::rng::NormalStream;
    use crate::num::sum::dot;

    fn models() -> Vec<(usize, Coefficients)> {
        let of = |ar: &[f64], ma: &[f64], seasonal_ar: &[f64], seasonal_ma: &[f64]| Coefficients {
            ar: ar.to_vec(),
            ma: ma.to_vec(),
            seasonal_ar: seasonal_ar.to_vec(),
            seasonal_ma: seasonal_ma.to_vec(),
        };
        vec![
            (12, of(&[0.6, -0.3], &[0.4], &[], &[-0.7])),
            (4, of(&[1.2, -0.5, 0.1], &[0.3, -0.2], &[0.5], &[-1.0])),
            (12, of(&[], &[-0.8], &[0.7], &[-1.0])),
            (7, of(&[0.9], &[], &[], &[-0.75, -0.25])),
            (52, of(&[0.5], &[0.6], &[], &[-1.0])),
            (1, of(&[0.7, 0.2], &[-0.5], &[], &[])),
        ]
    }

    #[test]
    fn products_with_the_precision_are_those_of_the_likelihood() {
        for (season, model) in models() {
            for n in [2 * season + 31, 97] {
                let w = NormalStream::new(11, n as u64).take(n);
                let precision = Precision::new(&model, n, season).expect("stationary");
                let found = likelihood(&w, &[], &model, season, false).expect("a likelihood");
                let sum = dot(&w, &precision.times(&w));
                assert!((sum / found.sum - 1.0).abs() < 1e-10, "{season} {n}: {sum} {}", found.sum);
                assert!((precision.log_determinant() - found.log_determinant).abs() < 1e-10);
            }
        }
    }

    #[test]
    fn the_precision_times_the_covariance_is_the_identity() {
        // Covariances of the process written out as a long moving average of its innovations.
        for (season, model) in models() {
            let (n, long) = (40, 4_000);
            let (ar, ma) = (model.long_ar(season), model.long_ma(season));
            let mut psi = vec![0.0; long];
            for t in 0..long {
                let own = if t == 0 { 1.0 } else { ma.get(t - 1).copied().unwrap_or(0.0) };
                let past: f64 = ar.iter().enumerate().take(t).map(|(i, phi)| phi * psi[t - 1 - i]).sum();
                psi[t] = own + past;
            }
            let gamma: Vec<f64> =
                (0..n).map(|lag| dot(&psi[..long - n], &psi[lag..long - n + lag])).collect();
            let precision = Precision::new(&model, n, season).expect("stationary");
            for place in [0, 1, 5, 17, n - 1] {
                let column: Vec<f64> = (0..n).map(|t| gamma[t.abs_diff(place)]).collect();
                for (t, value) in precision.times(&column).iter().enumerate() {
                    let wanted = if t == place { 1.0 } else { 0.0 };
                    assert!((value - wanted).abs() < 1e-8, "{season} {place} {t}: {value}");
                }
            }
        }
    }
}
