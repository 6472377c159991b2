//! A series whitened by the scalars of its periods.

use super::kernels::{add, subtract_all};
use super::layout::SeasonLayout;
use super::phases::Rows;
use super::rows::{subtract_later, whiten};
use super::schedule::WhiteningSchedule;
use crate::num::sum::dot;

/// The seasonal process of that number of values: its phases do not meet, and in each of them the same
/// numbers whiten it.
///
/// Its first max(P, Q) periods as they are and `Φ(B^s) x` from there on have the covariance
/// `Ω = L F L'`, L with ones on its diagonal, F the variances.
pub(in crate::arima) struct Whitening<'a> {
    pub layout: SeasonLayout,
    pub ar: &'a [f64],
    pub steps: &'a WhiteningSchedule,
}

/// A column before and after.
#[derive(Debug, Clone)]
pub(in crate::arima) struct WhitenedColumn {
    /// x.
    pub raw: Vec<f64>,
    /// u, x after the autoregressive filter.
    pub filtered: Vec<f64>,
    /// `Ω⁻¹ u`, whole periods of it.
    pub solved: Vec<f64>,
    /// `u' Ω⁻¹ u`.
    pub square: f64,
}

impl Whitening<'_> {
    pub fn column(&self, raw: Vec<f64>) -> WhitenedColumn {
        let filtered = self.filtered(&raw);
        let (white, over) = self.white(self.whole_periods(&filtered), 1.0);
        let square = dot(&white, &over);
        WhitenedColumn { raw, filtered, solved: self.backwards(over), square }
    }

    /// `L⁻¹ u` alone, of x.
    pub fn whitened(&self, raw: &[f64]) -> Vec<f64> {
        self.of_filtered(&self.filtered(raw))
    }

    /// `L⁻¹ u` alone.
    pub fn of_filtered(&self, filtered: &[f64]) -> Vec<f64> {
        let (mut white, _) = self.white(self.whole_periods(filtered), 1.0);
        white.truncate(self.layout.count);
        white
    }

    /// From here on the autoregressive filter acts.
    fn first(&self) -> usize {
        (self.steps.raw * self.layout.season).min(self.layout.count)
    }

    pub fn filtered(&self, raw: &[f64]) -> Vec<f64> {
        let (first, s) = (self.first(), self.layout.season);
        let mut out = raw.to_vec();
        subtract_all(&mut out[first..], self.ar, |i| &raw[first - i * s..]);
        out
    }

    /// From the slopes of filtered values to those of the values before; subtracts from the
    /// filter's.
    pub fn filter_backwards(&self, filtered: &[f64], raw: &[f64], of_ar: &mut [f64]) -> Vec<f64> {
        let (first, s, count) = (self.first(), self.layout.season, self.layout.count);
        let mut out = filtered[..count].to_vec();
        let late = &filtered[first..count];
        if late.is_empty() {
            return out;
        }
        for ((i, phi), slope) in (1..).zip(self.ar).zip(of_ar) {
            *slope -= dot(late, &raw[first - i * s..]);
            add(&mut out[first - i * s..], -phi, late);
        }
        out
    }

    /// Values with zeros behind them up to the end of the last period.
    pub fn whole_periods(&self, values: &[f64]) -> Vec<f64> {
        let mut out = Vec::with_capacity(self.layout.periods() * self.layout.season);
        out.extend_from_slice(values);
        out.resize(self.layout.periods() * self.layout.season, 0.0);
        out
    }

    /// `L⁻¹ u`, and that number of times the same over the variances, all of whole periods.
    pub fn white(&self, mut u: Vec<f64>, times: f64) -> (Vec<f64>, Vec<f64>) {
        let mut over = vec![0.0; u.len()];
        let rows = Rows { weights: &self.steps.behind, shares: &self.steps.shares, times };
        whiten(&mut u, &mut over, rows, self.steps.stride, self.layout.season);
        // There is nothing beyond the last value.
        u[self.layout.count..].fill(0.0);
        over[self.layout.count..].fill(0.0);
        (u, over)
    }

    /// `L'⁻¹` of these.
    pub fn backwards(&self, mut over: Vec<f64>) -> Vec<f64> {
        subtract_later(&mut over, &self.steps.ahead, self.steps.stride, self.layout.season);
        over
    }
}
