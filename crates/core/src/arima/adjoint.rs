use super::columns::{Column, Grid, recur_backwards, stretches, subtract};
use super::dual::{DIRECTIONS, Dual};
use super::likelihood::{Small, Workings};
use super::seasonal::Seasonal;
use crate::num::sum::dot;

/// The slope of `rate S + ln |Σ|`, or of `rate S` alone, with respect to φ, θ, Φ, Θ in turn, by
/// going backwards through every step of the likelihood.
pub(super) fn slope(
    workings: &Workings<'_>,
    small: &Small,
    w: &[f64],
    data: &Column,
    rate: f64,
    with_determinant: bool,
) -> Option<Vec<f64>> {
    let mut back = Back::new(workings, rate);
    let combined = back.combined(small, data);
    if with_determinant {
        back.variances_of_determinant();
    }
    let seeds = back.of_data(&combined);
    back.variances(data, &seeds);
    let own = back.whitening(data, seeds);
    back.recursion(data, own, Some(w));
    let q = workings.coefficients.ma.len();
    let (unknown, observed) = workings.corrections.split_at(q);
    for (a, column) in unknown.iter().enumerate() {
        let seeds = back.of_unknown(a, small, &combined);
        back.variances(column, &seeds);
        let own = back.whitening(column, seeds);
        back.recursion(column, own, None);
    }
    let mut of_c =
        vec![0.0; q + workings.grid.season * workings.seasonal.raw + workings.coefficients.ar.len() + 1];
    for (i, column) in observed.iter().enumerate() {
        let seeds = back.of_observed(i, small, &combined);
        back.variances(column, &seeds);
        let own = back.whitening(column, seeds);
        back.covariances(i + 1, &own, column, &mut of_c);
    }
    back.first_values(small, of_c);
    back.seasonal()
}

/// `to += factor * from`.
fn add(to: &mut [f64], factor: f64, from: &[f64]) {
    for (value, other) in to.iter_mut().zip(from) {
        *value += factor * other;
    }
}

struct Back<'a, 'b> {
    workings: &'a Workings<'b>,
    grid: Grid,
    /// The share of S in what the slope is of.
    rate: f64,
    ar: Vec<f64>,
    ma: Vec<f64>,
    seasonal_ar: Vec<f64>,
    gamma: Vec<f64>,
    /// Slopes of the variance and weights of each step.
    variance: Vec<f64>,
    weights: Vec<Vec<f64>>,
}

impl<'a, 'b> Back<'a, 'b> {
    fn new(workings: &'a Workings<'b>, rate: f64) -> Self {
        let coefficients = workings.coefficients;
        let steps = &workings.seasonal.steps;
        Self {
            workings,
            grid: workings.grid,
            rate,
            ar: vec![0.0; coefficients.ar.len()],
            ma: vec![0.0; coefficients.ma.len()],
            seasonal_ar: vec![0.0; coefficients.seasonal_ar.len()],
            gamma: vec![0.0; workings.seasonal.gamma.len()],
            variance: vec![0.0; steps.len()],
            weights: steps.iter().map(|step| vec![0.0; step.weights.len()]).collect(),
        }
    }

    /// `V ζ`: the one combination of whitened columns that S sees.
    fn combined(&self, small: &Small, data: &Column) -> Vec<f64> {
        let mut all = data.white.clone();
        let signed = small.solved.iter().copied().chain(small.kappa.iter().map(|value| -value));
        for (column, share) in self.workings.corrections.iter().zip(signed) {
            for (_, range) in self.stretches(column) {
                add(&mut all[range.clone()], share, &column.white[range]);
            }
        }
        all
    }

    fn stretches(&self, column: &Column) -> impl Iterator<Item = (usize, std::ops::Range<usize>)> + use<> {
        stretches(self.grid, column.width, column.periods, self.workings.seasonal.steps.len() - 1)
    }

    /// Twice the combination over the variances, times a factor.
    fn of_data(&self, combined: &[f64]) -> Vec<f64> {
        let mut out = vec![0.0; self.grid.count];
        let settled = self.workings.seasonal.steps.len() - 1;
        for (step, range) in stretches(self.grid, self.grid.season, self.grid.periods(), settled) {
            add(&mut out[range.clone()], self.twice(step, self.rate), &combined[range]);
        }
        out
    }

    fn twice(&self, step: usize, factor: f64) -> f64 {
        2.0 * factor / self.workings.seasonal.steps[step].variance
    }

    /// `2 / f` times a sum of the combination and of whitened columns, where a column is not nought.
    fn seeds(&self, like: &Column, combined: &[f64], share: f64, others: &[(&Column, f64)]) -> Vec<f64> {
        let mut out = vec![0.0; self.grid.count];
        for (step, range) in self.stretches(like) {
            add(&mut out[range.clone()], self.twice(step, share), &combined[range]);
        }
        for (other, factor) in others {
            let (width, periods) = (like.width.min(other.width), like.periods.min(other.periods));
            for (step, range) in stretches(self.grid, width, periods, self.workings.seasonal.steps.len() - 1)
            {
                add(&mut out[range.clone()], self.twice(step, *factor), &other.white[range]);
            }
        }
        out
    }

    fn of_unknown(&self, a: usize, small: &Small, combined: &[f64]) -> Vec<f64> {
        let (unknown, observed) = self.workings.corrections.split_at(self.ma.len());
        let crossed = &small.pi * &small.rest;
        let own = &small.inverse - &crossed * small.pi.transpose();
        let theirs = unknown.iter().enumerate().map(|(b, other)| (other, own[(a, b)]));
        let all = theirs.chain(observed.iter().enumerate().map(|(j, other)| (other, crossed[(a, j)])));
        self.seeds(&unknown[a], combined, self.rate * small.solved[a], &all.collect::<Vec<_>>())
    }

    fn of_observed(&self, i: usize, small: &Small, combined: &[f64]) -> Vec<f64> {
        let (unknown, observed) = self.workings.corrections.split_at(self.ma.len());
        let crossed = &small.pi * &small.rest;
        let theirs = unknown.iter().enumerate().map(|(a, other)| (other, crossed[(a, i)]));
        let all = theirs.chain(observed.iter().enumerate().map(|(j, other)| (other, -small.rest[(i, j)])));
        self.seeds(&observed[i], combined, -self.rate * small.kappa[i], &all.collect::<Vec<_>>())
    }

    /// `ln |Σ|` through the variances.
    fn variances_of_determinant(&mut self) {
        let settled = self.variance.len() - 1;
        for (step, range) in stretches(self.grid, self.grid.season, self.grid.periods(), settled) {
            self.variance[step] += range.len() as f64 / self.workings.seasonal.steps[step].variance;
        }
    }

    /// The products of a column through the variances.
    fn variances(&mut self, column: &Column, seeds: &[f64]) {
        for (step, range) in self.stretches(column) {
            let sum = dot(&column.white[range.clone()], &seeds[range]);
            self.variance[step] -= 0.5 * sum / self.workings.seasonal.steps[step].variance;
        }
    }

    /// Back through the whitening of a column: from slopes of the whitened values to those of
    /// the values.
    fn whitening(&mut self, column: &Column, mut white: Vec<f64>) -> Vec<f64> {
        let (s, m) = (self.grid.season, self.workings.seasonal.raw);
        let steps = &self.workings.seasonal.steps;
        for period in (0..column.periods).rev() {
            let weights = &steps[period.min(steps.len() - 1)].weights;
            if weights.is_empty() {
                continue;
            }
            let range = self.grid.range(period, column.width);
            let (before, now) = white.split_at_mut(range.start);
            for (j, weight) in weights.iter().enumerate() {
                let start = range.start - (j + 1) * s;
                subtract(&mut before[start..start + range.len()], *weight, &now[..range.len()]);
            }
        }
        for (step, range) in self.stretches(column) {
            for (j, slope) in self.weights[step].iter_mut().enumerate() {
                let lag = (j + 1) * s;
                *slope -= dot(&white[range.clone()], &column.white[range.start - lag..range.end - lag]);
            }
        }
        let until = column.filtered_until.min(self.grid.count);
        let first = (m * s).min(until);
        if self.seasonal_ar.is_empty() {
            white[until..].fill(0.0);
            return white;
        }
        let mut raw = white.clone();
        raw[until..].fill(0.0);
        for (i, phi) in self.workings.coefficients.seasonal_ar.iter().enumerate() {
            let lag = (i + 1) * s;
            self.seasonal_ar[i] -= dot(&white[first..until], &column.raw[first - lag..until - lag]);
            subtract(&mut raw[first - lag..until - lag], *phi, &white[first..until]);
        }
        raw
    }

    /// Back through `x_τ = u_τ - Σ θ_j x_{τ-j}`; of a series also through `u = φ(B) w`.
    fn recursion(&mut self, column: &Column, mut slopes: Vec<f64>, w: Option<&[f64]>) {
        let ma = &self.workings.coefficients.ma;
        let (p, q, count) = (self.ar.len(), ma.len(), self.grid.count);
        let narrow = w.is_none() && column.width < self.grid.season;
        slopes.truncate(if narrow { column.width.min(count) } else { count });
        recur_backwards(&mut slopes, ma);
        let end = slopes.len();
        for j in 1..=q {
            let own = q.min(end)..end;
            self.ma[j - 1] -= dot(&slopes[own.clone()], &column.raw[own.start - j..own.end - j]);
        }
        if let Some(w) = w {
            for i in 1..=p {
                // Place τ is time τ + p - q, counted from nought.
                self.ar[i - 1] -= dot(&slopes[q..], &w[p - i..w.len() - i]);
            }
        }
    }

    /// Adds the slopes of the covariances that a column holds.
    fn covariances(&self, i: usize, raw: &[f64], column: &Column, of_c: &mut [f64]) {
        let (p, _) = (self.ar.len(), self.ma.len());
        // Place τ holds c(τ + p + 1 - q - i), and c is kept from -q on.
        for (place, slope) in raw.iter().enumerate().take(column.filtered_until.min(column.raw.len())) {
            if let Some(target) = of_c.get_mut(place + p + 1 - i) {
                *target += slope;
            }
        }
    }

    /// The covariance of the first values of w, and all that lies behind the covariances.
    fn first_values(&mut self, small: &Small, of_c: Vec<f64>) {
        let p = self.ar.len();
        if p == 0 {
            return;
        }
        let mut of_own = vec![0.0; p + 1];
        for i in 0..p {
            for j in 0..p {
                of_own[i.abs_diff(j)] += small.rest[(i, j)] - self.rate * small.kappa[i] * small.kappa[j];
            }
        }
        let slopes = self.workings.cross.slopes(self.workings.source(), of_c, &of_own);
        add(&mut self.ar, 1.0, &slopes.ar);
        add(&mut self.ma, 1.0, &slopes.ma);
        add(&mut self.seasonal_ar, 1.0, &slopes.seasonal_ar);
        add(&mut self.gamma, 1.0, &slopes.gamma);
    }

    /// Φ and Θ through the seasonal numbers, by carrying derivatives forwards.
    fn seasonal(self) -> Option<Vec<f64>> {
        let coefficients = self.workings.coefficients;
        let (p, q) = (coefficients.seasonal_ar.len(), coefficients.seasonal_ma.len());
        let mut out = [self.ar, self.ma, self.seasonal_ar, vec![0.0; q]].concat();
        let first = out.len() - p - q;
        for start in (0..p + q).step_by(DIRECTIONS) {
            let dual = |place: usize, value: f64| {
                let mut slope = [0.0; DIRECTIONS];
                if let Some(own) = place.checked_sub(start).and_then(|k| slope.get_mut(k)) {
                    *own = 1.0;
                }
                Dual { value, slope }
            };
            let ar: Vec<Dual> =
                coefficients.seasonal_ar.iter().enumerate().map(|(k, v)| dual(k, *v)).collect();
            let ma: Vec<Dual> =
                coefficients.seasonal_ma.iter().enumerate().map(|(k, v)| dual(p + k, *v)).collect();
            let seasonal = Seasonal::new(&ar, &ma, self.grid.periods())?;
            for place in start..(start + DIRECTIONS).min(p + q) {
                let of = |number: &Dual| number.slope[place - start];
                let own: f64 =
                    seasonal.gamma.iter().zip(&self.gamma).map(|(gamma, slope)| of(gamma) * slope).sum();
                // The steps of plain numbers may settle earlier than those with derivatives.
                let last = self.variance.len() - 1;
                let steps: f64 = (0..self.variance.len())
                    .map(|k| {
                        let step = if k == last { seasonal.step(usize::MAX) } else { seasonal.step(k) };
                        let weights: f64 =
                            step.weights.iter().zip(&self.weights[k]).map(|(w, slope)| of(w) * slope).sum();
                        of(&step.variance) * self.variance[k] + weights
                    })
                    .sum();
                out[first + place] += own + steps;
            }
        }
        Some(out)
    }
}
