//! One-step errors and forecasts in order of time, from the seasonal structure.

use nalgebra::{DMatrix, DVector};

use super::corrections::across;
use super::kernels::recur_forwards;
use super::layout::{NEGLIGIBLE, SeasonLayout};
use super::plan::{LikelihoodPlan, seasonal_process};
use super::schedule::WhiteningSchedule;
use super::whitening::Whitening;
use crate::arima::coefficients::Coefficients;
use crate::num::sum::dot;

/// A share of a variance below this is of rounding only.
const KNOWN: f64 = 1e-12;

/// The exact one-step forecasts of a model, in order of time, for series of up to that number of values.
///
/// # Method
/// The likelihood takes its values in an order of its own: the unknown first values of x before the
/// first values of w. Here w comes in order of time: its first p values, whitened to z; then every
/// further value is one of the whitened x, `v_τ = c_τ' D⁻¹ r + (R' D⁻¹ c_τ - m_τ)' a + noise`,
/// where a are the unknown first values of x, m their whitened responses, c the covariances of the
/// whitened x with z, and r, R, D what is left of z and its variance with the x before. A filter
/// of the size of q follows what is known of a.
///
/// Where φ and θ have a factor in common, what z adds to x is zero; where they all but have,
/// it is known to few digits (worst, to six, for factors a millionth apart).
///
/// # Cost
/// n (p + q)², whatever the season, and n (p + q) for each series.
pub(in crate::arima) struct Predictor {
    coefficients: Coefficients,
    layout: SeasonLayout,
    steps: WhiteningSchedule,
    /// Lower triangle of the variance of the first p values of w.
    first: DMatrix<f64>,
    /// What z says of the unknown first values of x.
    told: DMatrix<f64>,
    /// For each place: the share of what is left of z in the next value of v,
    of_left: Vec<f64>,
    /// that of the unknown first values of x,
    of_unknown: Vec<f64>,
    /// what a one-step error adds to the estimate of these,
    gain: Vec<f64>,
    /// how much v takes from what is left of z,
    taken: Vec<f64>,
    /// and the variance of the one-step error.
    variance: Vec<f64>,
}

/// A series as far as it goes, and what is known after it; all before its first place is zero.
struct Track {
    /// The place of the first value of x and v.
    start: usize,
    w: Vec<f64>,
    x: Vec<f64>,
    v: Vec<f64>,
    left: Vec<f64>,
    unknown: Vec<f64>,
}

/// Values in rows of one width.
fn row(values: &[f64], width: usize, place: usize) -> &[f64] {
    &values[place * width..][..width]
}

impl Predictor {
    /// None for a process that is not stationary, or of fewer values than autoregressive terms.
    pub fn new(coefficients: &Coefficients, season: usize, values: usize) -> Option<Self> {
        if !coefficients.is_apart(season) {
            return Self::new(&coefficients.written_out(season), season, values);
        }
        let plan = LikelihoodPlan::of_values(coefficients, values, season)?;
        let (p, count) = (coefficients.ar.len(), plan.layout.count);
        let own = DMatrix::from_fn(p, p, |i, j| plan.cross.own[i.abs_diff(j)]);
        let first = own.cholesky()?.unpack();
        let responses = plan.whitened_responses();
        let covariances = plan.whitened_covariances(&first)?;
        let q = coefficients.ma.len();
        let mut all = Self {
            coefficients: coefficients.clone(),
            layout: plan.layout,
            told: DMatrix::from_fn(q, p, |a, i| covariances[a * p + i]),
            first,
            of_left: vec![0.0; count * p],
            of_unknown: vec![0.0; count * q],
            gain: vec![0.0; count * q],
            taken: vec![0.0; count * p],
            variance: vec![0.0; count],
            steps: plan.into_steps(),
        };
        all.follow(&responses, &covariances)?;
        Some(all)
    }

    /// Values that come before those the filter runs over.
    pub fn p(&self) -> usize {
        self.coefficients.ar.len()
    }

    fn q(&self) -> usize {
        self.coefficients.ma.len()
    }

    /// The numbers of every place.
    fn follow(&mut self, responses: &[f64], covariances: &[f64]) -> Option<()> {
        let (p, q) = (self.p(), self.q());
        // Variances of what is left of z and of the unknown values, and how the first moves with
        // the second.
        let mut left = DMatrix::<f64>::identity(p, p);
        let mut moved = DMatrix::<f64>::zeros(p, q);
        let early = 1.0 / self.steps.shares[0];
        let mut unknown = DMatrix::identity(q, q) * early - &self.told * self.told.transpose();
        for place in 0..self.layout.count {
            let share = self.steps.shares[place / self.layout.season];
            let c = DVector::from_column_slice(row(covariances, p, place));
            let m = DVector::from_column_slice(row(responses, q, place));
            let tells = c.iter().any(|value| value.abs() > NEGLIGIBLE);
            if place >= q {
                let of_left = if tells { solved(&left, &c) } else { DVector::zeros(p) };
                let of_unknown = moved.tr_mul(&of_left) - &m;
                let spread = &unknown * &of_unknown;
                let variance = 1.0 / share - c.dot(&of_left) + of_unknown.dot(&spread);
                if !variance.is_finite() || variance <= 0.0 {
                    return None;
                }
                unknown.ger(-1.0 / variance, &spread, &spread, 1.0);
                self.of_left[place * p..][..p].copy_from_slice(of_left.as_slice());
                self.of_unknown[place * q..][..q].copy_from_slice(of_unknown.as_slice());
                self.gain[place * q..][..q].copy_from_slice((spread / variance).as_slice());
                self.variance[place] = variance;
            }
            if tells {
                left.ger(-share, &c, &c, 1.0);
                moved.ger(-share, &c, &m, 1.0);
                self.taken[place * p..][..p].copy_from_slice((c * share).as_slice());
            }
        }
        Some(())
    }

    fn whitening(&self) -> Whitening<'_> {
        Whitening { layout: self.layout, ar: &self.coefficients.seasonal_ar, steps: &self.steps }
    }

    /// One-step errors of a series and their variances.
    pub fn innovations(&self, values: &[f64]) -> Vec<(f64, f64)> {
        self.run(values).0
    }

    /// The same, and what is known after the last.
    fn run(&self, values: &[f64]) -> (Vec<(f64, f64)>, Track) {
        let (p, q) = (self.p(), self.q());
        let (early, late) = values.split_at(p.min(values.len()));
        let mut z = DVector::zeros(p);
        z.rows_mut(0, early.len()).copy_from_slice(early);
        self.first.solve_lower_triangular_mut(&mut z);
        let scales = self.first.diagonal();
        let mut out: Vec<(f64, f64)> = z
            .iter()
            .zip(scales.iter())
            .take(early.len())
            .map(|(z, scale)| (z * scale, scale * scale))
            .collect();
        let x = seasonal_process(
            &self.coefficients,
            vec![0.0; self.coefficients.ma.len()],
            values,
            self.layout.count,
        );
        let v = self.whitening().whitened(&x);
        let mut track = Track {
            start: 0,
            w: values.to_vec(),
            unknown: (&self.told * &z).iter().copied().collect(),
            left: z.iter().copied().collect(),
            x,
            v,
        };
        for place in q..q + late.len() {
            let error = track.v[place] - self.predicted(&track, place);
            self.learn(&mut track, place, error);
            out.push((error, self.variance[place]));
        }
        let end = q + late.len();
        track.x.truncate(end);
        track.v.truncate(end);
        (out, track)
    }

    /// The next value of v.
    fn predicted(&self, track: &Track, place: usize) -> f64 {
        dot(row(&self.of_left, self.p(), place), &track.left)
            + dot(row(&self.of_unknown, self.q(), place), &track.unknown)
    }

    /// What is known after a value of v with that one-step error.
    fn learn(&self, track: &mut Track, place: usize, error: f64) {
        let v = track.v[place - track.start];
        for (left, taken) in track.left.iter_mut().zip(row(&self.taken, self.p(), place)) {
            *left -= taken * v;
        }
        for (unknown, gain) in track.unknown.iter_mut().zip(row(&self.gain, self.q(), place)) {
            *unknown += gain * error;
        }
    }

    /// The next value of w, of which the one-step error is given.
    fn continue_with(&self, track: &mut Track, error: f64) {
        let place = track.start + track.v.len();
        let Coefficients { ar, ma, seasonal_ar, .. } = &self.coefficients;
        let (period, season) = (place / self.layout.season, self.layout.season);
        let v = self.predicted(track, place) + error;
        track.v.push(v);
        self.learn(track, place, error);
        let back = |values: &[f64], weights: &[f64], step: usize| -> f64 {
            let past = |j: usize| values.len().checked_sub(j * step).map_or(0.0, |at| values[at]);
            (1..).zip(weights).map(|(j, weight)| weight * past(j)).sum()
        };
        let behind = &track.v[..track.v.len() - 1];
        let mut x = v + back(behind, self.steps.behind(period), season);
        if period >= self.steps.raw {
            x += back(&track.x, seasonal_ar, season);
        }
        let w = x + back(&track.x, ma, 1) + back(&track.w, ar, 1);
        track.x.push(x);
        track.w.push(w);
    }

    /// The best linear forecasts of the next values of a series.
    ///
    /// # Input
    /// At least as many values as autoregressive terms.
    pub fn continued(&self, values: &[f64], ahead: usize) -> Vec<f64> {
        let (_, mut track) = self.run(values);
        for _ in 0..ahead {
            self.continue_with(&mut track, 0.0);
        }
        track.w.split_off(values.len())
    }

    /// How the values from place `n` on respond to the one-step errors from there on, each over its
    /// standard deviation in units of the innovations'. Row h has h + 1 entries.
    ///
    /// # Input
    /// n of at least the autoregressive order.
    pub fn responses(&self, n: usize, ahead: usize) -> Vec<Vec<f64>> {
        let mut rows: Vec<Vec<f64>> = vec![Vec::new(); ahead];
        let first = (n + self.q()).saturating_sub(self.p());
        for shock in 0..ahead {
            let mut track = Track {
                start: first + shock,
                w: Vec::new(),
                x: Vec::new(),
                v: Vec::new(),
                left: vec![0.0; self.p()],
                unknown: vec![0.0; self.q()],
            };
            let mut error = self.variance[first + shock].sqrt();
            for row in &mut rows[shock..] {
                self.continue_with(&mut track, error);
                row.extend(track.w.last());
                error = 0.0;
            }
        }
        rows
    }
}

impl LikelihoodPlan<'_> {
    /// Responses of x to each of its unknown first values, whitened; for each place in turn.
    fn whitened_responses(&self) -> Vec<f64> {
        let ma = &self.coefficients.ma;
        let white = |place: usize| {
            let mut raw = vec![0.0; self.layout.count];
            raw[place] = 1.0;
            recur_forwards(&mut raw, ma);
            self.whitening().whitened(&raw)
        };
        across(&(0..ma.len()).flat_map(white).collect::<Vec<_>>(), self.layout.count)
    }

    /// Covariances of the whitened x with the whitened first values of w; for each place in turn.
    fn whitened_covariances(&self, first: &DMatrix<f64>) -> Option<Vec<f64>> {
        let (p, count) = (first.nrows(), self.layout.count);
        let all = across(&(1..=p).flat_map(|i| self.covariances(i)).collect::<Vec<_>>(), count);
        let mut all = DMatrix::from_vec(p, count, all);
        first.solve_lower_triangular_mut(&mut all).then(|| all.as_slice().to_vec())
    }

    /// Covariances of the whitened x with one of the first values of w.
    fn covariances(&self, i: usize) -> Vec<f64> {
        let (p, until) = (self.coefficients.ar.len(), self.corrections.until);
        let mut raw = vec![0.0; self.layout.count];
        for (place, value) in raw[..until].iter_mut().enumerate() {
            *value = self.cross.above_least(place + p + 1 - i);
        }
        let whitening = self.whitening();
        let mut filtered = whitening.filtered(&raw);
        // The filter leaves nothing of what comes later.
        filtered[until..].fill(0.0);
        whitening.of_filtered(&filtered)
    }
}

/// `D⁻¹ c` for a variance D, what it has as good as none of left out.
fn solved(variance: &DMatrix<f64>, c: &DVector<f64>) -> DVector<f64> {
    let size = c.len();
    let mut factor = variance.clone();
    let mut out = c.clone();
    for j in 0..size {
        let pivot = factor[(j, j)];
        if pivot < KNOWN {
            out[j] = 0.0;
            factor.column_mut(j).fill(0.0);
            factor[(j, j)] = 1.0;
            continue;
        }
        for i in j + 1..size {
            let share = factor[(i, j)] / pivot;
            out[i] -= share * out[j];
            for k in j + 1..=i {
                factor[(i, k)] -= share * factor[(k, j)];
            }
        }
        for i in j + 1..size {
            factor[(i, j)] /= pivot;
        }
        out[j] /= pivot;
    }
    for j in (0..size).rev() {
        for i in j + 1..size {
            out[j] -= factor[(i, j)] * out[i];
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arma;
    use crate::num::rng::NormalStream;

    fn near(a: f64, b: f64) -> bool {
        (a - b).abs() < 1e-8 * (1.0 + b.abs())
    }

    fn models() -> Vec<(usize, Coefficients)> {
        let of = |ar: &[f64], ma: &[f64], seasonal_ar: &[f64], seasonal_ma: &[f64]| Coefficients {
            ar: ar.to_vec(),
            ma: ma.to_vec(),
            seasonal_ar: seasonal_ar.to_vec(),
            seasonal_ma: seasonal_ma.to_vec(),
        };
        vec![
            (1, of(&[], &[], &[], &[])),
            (1, of(&[0.7], &[], &[], &[])),
            (1, of(&[], &[-0.6, 0.2], &[], &[])),
            (1, of(&[0.5, 0.3, -0.2], &[0.4, 0.1], &[], &[])),
            (12, of(&[], &[-0.4], &[], &[-0.6])),
            (12, of(&[0.6], &[0.4], &[0.5], &[])),
            (4, of(&[0.5, 0.2, -0.1], &[-0.3, 0.2, 0.1], &[0.4, 0.1], &[-0.6, 0.2])),
            (4, of(&[0.5], &[0.3], &[0.4, 0.3], &[-0.6])),
            (7, of(&[0.9], &[-0.95], &[0.9], &[-0.99])),
            // A season longer than the shortest series, one of two thirds of the longest.
            (17, of(&[0.5], &[-0.4], &[0.3], &[-0.6])),
            (52, of(&[0.5, -0.3], &[-0.4, 0.2], &[0.3], &[-0.6])),
            // Moving averages that can barely be inverted, or not at all.
            (7, of(&[0.3], &[-1.0], &[], &[-1.0])),
            // Moving averages as long as the season.
            (2, of(&[0.4], &[0.3, -0.2, 0.1], &[0.2], &[-0.5])),
            // Factors that cancel.
            (12, of(&[0.5], &[-0.5], &[0.4], &[-0.3])),
            (12, of(&[0.5, 0.2], &[-0.5], &[0.4], &[-0.4])),
            (4, of(&[1.9, -0.92], &[0.5], &[0.5], &[])),
        ]
    }

    /// The filter that knows nothing of seasons.
    fn plain(model: &Coefficients, season: usize, n: usize) -> arma::Whitening {
        let mixture = arma::Mixture { ar: model.long_ar(season), ma: model.long_ma(season) };
        arma::Whitening::new(&mixture, n).expect("stationary")
    }

    #[test]
    fn one_step_errors_forecasts_and_responses_are_those_of_the_plain_filter() {
        let ahead = 9;
        for (season, model) in models() {
            for n in [13, 30, 77] {
                let plain = plain(&model, season.max(2), n + ahead);
                let ours = Predictor::new(&model, season.max(2), n + ahead).expect("stationary");
                let values = NormalStream::new(41, n as u64).take(n);
                let place = format!("{model:?} {season} {n}");
                for (t, (ours, plain)) in
                    ours.innovations(&values).iter().zip(plain.innovations(&values)).enumerate()
                {
                    assert!(
                        near(ours.0, plain.0) && near(ours.1, plain.1),
                        "{place} {t}: {ours:?} {plain:?}"
                    );
                }
                assert_eq!(ours.innovations(&values).len(), n);
                for (ours, plain) in
                    ours.continued(&values, ahead).iter().zip(plain.continued(&values, ahead))
                {
                    assert!(near(*ours, plain), "{place}: {ours} {plain}");
                }
                for (ours, plain) in ours.responses(n, ahead).iter().zip(plain.responses(n, ahead)) {
                    assert!(ours.len() == plain.len(), "{place}");
                    assert!(
                        ours.iter().zip(&plain).all(|(a, b)| near(*a, *b)),
                        "{place}: {ours:?} {plain:?}"
                    );
                }
            }
        }
    }

    #[test]
    fn factors_that_all_but_cancel_cost_some_digits_at_worst() {
        // The first value adds to the second one part in a large number, which the x in between add too.
        for digits in 1..12 {
            let apart = 0.1_f64.powi(digits);
            let model = Coefficients {
                ar: vec![0.5],
                ma: vec![apart - 0.5],
                seasonal_ar: vec![0.4],
                seasonal_ma: vec![-0.3],
            };
            let values = NormalStream::new(42, 0).take(50);
            let ours = Predictor::new(&model, 12, values.len()).expect("stationary").innovations(&values);
            for (ours, plain) in ours.iter().zip(plain(&model, 12, values.len()).innovations(&values)) {
                assert!((ours.0 - plain.0).abs() < 1e-5 && (ours.1 - plain.1).abs() < 1e-5, "{apart}");
            }
        }
    }
}
