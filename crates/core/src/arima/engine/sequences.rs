//! The correcting columns over the periods.

use super::kernels::add;
use super::layout::{NEGLIGIBLE, SeasonLayout};
use super::schedule::WhiteningSchedule;
use super::symmetric::SymmetricBlocks;
use super::whitening::Whitening;
use crate::num::sum::dot;

/// Sequences of numbers over the periods of a season, and what the whitening of the seasonal
/// process makes of them.
pub(in crate::arima) struct Sequences {
    layout: SeasonLayout,
    /// How many there are.
    pub count: usize,
    /// The first that number of go through the autoregressive filter too.
    pub of_x: usize,
    /// These before the filter, one after the other, as long as there is something.
    pub raw: Vec<f64>,
    /// Periods before the filter, as far as there is something.
    pub kept: usize,
    /// Periods after the filter, likewise.
    pub reach: usize,
    /// All of them after the filter, one after the other.
    pub filtered: Vec<f64>,
    /// And after whitening, of all periods.
    white: Vec<f64>,
    /// The same over the variances.
    over: Vec<f64>,
}

impl Sequences {
    /// Of `of_x` sequences one after the other in `raw`; with them those which are one in the
    /// first period, the second, … and zero elsewhere, `units` of them.
    pub fn new(raw: Vec<f64>, of_x: usize, units: usize, whitening: &Whitening<'_>) -> Self {
        let (layout, count) = (whitening.layout, of_x + units);
        let kept = raw.len().checked_div(of_x).unwrap_or(0);
        let echo = if kept > 0 { kept + whitening.ar.len() } else { 0 };
        let reach = echo.max(units).min(layout.periods());
        let (filtered, white) = (vec![0.0; count * reach], vec![0.0; count * layout.periods()]);
        let mut all = Self { layout, count, of_x, raw, kept, reach, filtered, white, over: Vec::new() };
        all.filter(whitening);
        all.whiten(whitening.steps);
        all
    }

    fn filter(&mut self, whitening: &Whitening<'_>) {
        let (kept, first) = (self.kept, whitening.steps.raw);
        for (which, own) in self.filtered.chunks_exact_mut(self.reach.max(1)).enumerate() {
            if which >= self.of_x {
                own[which - self.of_x] = 1.0;
                continue;
            }
            let raw = &self.raw[which * kept..][..kept];
            own[..kept].copy_from_slice(raw);
            for (i, phi) in (1..).zip(whitening.ar) {
                let late = own.get_mut(first..).unwrap_or_default();
                add(late, -phi, raw.get(first - i..).unwrap_or_default());
            }
        }
    }

    fn whiten(&mut self, steps: &WhiteningSchedule) {
        let (periods, reach) = (self.layout.periods(), self.reach);
        self.over = vec![0.0; self.white.len()];
        let filtered = self.filtered.chunks_exact(reach.max(1));
        let both = self.white.chunks_exact_mut(periods).zip(self.over.chunks_exact_mut(periods));
        for (own, (white, over)) in filtered.zip(both) {
            white[..reach].copy_from_slice(own);
            let mut quiet = 0;
            for period in 1..periods {
                let (before, rest) = white.split_at_mut(period);
                let past = steps.behind(period).iter().zip(before.iter().rev());
                let now = past.fold(rest[0], |now, (weight, earlier)| now - weight * earlier);
                rest[0] = now;
                // What has faded for as many periods as are looked back on stays away.
                quiet = if period >= reach && now.abs() < NEGLIGIBLE { quiet + 1 } else { 0 };
                if quiet > steps.stride {
                    break;
                }
            }
            for ((scaled, value), share) in over.iter_mut().zip(&*white).zip(&steps.shares) {
                *scaled = share * value;
            }
        }
    }

    /// Sums over the periods of products of two over the variance.
    pub fn products(&self) -> SymmetricBlocks {
        let mut all = SymmetricBlocks::new(self.count);
        let periods = self.layout.periods().max(1);
        for (i, one) in self.white.chunks_exact(periods).enumerate() {
            for (j, two) in self.over.chunks_exact(periods).take(i + 1).enumerate() {
                let (one, last) = one.split_at(self.layout.whole());
                let both = [dot(one, two), last.first().map_or(0.0, |last| last * two[periods - 1])];
                all.add_both(i, j, both);
            }
        }
        all
    }

    /// From the slopes of the products to those of the filtered sequences; adds to those of the
    /// whitening's numbers.
    pub fn whitening_backwards(
        &self,
        of_products: &SymmetricBlocks,
        whitening: &Whitening<'_>,
        of_variances: &mut [f64],
        of_weights: &mut [f64],
    ) -> Vec<f64> {
        let (periods, whole) = (self.layout.periods().max(1), self.layout.whole());
        let mut out = vec![0.0; self.white.len()];
        for (i, own) in out.chunks_exact_mut(periods).enumerate() {
            for (j, over) in self.over.chunks_exact(periods).enumerate() {
                let [share, of_last] = of_products.slopes(i, j);
                add(&mut own[..whole], share, over);
                add(&mut own[whole..], of_last, &over[whole..]);
            }
        }
        let steps = whitening.steps;
        let mut of_period = vec![0.0; periods * (1 + steps.stride)];
        let (of_variance, of_weight) = of_period.split_at_mut(periods);
        let both = self.white.chunks_exact(periods).zip(self.over.chunks_exact(periods));
        for (own, (white, over)) in out.chunks_exact_mut(periods).zip(both) {
            subtract_products(of_variance, own, over);
            for period in (0..periods - 1).rev() {
                let (now, after) = own[period..].split_at_mut(1);
                let later = steps.ahead(period).iter().zip(&*after);
                now[0] = later.fold(now[0], |now, (weight, later)| now - weight * later);
            }
            for (j, slopes) in (1..).zip(of_weight.chunks_exact_mut(periods)) {
                subtract_products(
                    slopes.get_mut(j..).unwrap_or_default(),
                    own.get(j..).unwrap_or_default(),
                    white,
                );
            }
        }
        let last = of_variances.len() - 1;
        for (period, slope) in of_variance.iter().enumerate() {
            let step = period.min(last);
            of_variances[step] += 0.5 * slope;
            let slopes = of_weights[step * steps.stride..].iter_mut();
            for (slope, own) in slopes.zip(of_weight.iter().skip(period).step_by(periods)) {
                *slope += own;
            }
        }
        let mut kept = Vec::with_capacity(self.filtered.len());
        for own in out.chunks_exact(periods) {
            kept.extend_from_slice(&own[..self.reach]);
        }
        kept
    }

    /// From the slopes of the filtered sequences to those of the ones before, as long as these are
    /// kept; subtracts from the filter's.
    pub fn filter_backwards(
        &self,
        filtered: &[f64],
        whitening: &Whitening<'_>,
        of_ar: &mut [f64],
    ) -> Vec<f64> {
        let (kept, first) = (self.kept, whitening.steps.raw);
        let mut out = vec![0.0; self.raw.len()];
        let before = out.chunks_exact_mut(kept.max(1)).zip(self.raw.chunks_exact(kept.max(1)));
        for (own, (out, raw)) in filtered.chunks_exact(self.reach.max(1)).zip(before) {
            out.copy_from_slice(&own[..kept]);
            for ((i, phi), slope) in (1..).zip(whitening.ar).zip(&mut *of_ar) {
                let late = own.get(first..).unwrap_or_default();
                *slope -= dot(late, raw.get(first - i..).unwrap_or_default());
                add(out.get_mut(first - i..).unwrap_or_default(), -phi, late);
            }
        }
        out
    }
}

/// `to -= a b`, one by one.
fn subtract_products(to: &mut [f64], a: &[f64], b: &[f64]) {
    for ((value, a), b) in to.iter_mut().zip(a).zip(b) {
        *value -= a * b;
    }
}
