use nalgebra::DMatrix;

use super::columns::{Column, Piece};
use super::dual::Dual;
use super::kernels::{add, recur_backwards};
use super::seasonal::Seasonal;
use super::workings::{Small, Workings};
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
    for piece in &data.pieces {
        let own = back.piece(piece, &[(&combined, rate)]);
        back.recursion(piece, own, Some(w));
    }
    let (unknown, observed) = workings.corrections.split_at(workings.coefficients.ma.len());
    let shares = Shares::new(small);
    for (a, column) in unknown.iter().enumerate() {
        let mut sources = vec![(&combined, rate * small.solved[a])];
        sources.extend(unknown.iter().zip(shares.unknown.column(a).iter().copied()));
        sources.extend(observed.iter().zip(shares.crossed.row(a).iter().copied()));
        for piece in &column.pieces {
            let own = back.piece(piece, &sources);
            back.recursion(piece, own, None);
        }
    }
    let mut of_c = vec![0.0; workings.cross.len()];
    for (i, column) in observed.iter().enumerate() {
        let mut sources = vec![(&combined, -rate * small.kappa[i])];
        sources.extend(unknown.iter().zip(shares.crossed.column(i).iter().copied()));
        sources.extend(observed.iter().zip(small.rest.column(i).iter().map(|value| -value)));
        for piece in &column.pieces {
            let own = back.piece(piece, &sources);
            back.covariances(i + 1, &own, piece, &mut of_c);
        }
    }
    back.first_values(small, of_c);
    back.seasonal()
}

/// Shares of whitened columns in the slopes of others, of the determinant.
struct Shares {
    /// `A⁻¹ - Π D⁻¹ Π'`.
    unknown: DMatrix<f64>,
    /// `Π D⁻¹`.
    crossed: DMatrix<f64>,
}

impl Shares {
    fn new(small: &Small) -> Self {
        let crossed = &small.pi * &small.rest;
        Self { unknown: &small.inverse - &crossed * small.pi.transpose(), crossed }
    }
}

struct Back<'a, 'b> {
    workings: &'a Workings<'b>,
    /// The share of S in what the slope is of.
    rate: f64,
    ar: Vec<f64>,
    ma: Vec<f64>,
    seasonal_ar: Vec<f64>,
    gamma: Vec<f64>,
    /// Slopes of the variance of each step, and of its weights in as many places as it keeps.
    variance: Vec<f64>,
    weights: Vec<f64>,
}

impl<'a, 'b> Back<'a, 'b> {
    fn new(workings: &'a Workings<'b>, rate: f64) -> Self {
        let coefficients = workings.coefficients;
        let steps = workings.seasonal.settled() + 1;
        Self {
            workings,
            rate,
            ar: vec![0.0; coefficients.ar.len()],
            ma: vec![0.0; coefficients.ma.len()],
            seasonal_ar: vec![0.0; coefficients.seasonal_ar.len()],
            gamma: vec![0.0; workings.seasonal.gamma.len()],
            variance: vec![0.0; steps],
            weights: vec![0.0; steps * workings.seasonal.stride()],
        }
    }

    /// `V ζ` over the variances: the one combination of whitened columns that S sees.
    fn combined(&self, small: &Small, data: &Column) -> Column {
        let mut all = data.over_only();
        let signed = small.solved.iter().copied().chain(small.kappa.iter().map(|value| -value));
        for (column, share) in self.workings.corrections.iter().zip(signed) {
            for target in &mut all.pieces {
                add_shared(target, column, share);
            }
        }
        all
    }

    /// `ln |Σ|` through the variances.
    fn variances_of_determinant(&mut self) {
        let seasonal = &self.workings.seasonal;
        for (step, range) in self.workings.grid.stretches(seasonal.settled()) {
            self.variance[step] += range.len() as f64 / seasonal.variance(step);
        }
    }

    /// From twice a sum of whitened columns, the slopes of a piece of a whitened column, to those
    /// of its values.
    fn piece(&mut self, piece: &Piece, sources: &[(&Column, f64)]) -> Vec<f64> {
        let mut slopes = vec![0.0; piece.grid.count];
        for (column, share) in sources {
            for other in &column.pieces {
                for same in piece.shared(other) {
                    add(&mut slopes[same.own()], 2.0 * share, &other.over[same.theirs()]);
                }
            }
        }
        self.whitening(piece, slopes)
    }

    /// Back through the whitening of a piece, from its last period on.
    fn whitening(&mut self, piece: &Piece, mut white: Vec<f64>) -> Vec<f64> {
        let seasonal = &self.workings.seasonal;
        let (s, grid, stride) = (piece.grid.season, piece.grid, seasonal.stride());
        let settled = seasonal.settled();
        let late = (settled * s).min(grid.count)..grid.count;
        self.variance[settled] -= 0.5 * dot(&piece.over[late.clone()], &white[late.clone()]);
        for period in (0..grid.periods()).rev() {
            let range = grid.range(period);
            let (now, after) = white[range.start..].split_at_mut(range.len());
            // The weight with which each later period looks back on this one.
            let ahead = (1..)
                .zip(after.chunks(s))
                .map_while(|(j, later)| Some((*seasonal.weights(period + j).get(j - 1)?, later)));
            if period >= settled {
                ahead.for_each(|(weight, later)| add(now, -weight, later));
                continue;
            }
            self.variance[period] -= 0.5 * dot(now, &piece.over[range.clone()]);
            ahead.for_each(|(weight, later)| add(now, -weight, later));
            let own = period * stride..period * stride + seasonal.weights(period).len();
            for (slope, earlier) in self.weights[own].iter_mut().zip(piece.white[..range.start].rchunks(s)) {
                *slope -= dot(now, earlier);
            }
        }
        for (j, slope) in (1..=seasonal.weights(settled).len()).zip(&mut self.weights[settled * stride..]) {
            let earlier = late.start.saturating_sub(j * s)..late.end.saturating_sub(j * s);
            *slope -= dot(&white[late.clone()], &piece.white[earlier]);
        }
        let until = piece.input_ends.min(grid.count);
        let first = (seasonal.raw * s).min(until);
        let ar = &self.workings.coefficients.seasonal_ar;
        if ar.is_empty() {
            white[until..].fill(0.0);
            return white;
        }
        for (i, slope) in (1..).zip(&mut self.seasonal_ar) {
            *slope -= dot(&white[first..until], &piece.raw[first - i * s..]);
        }
        let mut raw = white.clone();
        raw[until..].fill(0.0);
        for (i, phi) in (1..).zip(ar) {
            add(&mut raw[first - i * s..], -phi, &white[first..until]);
        }
        raw
    }

    /// Back through `x_τ = u_τ - Σ θ_j x_{τ-j}`; of a series also through `u = φ(B) w`.
    fn recursion(&mut self, piece: &Piece, mut slopes: Vec<f64>, w: Option<&[f64]>) {
        let ma = &self.workings.coefficients.ma;
        let q = ma.len();
        // Responses lie in the first period, or in all phases.
        let narrow = piece.grid.season < self.workings.grid.season;
        let end = piece.raw_ends.min(if narrow { piece.grid.season } else { piece.grid.count });
        slopes.truncate(end);
        recur_backwards(&mut slopes, ma);
        let start = q.min(slopes.len());
        for (j, slope) in (1..).zip(&mut self.ma) {
            *slope -= dot(&slopes[start..], &piece.raw[start - j..]);
        }
        if let Some(w) = w {
            let p = self.ar.len();
            for (i, slope) in (1..).zip(&mut self.ar) {
                // Place τ is time τ + p - q, counted from nought.
                *slope -= dot(&slopes[q..], &w[p - i..]);
            }
        }
    }

    /// Adds the slopes of the covariances that a piece holds.
    fn covariances(&self, i: usize, raw: &[f64], piece: &Piece, of_c: &mut [f64]) {
        let shift = self.ar.len() + 1 - i + piece.first;
        for (period, slopes) in raw[..piece.raw_ends.min(raw.len())].chunks(piece.grid.season).enumerate() {
            let start = period * self.workings.grid.season + shift;
            add(&mut of_c[start..], 1.0, slopes);
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
        let coefficients = self.workings.coefficients;
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
            let seasonal = Seasonal::new(ar, ma, self.workings.grid.periods())?;
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

/// Adds a share of a column, over its variances, where a piece has the same places.
fn add_shared(target: &mut Piece, column: &Column, share: f64) {
    for other in &column.pieces {
        let places: Vec<_> = target.shared(other).collect();
        for same in places {
            add(&mut target.over[same.own()], share, &other.over[same.theirs()]);
        }
    }
}
