//! The slope of the likelihood, by hand in reverse.

use nalgebra::DMatrix;

use super::corrections::across;
use super::dual::Dual;
use super::kernels::{add, recur_backwards};
use super::plan::{CorrectionFactor, LikelihoodPlan, SeriesTerms};
use super::profiles::within;
use super::seasonal::Seasonal;
use super::whitening::WhitenedColumn;
use crate::num::sum::dot;

/// A series of which the slope sees the sum of squares.
pub(in crate::arima) struct Part<'a> {
    pub w: &'a [f64],
    pub data: &'a WhitenedColumn,
    pub small: &'a SeriesTerms,
    /// The share of its sum of squares.
    pub rate: f64,
}

/// Slopes of `ln |A| + ln |D|` with respect to the products of all corrections.
fn determinant(frame: &CorrectionFactor) -> DMatrix<f64> {
    let (q, p) = frame.pi.shape();
    let crossed = &frame.pi * &frame.rest;
    let mut all = DMatrix::zeros(q + p, q + p);
    all.view_mut((0, 0), (q, q)).copy_from(&(&frame.inverse - &crossed * frame.pi.transpose()));
    all.view_mut((0, q), (q, p)).copy_from(&crossed);
    all.view_mut((q, 0), (p, q)).copy_from(&crossed.transpose());
    all.view_mut((q, q), (p, p)).copy_from(&-&frame.rest);
    all
}

/// The slope of `ln |Σ|` and a share of the sum of squares of each part, with respect to φ, θ, Φ, Θ
/// in turn, by going backwards through every step of the likelihood.
///
/// # Method
/// A sum of squares sees one combination ζ of the series and the corrections: its slope with
/// respect to any column is a share of `Ω⁻¹ ζ`. The determinant sees the corrections through
/// products of their profiles and sequences only. What all parts have in common is gone through
/// once, at the end.
pub(in crate::arima) struct Back<'a, 'b> {
    plan: &'a LikelihoodPlan<'b>,
    ar: Vec<f64>,
    ma: Vec<f64>,
    seasonal_ar: Vec<f64>,
    gamma: Vec<f64>,
    /// Slopes of the variance of each step, and of its weights in as many places as it keeps.
    variance: Vec<f64>,
    weights: Vec<f64>,
    /// Slopes of the profiles and of the filtered sequences.
    profiles: Vec<f64>,
    sequences: Vec<f64>,
    /// Of the autocovariances of w.
    own: Vec<f64>,
}

impl<'a, 'b> Back<'a, 'b> {
    /// That of the determinant.
    pub fn new(plan: &'a LikelihoodPlan<'b>, frame: &CorrectionFactor) -> Self {
        let (coefficients, corrections) = (plan.coefficients, &plan.corrections);
        let steps = plan.seasonal.settled() + 1;
        let products = corrections.gram_backwards(&determinant(frame));
        let p = coefficients.ar.len();
        let mut back = Self {
            plan,
            ar: vec![0.0; p],
            ma: vec![0.0; coefficients.ma.len()],
            seasonal_ar: vec![0.0; coefficients.seasonal_ar.len()],
            gamma: vec![0.0; plan.seasonal.gamma.len()],
            variance: vec![0.0; steps],
            weights: vec![0.0; steps * plan.seasonal.stride()],
            profiles: corrections.profiles.products_backwards(&products.profiles, plan.layout),
            sequences: Vec::new(),
            own: vec![0.0; p + 1],
        };
        back.variances_of_determinant();
        back.sequences = corrections.sequences.whitening_backwards(
            &products.sequences,
            &plan.whitening(),
            &mut back.variance,
            &mut back.weights,
        );
        for i in 0..p {
            for j in 0..p {
                back.own[i.abs_diff(j)] += frame.rest[(i, j)];
            }
        }
        back
    }

    /// Adds that of a sum of squares.
    pub fn add(&mut self, part: &Part<'_>) {
        let SeriesTerms { solved, kappa, .. } = part.small;
        for i in 0..self.ar.len() {
            for j in 0..self.ar.len() {
                self.own[i.abs_diff(j)] -= part.rate * kappa[i] * kappa[j];
            }
        }
        let shares: Vec<f64> = solved.iter().copied().chain(kappa.iter().map(|value| -value)).collect();
        let combined = self.plan.corrections.combined(&shares);
        let solved = self.sum_of_squares(part, &combined);
        self.series(part, &solved);
        self.add_combination(&solved, &combined, &shares);
    }

    /// All of it.
    pub fn slope(mut self) -> Option<Vec<f64>> {
        let of_carried = self.carried_responses();
        self.responses(&of_carried);
        self.first_values();
        self.seasonal()
    }

    /// A sum of squares through the numbers of the whitening: the series and all corrections as one
    /// column. Its slope with respect to that column.
    fn sum_of_squares(&mut self, part: &Part<'_>, combined: &[f64]) -> Vec<f64> {
        let whitening = self.plan.whitening();
        let (s, count) = (self.plan.layout.season, self.plan.layout.count);
        let all = self.plan.with_corrections(part.data, combined);
        // What the slope with respect to the column is made of, at once.
        let (white, over) = whitening.white(all, 2.0 * part.rate);
        for (step, range) in self.plan.layout.stretches(self.plan.seasonal.settled()) {
            self.variance[step] -= dot(&over[range.clone()], &over[range]) / (4.0 * part.rate);
        }
        let solved = whitening.backwards(over);
        let (seasonal, stride) = (&self.plan.seasonal, self.plan.seasonal.stride());
        for (step, range) in self.plan.layout.stretches(seasonal.settled()) {
            let own = &solved[range.start..range.end.min(count)];
            let slopes = self.weights[step * stride..].iter_mut().take(seasonal.weights(step).len());
            for (j, slope) in (1..).zip(slopes) {
                *slope -= dot(own, &white[range.start - j * s..]);
            }
        }
        solved
    }

    /// `ln |Σ|` through the variances.
    fn variances_of_determinant(&mut self) {
        let seasonal = &self.plan.seasonal;
        for (step, range) in self.plan.layout.stretches(seasonal.settled()) {
            self.variance[step] += range.len() as f64 / seasonal.variance(step);
        }
    }

    /// Back from the filtered series through `u = φ(B) w` too.
    fn series(&mut self, part: &Part<'_>, solved: &[f64]) {
        let Part { data, w, .. } = part;
        let slopes = self.plan.whitening().filter_backwards(solved, &data.raw, &mut self.seasonal_ar);
        let (p, q) = (self.ar.len(), self.ma.len());
        let slopes = self.recursion(&data.raw, slopes);
        for (i, slope) in (1..).zip(&mut self.ar) {
            // Place τ is time τ + p - q, counted from zero.
            *slope -= dot(&slopes[q..], &w[p - i..]);
        }
    }

    /// Back through `x_τ = u_τ - Σ θ_j x_{τ-j}`.
    fn recursion(&mut self, raw: &[f64], mut slopes: Vec<f64>) -> Vec<f64> {
        let ma = &self.plan.coefficients.ma;
        recur_backwards(&mut slopes, ma);
        let start = ma.len().min(slopes.len());
        for (j, slope) in (1..).zip(&mut self.ma) {
            *slope -= dot(&slopes[start..], &raw[start - j..]);
        }
        slopes
    }

    /// What the combination of all columns says of profiles and sequences.
    fn add_combination(&mut self, solved: &[f64], combined: &[f64], shares: &[f64]) {
        let corrections = &self.plan.corrections;
        let (reach, width) = (corrections.sequences.reach, corrections.profiles.width);
        let rows = self.profiles.chunks_exact_mut(width).zip(combined.chunks_exact(reach.max(1)));
        for (which, (slopes, shares)) in rows.enumerate() {
            for (period, share) in solved.chunks(width).zip(shares).filter(|(_, share)| share.abs() > 0.0) {
                for own in within(corrections.profiles.stretches(which), period.len()) {
                    add(&mut slopes[own.clone()], *share, &period[own]);
                }
            }
        }
        let with_profiles = corrections.with_profiles(solved);
        for (column, share) in shares.iter().enumerate() {
            for term in corrections.terms(column) {
                let products = &with_profiles[term.profile * reach..][..reach];
                add(&mut self.sequences[term.sequence * reach..][..reach], *share, products);
            }
        }
    }

    /// Back to the responses a season on, of which the sequences are powers.
    fn carried_responses(&mut self) -> Vec<f64> {
        let corrections = &self.plan.corrections;
        let whitening = self.plan.whitening();
        let slopes =
            corrections.sequences.filter_backwards(&self.sequences, &whitening, &mut self.seasonal_ar);
        if corrections.is_long {
            let (q, kept) = (self.ma.len(), corrections.sequences.kept);
            powers_backwards(&across(&corrections.sequences.raw, kept), across(&slopes, kept), q)
        } else {
            Vec::new()
        }
    }

    /// Back through the recursion of the responses.
    fn responses(&mut self, of_carried: &[f64]) {
        let (q, season) = (self.ma.len(), self.plan.layout.season);
        let of_profiles = std::mem::take(&mut self.profiles);
        let rows = of_profiles.chunks_exact(season);
        for (a, (response, own)) in self.plan.corrections.responses.iter().zip(rows).enumerate() {
            let mut slopes = own[..response.len().min(season)].to_vec();
            slopes.resize(response.len(), 0.0);
            let later = slopes.iter_mut().skip(season);
            for (slope, carried) in later.zip(of_carried.iter().skip(a).step_by(q)) {
                *slope += carried;
            }
            self.recursion(response, slopes);
        }
        self.profiles = of_profiles;
    }

    /// Slopes of the covariances, in the order in which they are kept.
    fn covariances(&mut self) -> Vec<f64> {
        let LikelihoodPlan { coefficients, corrections, cross, layout, seasonal, .. } = self.plan;
        let (p, q, covered) = (self.ar.len(), self.ma.len(), corrections.covered);
        let mut of_c = vec![0.0; cross.len()];
        for (which, slopes) in self.profiles.chunks_exact(layout.season).skip(q).enumerate() {
            let (i, period) = (which / covered + 1, which % covered);
            let start = period * layout.season + p + 1 - i;
            let slopes = &slopes[..slopes.len().min(corrections.until - period * layout.season)];
            add(&mut of_c[start..], 1.0, slopes);
            if period < seasonal.raw {
                continue;
            }
            for ((j, phi), slope) in (1..).zip(&coefficients.seasonal_ar).zip(&mut self.seasonal_ar) {
                let earlier = start - j * layout.season;
                add(&mut of_c[earlier..], -phi, slopes);
                *slope -= dot(slopes, &cross.all()[earlier..]);
            }
        }
        of_c
    }

    /// The covariance of the first values of w, and all that lies behind the covariances.
    fn first_values(&mut self) {
        if self.ar.is_empty() {
            return;
        }
        let of_c = self.covariances();
        let slopes = self.plan.cross.slopes(self.plan.source(), of_c, &self.own);
        add(&mut self.ar, 1.0, &slopes.ar);
        add(&mut self.ma, 1.0, &slopes.ma);
        add(&mut self.seasonal_ar, 1.0, &slopes.seasonal_ar);
        add(&mut self.gamma, 1.0, &slopes.gamma);
    }

    /// Φ and Θ through the seasonal numbers, by carrying derivatives forwards.
    fn seasonal(self) -> Option<Vec<f64>> {
        let coefficients = self.plan.coefficients;
        let (p, q) = (coefficients.seasonal_ar.len(), coefficients.seasonal_ma.len());
        let mut slopes = match p + q {
            0 => Vec::new(),
            1 => self.by_duals::<1>()?,
            2 => self.by_duals::<2>()?,
            _ => self.by_duals::<4>()?,
        };
        add(&mut slopes, 1.0, &self.seasonal_ar);
        Some([self.ar, self.ma, slopes].concat())
    }

    fn by_duals<const AT_ONCE: usize>(&self) -> Option<Vec<f64>> {
        let coefficients = self.plan.coefficients;
        let flat = [coefficients.seasonal_ar.as_slice(), &coefficients.seasonal_ma].concat();
        let mut out = Vec::with_capacity(flat.len());
        for start in (0..flat.len()).step_by(AT_ONCE) {
            let duals: Vec<Dual<AT_ONCE>> = flat
                .iter()
                .enumerate()
                .map(|(place, value)| {
                    let mut slope = [0.0; AT_ONCE];
                    if let Some(own) = place.checked_sub(start).and_then(|k| slope.get_mut(k)) {
                        *own = 1.0;
                    }
                    Dual { value: *value, slope }
                })
                .collect();
            let (ar, ma) = duals.split_at(coefficients.seasonal_ar.len());
            let seasonal = Seasonal::new(ar, ma, self.plan.layout.periods())?;
            let sums = self.carried(&seasonal);
            out.extend(sums.into_iter().take(flat.len() - start));
        }
        Some(out)
    }

    /// The slope along each direction of the seasonal numbers.
    fn carried<const AT_ONCE: usize>(&self, seasonal: &Seasonal<Dual<AT_ONCE>>) -> [f64; AT_ONCE] {
        let mut sums = [0.0; AT_ONCE];
        let mut carry = |number: &Dual<AT_ONCE>, slope: f64| {
            for (sum, own) in sums.iter_mut().zip(number.slope) {
                *sum += own * slope;
            }
        };
        for (gamma, slope) in seasonal.gamma.iter().zip(&self.gamma) {
            carry(gamma, *slope);
        }
        let (last, stride) = (self.variance.len() - 1, seasonal.stride());
        for (k, slope) in self.variance.iter().enumerate() {
            // The steps of plain numbers may settle earlier than those with derivatives.
            let step = if k == last { usize::MAX } else { k };
            carry(&seasonal.variance(step), *slope);
            for (weight, slope) in seasonal.weights(step).iter().zip(&self.weights[k * stride..]) {
                carry(weight, *slope);
            }
        }
        sums
    }
}

/// From the slopes of the powers of a matrix to that of the matrix.
fn powers_backwards(powers: &[f64], mut slopes: Vec<f64>, size: usize) -> Vec<f64> {
    let square = size * size;
    let step = powers.get(square..2 * square).unwrap_or_default().to_vec();
    let mut out = vec![0.0; square];
    for power in (1..powers.len() / square).rev() {
        let (before, own) = slopes.split_at_mut(power * square);
        let before = &mut before[(power - 1) * square..];
        let earlier = &powers[(power - 1) * square..power * square];
        // Row i of a power is the sum over k of step_ik times row k of the one before.
        let rows = own.chunks_exact(size).zip(step.chunks_exact(size)).zip(out.chunks_exact_mut(size));
        for ((own, shares), slopes) in rows {
            let earlier = earlier.chunks_exact(size).zip(before.chunks_exact_mut(size));
            for ((slope, share), (earlier, before)) in slopes.iter_mut().zip(shares).zip(earlier) {
                *slope += own.iter().zip(earlier).map(|(a, b)| a * b).sum::<f64>();
                add(before, *share, own);
            }
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arima::engine::corrections::powers;

    #[test]
    fn slopes_of_powers_are_those_of_small_steps() {
        let (size, most) = (3, 5);
        let step = [0.5, -0.2, 0.1, 0.3, 0.4, 0.0, -0.1, 0.2, 0.6];
        let weights: Vec<f64> = (0..size * size * most).map(|k| (k as f64 * 0.7).sin()).collect();
        let form = |step: &[f64]| dot(&powers(step, size, most), &weights);
        let ours = powers_backwards(&powers(&step, size, most), weights.clone(), size);
        for (place, slope) in ours.iter().enumerate() {
            let moved = |by: f64| {
                let mut other = step;
                other[place] += by;
                form(&other)
            };
            let plain = (moved(1e-6) - moved(-1e-6)) / 2e-6;
            assert!((slope - plain).abs() < 1e-8, "{place}: {slope} {plain}");
        }
    }
}
