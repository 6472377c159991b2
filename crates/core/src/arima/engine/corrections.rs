//! The columns that correct the ends: M for the innovations before the sample, C for the first values.

use std::ops::Range;

use nalgebra::{DMatrix, DVector};

use super::cross::Cross;
use super::kernels::{add, recur_forwards};
use super::layout::{NEGLIGIBLE, SeasonLayout};
use super::profiles::{Profiles, within};
use super::sequences::Sequences;
use super::symmetric::SymmetricBlocks;
use super::whitening::Whitening;
use crate::arima::coefficients::Coefficients;
use crate::num::sum::dot;

/// The columns that correct for the unknown first values of x, then those of the covariances of x
/// with the first values of w, all after the autoregressive filter.
///
/// Each is a sum of profiles over the phases of a season, each of them times a sequence over the
/// periods: what a season's process makes of a column needs the sequences alone.
pub(in crate::arima) struct Corrections {
    pub profiles: Profiles,
    pub sequences: Sequences,
    /// Responses of x to each of its unknown first values, from the first of these on.
    pub responses: Vec<Vec<f64>>,
    /// Whether responses reach into a second period.
    pub is_long: bool,
    /// Periods in which there are covariances.
    pub covered: usize,
    /// From this place on the autoregressive filter leaves nothing of them.
    pub until: usize,
    /// First values of w.
    observed: usize,
    pub products: Products,
}

/// A profile times a sequence.
#[derive(Debug, Clone, Copy)]
pub(in crate::arima) struct Term {
    pub profile: usize,
    pub sequence: usize,
}

/// Products of profiles and of whitened sequences.
pub(in crate::arima) struct Products {
    pub profiles: SymmetricBlocks,
    pub sequences: SymmetricBlocks,
}

impl Corrections {
    pub fn new(coefficients: &Coefficients, cross: &Cross, whitening: &Whitening<'_>) -> Self {
        let (p, q) = (coefficients.ar.len(), coefficients.ma.len());
        let SeasonLayout { count, season } = whitening.layout;
        let reach = if whitening.layout.periods() > 1 { season + q } else { count };
        let responses: Vec<Vec<f64>> = (0..q).map(|place| response(place, &coefficients.ma, reach)).collect();
        let carried = carried(&responses, season);
        let is_long = whitening.layout.periods() > 1 && carried.iter().any(|value| value.abs() > NEGLIGIBLE);
        let covariances = Covariances { p, q, cross, whitening };
        let covered = covariances.periods();
        let raw = match (q, is_long) {
            (0, _) => Vec::new(),
            (_, false) => vec![1.0],
            (_, true) => across(&powers(&carried, q, whitening.layout.periods()), q * q),
        };
        let of_x = if q == 0 {
            0
        } else if is_long {
            q * q
        } else {
            1
        };
        let sequences = Sequences::new(raw, of_x, covered, whitening);
        let profiles = covariances.joined(&responses);
        let products =
            Products { profiles: profiles.products(whitening.layout), sequences: sequences.products() };
        let until = covariances.until();
        Self { profiles, sequences, responses, is_long, covered, until, observed: p, products }
    }

    /// Columns: the unknown first values of x, then the first values of w.
    pub fn count(&self) -> usize {
        self.responses.len() + self.observed
    }

    /// What a column consists of.
    pub fn terms(&self, column: usize) -> impl Iterator<Item = Term> + Clone + use<> {
        let (q, covered, of_x) = (self.responses.len(), self.covered, self.sequences.of_x);
        let (terms, profile, sequence, apart) = match column.checked_sub(q) {
            None if self.is_long => (q, 0, column, q),
            None => (1, column, 0, 0),
            Some(i) => (covered, q + i * covered, of_x, 1),
        };
        (0..terms).map(move |k| Term { profile: profile + k, sequence: sequence + k * apart })
    }

    /// `u_a' Ω⁻¹ u_b` of all columns.
    pub fn gram(&self) -> DMatrix<f64> {
        let count = self.count();
        let mut gram = DMatrix::zeros(count, count);
        for a in 0..count {
            for b in 0..=a {
                let pairs = self.terms(a).flat_map(|one| self.terms(b).map(move |two| (one, two)));
                let value = pairs.map(|(one, two)| {
                    let [whole, last] = self.products.profiles.both(one.profile, two.profile);
                    let [over_whole, over_last] = self.products.sequences.both(one.sequence, two.sequence);
                    whole * over_whole + last * over_last
                });
                gram[(a, b)] = value.sum();
                gram[(b, a)] = gram[(a, b)];
            }
        }
        gram
    }

    /// Slopes of the products, from those of the matrix of all columns.
    pub fn gram_backwards(&self, of_gram: &DMatrix<f64>) -> Products {
        let mut out = Products {
            profiles: SymmetricBlocks::new(self.profiles.count()),
            sequences: SymmetricBlocks::new(self.sequences.count),
        };
        for a in 0..self.count() {
            for b in 0..=a {
                // Each pair of columns in one order only.
                let slope = if a == b { of_gram[(a, b)] } else { 2.0 * of_gram[(a, b)] };
                let by = |pair: [f64; 2]| pair.map(|value| slope * value);
                for one in self.terms(a) {
                    for two in self.terms(b) {
                        let profiles = self.products.profiles.both(one.profile, two.profile);
                        let sequences = self.products.sequences.both(one.sequence, two.sequence);
                        out.profiles.add(one.profile, two.profile, by(sequences));
                        out.sequences.add(one.sequence, two.sequence, by(profiles));
                    }
                }
            }
        }
        out
    }

    /// Products of each profile with each period of a series in which it is, profile by
    /// profile.
    pub fn with_profiles(&self, series: &[f64]) -> Vec<f64> {
        let (q, reach) = (self.responses.len(), self.sequences.reach);
        let mut out = vec![0.0; reach * self.profiles.count()];
        for (which, row) in out.chunks_exact_mut(reach.max(1)).enumerate() {
            // Covariances are in one period.
            let only = which.checked_sub(q).map(|which| which % self.covered);
            for (k, (place, period)) in row.iter_mut().zip(series.chunks(self.profiles.width)).enumerate() {
                if only.is_none_or(|only| k == only) {
                    *place = self.profiles.dot(which, period);
                }
            }
        }
        out
    }

    /// Products of all columns with a series, from those of the profiles.
    pub fn with_columns(&self, with_profiles: &[f64]) -> DVector<f64> {
        let reach = self.sequences.reach;
        let product = |column: usize| {
            let one = |term: Term| {
                dot(self.sequence(term.sequence), &with_profiles[term.profile * reach..][..reach])
            };
            self.terms(column).map(one).sum()
        };
        DVector::from_iterator(self.count(), (0..self.count()).map(product))
    }

    /// The share of each profile in each period in a sum of the columns, profile by profile.
    pub fn combined(&self, shares: &[f64]) -> Vec<f64> {
        let reach = self.sequences.reach;
        let mut out = vec![0.0; reach * self.profiles.count()];
        for (column, share) in shares.iter().enumerate() {
            for term in self.terms(column) {
                add(&mut out[term.profile * reach..][..reach], *share, self.sequence(term.sequence));
            }
        }
        out
    }

    fn sequence(&self, which: usize) -> &[f64] {
        let reach = self.sequences.reach;
        &self.sequences.filtered[which * reach..][..reach]
    }
}

/// The columns of a matrix with that number of them one after the other, or the rows of one with so
/// many rows.
pub(in crate::arima) fn across(values: &[f64], columns: usize) -> Vec<f64> {
    let mut out = Vec::with_capacity(values.len());
    for j in 0..columns {
        out.extend(values.iter().skip(j).step_by(columns));
    }
    out
}

/// The covariances of x with each of the first values of w.
struct Covariances<'a, 'b> {
    p: usize,
    q: usize,
    cross: &'a Cross,
    whitening: &'a Whitening<'b>,
}

impl Covariances<'_, '_> {
    /// From this place on the autoregressive filter leaves nothing.
    fn until(&self) -> usize {
        let layout = self.whitening.layout;
        (layout.season * self.whitening.steps.raw + self.q).min(layout.count)
    }

    fn periods(&self) -> usize {
        if self.p == 0 { 0 } else { self.until().div_ceil(self.whitening.layout.season) }
    }

    /// Place τ is the lag τ + p + 1 - q - i.
    fn covariance(&self, i: usize, place: usize) -> f64 {
        self.cross.above_least(place + self.p + 1 - i)
    }

    /// The profiles of the responses and, with them, of the covariances.
    fn joined(&self, responses: &[Vec<f64>]) -> Profiles {
        let (width, until) = (self.whitening.layout.season, self.until());
        let longest = responses.iter().map(Vec::len).fold(0, usize::max).min(width);
        let is_something = |place: usize| (1..=self.p).any(|i| self.covariance(i, place).abs() > NEGLIGIBLE);
        let observed = if self.p == 0 { Vec::new() } else { windows(width, until, is_something) };
        let mut values = vec![0.0; (responses.len() + self.p * self.periods()) * width];
        let mut rows = values.chunks_exact_mut(width);
        for (response, row) in responses.iter().zip(&mut rows) {
            row.iter_mut().zip(response).for_each(|(place, value)| *place = *value);
        }
        for i in 1..=self.p {
            for (period, row) in (0..self.periods()).zip(&mut rows) {
                let start = period * width;
                for phase in within(&observed, until - start).flatten() {
                    row[phase] = self.filtered(i, start + phase);
                }
            }
        }
        let unknown = std::iter::once(0..longest).collect();
        Profiles { width, first: responses.len(), values, stretches: [unknown, observed] }
    }

    fn filtered(&self, i: usize, place: usize) -> f64 {
        let (ar, season) = (self.whitening.ar, self.whitening.layout.season);
        let own = self.covariance(i, place);
        if place < season * self.whitening.steps.raw {
            return own;
        }
        let past = (1..).zip(ar).map(|(j, phi)| phi * self.covariance(i, place - j * season));
        own - past.sum::<f64>()
    }
}

/// What responses come to a season on, row by row: the response to value a at place b of the next
/// period.
fn carried(responses: &[Vec<f64>], season: usize) -> Vec<f64> {
    let at = |own: &Vec<f64>, place: usize| own.get(place).copied().unwrap_or(0.0);
    let mut out = Vec::with_capacity(responses.len() * responses.len());
    for b in 0..responses.len() {
        out.extend(responses.iter().map(|own| at(own, season + b)));
    }
    out
}

/// That number of powers are made room for at once.
const USUAL_POWERS: usize = 8;

/// One, the matrix, its square and so on until nothing is left.
pub(in crate::arima) fn powers(step: &[f64], size: usize, most: usize) -> Vec<f64> {
    let square = size * size;
    let mut out = Vec::with_capacity(USUAL_POWERS * square);
    out.resize(square, 0.0);
    (0..size).for_each(|i| out[i * size + i] = 1.0);
    for power in 1..most {
        out.resize((power + 1) * square, 0.0);
        let (before, next) = out.split_at_mut(power * square);
        let before = &before[(power - 1) * square..];
        for (own, row) in next.chunks_exact_mut(size).zip(step.chunks_exact(size)) {
            for (share, earlier) in row.iter().zip(before.chunks_exact(size)) {
                add(own, *share, earlier);
            }
        }
        if next.iter().all(|value| value.abs() < NEGLIGIBLE) {
            out.truncate(power * square);
            break;
        }
    }
    out
}

/// All phases of a season, or those before and after the longest stretch of phases in which there
/// is nothing up to a place.
fn windows(season: usize, until: usize, is_something: impl Fn(usize) -> bool) -> Vec<Range<usize>> {
    let mut busy = vec![false; season];
    for place in 0..until {
        let phase = place % season;
        busy[phase] = busy[phase] || is_something(place);
    }
    let mut gap = 0..0;
    let mut start = 0;
    for (end, stops) in busy.iter().chain([&true]).enumerate() {
        if *stops {
            if end - start > gap.len() {
                gap = start..end;
            }
            start = end + 1;
        }
    }
    // Two pieces are worth their while where they leave out a good part.
    if 4 * gap.len() < season {
        gap = 0..0;
    }
    [0..gap.start, gap.end..season].into_iter().filter(|phases| !phases.is_empty()).collect()
}

/// The response to a value of one at a place among the first, until nothing is left of it.
fn response(place: usize, ma: &[f64], count: usize) -> Vec<f64> {
    const PIECE: usize = 64;
    let q = ma.len();
    let mut raw: Vec<f64> = vec![0.0; q];
    raw[place] = 1.0;
    while raw.len() < count && raw[raw.len() - q..].iter().any(|value| value.abs() > NEGLIGIBLE) {
        let end = raw.len();
        raw.resize((end + PIECE).min(count), 0.0);
        recur_forwards(&mut raw[end - q..], ma);
    }
    let last = raw.iter().rposition(|value| value.abs() > NEGLIGIBLE).map_or(q, |t| t + 1);
    raw.truncate(last.max(q));
    raw
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arima::engine::plan::LikelihoodPlan;
    use crate::num::rng::NormalStream;

    #[test]
    fn windows_leave_out_the_longest_gap_only() {
        let busy = |places: &'static [usize]| move |place: usize| places.contains(&place);
        assert_eq!(windows(10, 10, busy(&[0, 9])), [0..1, 9..10]);
        assert_eq!(windows(10, 10, busy(&[3])).as_slice(), std::slice::from_ref(&(0..4)));
        assert_eq!(windows(10, 30, busy(&[12, 28])), [0..3, 8..10]);
        // A short gap is not worth two pieces, and nothing needs no piece.
        let most = windows(10, 10, busy(&[0, 1, 2, 3, 6, 7, 8, 9]));
        assert_eq!(most.as_slice(), std::slice::from_ref(&(0..10)));
        assert!(windows(10, 10, busy(&[])).is_empty());
    }

    #[test]
    fn a_response_ends_where_nothing_is_left_of_it() {
        let short = response(0, &[-0.5], 1_000);
        // 2^-49 is the last power above the limit.
        assert_eq!(short.len(), 50);
        assert!((short[10] - 0.5_f64.powi(10)).abs() < 1e-18);
        assert_eq!(response(1, &[0.3, 0.2], 1_000)[..3], [0.0, 1.0, -0.3]);
        assert_eq!(response(0, &[-0.999], 100).len(), 100);
    }

    /// The columns written out: responses and covariances in order of time.
    fn written_out(plan: &LikelihoodPlan<'_>) -> Vec<Vec<f64>> {
        let (p, q) = (plan.coefficients.ar.len(), plan.coefficients.ma.len());
        let count = plan.layout.count;
        let whitening = plan.whitening();
        let mut out: Vec<Vec<f64>> = Vec::new();
        for place in 0..q {
            let mut raw = vec![0.0; count];
            raw[place] = 1.0;
            recur_forwards(&mut raw, &plan.coefficients.ma);
            out.push(whitening.column(raw).filtered);
        }
        // The filter has nothing to act on that number of seasons on.
        let until = (plan.layout.season * plan.seasonal.raw + q).min(count);
        for i in 1..=p {
            let covariance = |place: usize| plan.cross.above_least(place + p + 1 - i);
            let raw: Vec<f64> = (0..count).map(|t| if t < until { covariance(t) } else { 0.0 }).collect();
            let mut filtered = whitening.column(raw).filtered;
            filtered[until..].fill(0.0);
            out.push(filtered);
        }
        out
    }

    #[test]
    fn products_of_profiles_and_sequences_are_those_of_the_columns_written_out() {
        let models = [
            (4, Coefficients { ma: vec![-0.9, 0.1], seasonal_ma: vec![-0.8], ..Coefficients::default() }),
            (
                12,
                Coefficients {
                    ar: vec![0.5, 0.2, -0.1],
                    ma: vec![-0.3, 0.2, 0.1],
                    seasonal_ar: vec![0.4, 0.1],
                    seasonal_ma: vec![-0.6, 0.2],
                },
            ),
            (
                52,
                Coefficients {
                    ar: vec![0.8],
                    ma: vec![-0.95],
                    seasonal_ar: vec![0.5],
                    ..Coefficients::default()
                },
            ),
            (
                365,
                Coefficients {
                    ar: vec![0.7],
                    ma: vec![0.4],
                    seasonal_ma: vec![-0.5],
                    ..Coefficients::default()
                },
            ),
        ];
        let mut kinds = Vec::new();
        for (season, model) in &models {
            // With and without an incomplete period at the end.
            for count in [season * 3, season * 2 + 3] {
                let plan = LikelihoodPlan::new(model, count, *season).expect("a sound model");
                let columns = written_out(&plan);
                kinds.push(plan.corrections.is_long);
                let whitening = plan.whitening();
                let gram = plan.corrections.gram();
                let series = whitening.column(NormalStream::new(9, count as u64).take(count));
                let with_profiles = plan.corrections.with_profiles(&series.solved);
                let with_series = plan.corrections.with_columns(&with_profiles);
                for (i, own) in columns.iter().enumerate() {
                    let (white, over) = whitening.white(whitening.whole_periods(own), 1.0);
                    let solved = whitening.backwards(over.clone());
                    assert!((dot(&white, &over) - dot(own, &solved)).abs() < 1e-11 * gram[(i, i)].max(1.0));
                    for (j, other) in columns.iter().enumerate() {
                        let plain = dot(other, &solved);
                        let ours = gram[(i, j)];
                        assert!((ours - plain).abs() < 1e-10, "{season} {count} {i} {j}: {ours} {plain}");
                    }
                    assert!((with_series[i] - dot(own, &series.solved)).abs() < 1e-10);
                }
                let shares: Vec<f64> = (0..columns.len()).map(|i| 1.0 + i as f64).collect();
                let combined = plan.corrections.combined(&shares);
                let reach = plan.corrections.sequences.reach;
                let mut sum = vec![0.0; count];
                for (which, row) in combined.chunks_exact(reach).enumerate() {
                    for (period, share) in sum.chunks_mut(*season).zip(row) {
                        plan.corrections.profiles.add_to(which, period, *share);
                    }
                }
                for (t, value) in sum.iter().enumerate() {
                    let plain: f64 =
                        columns.iter().zip(&shares).map(|(column, share)| share * column[t]).sum();
                    assert!((value - plain).abs() < 1e-12, "{season} {count} {t}: {value} {plain}");
                }
            }
        }
        assert!(kinds.contains(&true) && kinds.contains(&false));
    }

    #[test]
    fn powers_stop_where_nothing_is_left() {
        let step = [0.1, 0.02, 0.0, 0.1];
        let all = powers(&step, 2, 100);
        assert_eq!(all[..4], [1.0, 0.0, 0.0, 1.0]);
        assert_eq!(all[4..8], step);
        // The square: 0.01, 2 * 0.1 * 0.02.
        assert!((all[8] - 0.01).abs() < 1e-17 && (all[9] - 0.004).abs() < 1e-17);
        assert!(all.len() / 4 > 12 && all.len() / 4 < 20);
        assert_eq!(powers(&step, 2, 3).len(), 12);
        assert_eq!(across(&[1.0, 2.0, 3.0, 4.0, 5.0, 6.0], 3), [1.0, 4.0, 2.0, 5.0, 3.0, 6.0]);
    }
}
