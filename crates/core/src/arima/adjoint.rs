use super::columns::{Column, Grid};
use super::dual::{DIRECTIONS, Dual};
use super::likelihood::{Small, Workings};
use super::seasonal::Seasonal;

/// The slope of `n ln S + ln |Σ|` with respect to φ, θ, Φ, Θ in turn, by going backwards
/// through every step of the likelihood.
pub(super) fn slope(workings: &Workings<'_>, small: &Small, w: &[f64], data: &Column) -> Option<Vec<f64>> {
    let mut back = Back::new(workings, w.len() as f64 / small.sum);
    let combined = back.combined(small, data);
    back.variances_of_determinant();
    let own = back.whitening(data, back.of_data(&combined));
    back.variances(data, &back.of_data(&combined));
    back.recursion(data, &own, Some(w));
    let q = workings.coefficients.ma.len();
    let (unknown, observed) = workings.corrections.split_at(q);
    for (a, column) in unknown.iter().enumerate() {
        let seeds = back.of_unknown(a, small, &combined);
        back.variances(column, &seeds);
        let own = back.whitening(column, seeds);
        back.recursion(column, &own, None);
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

struct Back<'a, 'b> {
    workings: &'a Workings<'b>,
    grid: Grid,
    /// n / S.
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

    fn step(&self, period: usize) -> usize {
        period.min(self.workings.seasonal.steps.len() - 1)
    }

    /// `V ζ`: the one combination of whitened columns that S sees.
    fn combined(&self, small: &Small, data: &Column) -> Vec<f64> {
        let mut all = data.white.clone();
        let signed = small.solved.iter().copied().chain(small.kappa.iter().map(|value| -value));
        for (column, share) in self.workings.corrections.iter().zip(signed) {
            for period in 0..column.periods {
                for place in self.grid.range(period, column.width) {
                    all[place] += share * column.white[place];
                }
            }
        }
        all
    }

    /// Twice the combination over the variances, times a factor.
    fn of_data(&self, combined: &[f64]) -> Vec<f64> {
        self.scaled(combined, self.rate, self.grid.season, self.grid.periods())
    }

    fn scaled(&self, combined: &[f64], factor: f64, width: usize, periods: usize) -> Vec<f64> {
        let mut out = vec![0.0; self.grid.count];
        for period in 0..periods {
            let share = 2.0 * factor / self.workings.seasonal.step(period).variance;
            for place in self.grid.range(period, width) {
                out[place] = share * combined[place];
            }
        }
        out
    }

    /// Adds `2 factor v / f` of another column.
    fn add(&self, out: &mut [f64], other: &Column, factor: f64, like: &Column) {
        let (width, periods) = (like.width.min(other.width), like.periods.min(other.periods));
        for period in 0..periods {
            let share = 2.0 * factor / self.workings.seasonal.step(period).variance;
            for place in self.grid.range(period, width) {
                out[place] += share * other.white[place];
            }
        }
    }

    fn of_unknown(&self, a: usize, small: &Small, combined: &[f64]) -> Vec<f64> {
        let (unknown, observed) = self.workings.corrections.split_at(self.ma.len());
        let like = &unknown[a];
        let mut out = self.scaled(combined, self.rate * small.solved[a], like.width, like.periods);
        let crossed = &small.pi * &small.rest;
        let own = &small.inverse - &crossed * small.pi.transpose();
        for (b, other) in unknown.iter().enumerate() {
            self.add(&mut out, other, own[(a, b)], like);
        }
        for (j, other) in observed.iter().enumerate() {
            self.add(&mut out, other, crossed[(a, j)], like);
        }
        out
    }

    fn of_observed(&self, i: usize, small: &Small, combined: &[f64]) -> Vec<f64> {
        let (unknown, observed) = self.workings.corrections.split_at(self.ma.len());
        let like = &observed[i];
        let mut out = self.scaled(combined, -self.rate * small.kappa[i], like.width, like.periods);
        let crossed = &small.pi * &small.rest;
        for (a, other) in unknown.iter().enumerate() {
            self.add(&mut out, other, crossed[(a, i)], like);
        }
        for (j, other) in observed.iter().enumerate() {
            self.add(&mut out, other, -small.rest[(i, j)], like);
        }
        out
    }

    /// `ln |Σ|` through the variances.
    fn variances_of_determinant(&mut self) {
        for period in 0..self.grid.periods() {
            let step = self.step(period);
            let length = self.grid.range(period, self.grid.season).len() as f64;
            self.variance[step] += length / self.workings.seasonal.steps[step].variance;
        }
    }

    /// The products of a column through the variances.
    fn variances(&mut self, column: &Column, seeds: &[f64]) {
        for period in 0..column.periods {
            let step = self.step(period);
            let range = self.grid.range(period, column.width);
            let sum = crate::num::sum::dot(&column.white[range.clone()], &seeds[range]);
            self.variance[step] -= 0.5 * sum / self.workings.seasonal.steps[step].variance;
        }
    }

    /// Back through the whitening of a column: from slopes of the whitened values to those of
    /// the values.
    fn whitening(&mut self, column: &Column, mut white: Vec<f64>) -> Vec<f64> {
        let (s, m) = (self.grid.season, self.workings.seasonal.raw);
        for period in (0..column.periods).rev() {
            let step = self.step(period);
            let range = self.grid.range(period, column.width);
            for j in 1..=self.workings.seasonal.steps[step].weights.len() {
                let weight = self.workings.seasonal.steps[step].weights[j - 1];
                let start = range.start - j * s;
                let (before, now) = white.split_at_mut(range.start);
                let (then, now) = (&mut before[start..start + range.len()], &now[..range.len()]);
                for (earlier, later) in then.iter_mut().zip(now) {
                    *earlier -= weight * later;
                }
                self.weights[step][j - 1] -=
                    crate::num::sum::dot(now, &column.white[start..start + range.len()]);
            }
        }
        let mut raw = white.clone();
        raw[column.filtered_until.min(self.grid.count)..].fill(0.0);
        for period in m..column.periods {
            let range = self.grid.range(period, column.width);
            let input = range.start..range.end.min(column.filtered_until.max(range.start));
            for (i, phi) in self.workings.coefficients.seasonal_ar.iter().enumerate() {
                let start = input.start - (i + 1) * s;
                let now = &white[input.clone()];
                self.seasonal_ar[i] -= crate::num::sum::dot(now, &column.raw[start..start + input.len()]);
                for (earlier, later) in raw[start..start + input.len()].iter_mut().zip(now) {
                    *earlier -= phi * later;
                }
            }
        }
        raw
    }

    /// Back through `x_τ = u_τ - Σ θ_j x_{τ-j}`; of a series also through `u = φ(B) w`.
    fn recursion(&mut self, column: &Column, raw: &[f64], w: Option<&[f64]>) {
        let ma = &self.workings.coefficients.ma;
        let (p, q, count) = (self.ar.len(), ma.len(), self.grid.count);
        let end =
            if w.is_none() && column.width < self.grid.season { column.width.min(count) } else { count };
        let mut slopes = raw[..end].to_vec();
        for place in (q..end).rev() {
            let ahead: f64 = (1..=q).filter(|j| place + j < end).map(|j| ma[j - 1] * slopes[place + j]).sum();
            slopes[place] -= ahead;
        }
        for j in 1..=q {
            let own = q..end.max(q);
            self.ma[j - 1] -=
                crate::num::sum::dot(&slopes[own.clone()], &column.raw[own.start - j..own.end - j]);
        }
        if let Some(w) = w {
            for i in 1..=p {
                // Place τ is time τ + p - q, counted from nought.
                self.ar[i - 1] -= crate::num::sum::dot(&slopes[q..], &w[p - i..w.len() - i]);
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
        let add = |to: &mut [f64], from: &[f64]| to.iter_mut().zip(from).for_each(|(a, b)| *a += b);
        add(&mut self.ar, &slopes.ar);
        add(&mut self.ma, &slopes.ma);
        add(&mut self.seasonal_ar, &slopes.seasonal_ar);
        add(&mut self.gamma, &slopes.gamma);
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
