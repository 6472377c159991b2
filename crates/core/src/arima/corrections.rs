use std::ops::Range;

use nalgebra::{DMatrix, DVector};

use super::coefficients::Coefficients;
use super::cross::Cross;
use super::grid::{Grid, NOUGHT};
use super::kernels::recur_forwards;
use super::profiles::{Profile, products};
use super::sequences::Sequences;
use super::symmetric::Pairs;
use super::whitening::Whitening;

/// The columns that correct for the unknown first values of x, then those of the covariances of x
/// with the first values of w, all after the autoregressive filter.
///
/// Each is a sum of profiles over the phases of a season, each of them times a sequence over the
/// periods: what a season's process makes of a column needs the sequences alone.
pub(super) struct Corrections {
    pub profiles: Vec<Profile>,
    pub sequences: Sequences,
    /// What each column consists of.
    pub columns: Vec<Vec<Term>>,
    /// Responses of x to each of its unknown first values, from the first of these on.
    pub responses: Vec<Vec<f64>>,
    /// Whether responses reach into a second period.
    pub is_long: bool,
    /// Periods in which there are covariances.
    pub covered: usize,
    pub products: Products,
}

/// A profile times a sequence.
#[derive(Debug, Clone, Copy)]
pub(super) struct Term {
    pub profile: usize,
    pub sequence: usize,
}

/// Products of profiles and of whitened sequences.
pub(super) struct Products {
    pub profiles: Pairs,
    pub sequences: Pairs,
}

impl Corrections {
    pub fn new(coefficients: &Coefficients, cross: &Cross, whitening: &Whitening<'_>) -> Self {
        let (p, q) = (coefficients.ar.len(), coefficients.ma.len());
        let Grid { count, season } = whitening.grid;
        let reach = if whitening.grid.periods() > 1 { season + q } else { count };
        let responses: Vec<Vec<f64>> = (0..q).map(|place| response(place, &coefficients.ma, reach)).collect();
        let carried = carried(&responses, season);
        let is_long = whitening.grid.periods() > 1 && carried.iter().any(|value| value.abs() > NOUGHT);
        let covariances = Covariances { p, q, cross, whitening };
        let covered = covariances.periods();
        let raw = match (q, is_long) {
            (0, _) => Vec::new(),
            (_, false) => vec![1.0],
            (_, true) => across(&powers(&carried, q, whitening.grid.periods()), q * q),
        };
        let of_x = if q == 0 {
            0
        } else if is_long {
            q * q
        } else {
            1
        };
        let sequences = Sequences::new(raw, of_x, covered, whitening);
        let base = responses.iter().map(|own| Profile::whole(own[..own.len().min(season)].to_vec()));
        let profiles: Vec<Profile> = base.chain(covariances.profiles()).collect();
        let unknown = |a: usize| -> Vec<Term> {
            if is_long {
                (0..q).map(|b| Term { profile: b, sequence: b * q + a }).collect()
            } else {
                vec![Term { profile: a, sequence: 0 }]
            }
        };
        let observed = |i: usize| -> Vec<Term> {
            (0..covered).map(|k| Term { profile: q + i * covered + k, sequence: of_x + k }).collect()
        };
        let columns = (0..q).map(unknown).chain((0..p).map(observed)).collect();
        let products =
            Products { profiles: products(&profiles, whitening.grid), sequences: sequences.products() };
        Self { profiles, sequences, columns, responses, is_long, covered, products }
    }

    /// `u_a' Ω⁻¹ u_b` of all columns.
    pub fn gram(&self) -> DMatrix<f64> {
        let count = self.columns.len();
        let mut gram = DMatrix::zeros(count, count);
        for (a, own) in self.columns.iter().enumerate() {
            for (b, others) in self.columns[..=a].iter().enumerate() {
                let pairs = own.iter().flat_map(|one| others.iter().map(move |two| (one, two)));
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
            profiles: Pairs::new(self.profiles.len()),
            sequences: Pairs::new(self.sequences.count),
        };
        for (a, own) in self.columns.iter().enumerate() {
            for (b, others) in self.columns.iter().enumerate() {
                let share = of_gram[(a, b)];
                for one in own {
                    for two in others {
                        let by = |pair: [f64; 2]| pair.map(|value| share * value);
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

    /// Products of each profile with each period of a series in which it stands, period by period.
    pub fn with_profiles(&self, series: &[f64], season: usize) -> Vec<f64> {
        let q = self.responses.len();
        let mut out = vec![0.0; self.sequences.reach * self.profiles.len()];
        for (k, (row, period)) in
            out.chunks_mut(self.profiles.len().max(1)).zip(series.chunks(season)).enumerate()
        {
            for (which, (place, profile)) in row.iter_mut().zip(&self.profiles).enumerate() {
                if which < q || (which - q) % self.covered == k {
                    *place = profile.dot(period);
                }
            }
        }
        out
    }

    /// Products of all columns with a series, from those of the profiles.
    pub fn with_columns(&self, with_profiles: &[f64]) -> DVector<f64> {
        let profiles = self.profiles.len();
        let product = |terms: &Vec<Term>| {
            let one = |term: &Term| {
                let of_profile = with_profiles.iter().skip(term.profile).step_by(profiles);
                self.sequence(term.sequence).iter().zip(of_profile).map(|(a, b)| a * b).sum::<f64>()
            };
            terms.iter().map(one).sum()
        };
        DVector::from_iterator(self.columns.len(), self.columns.iter().map(product))
    }

    /// The share of each profile in each period in a sum of the columns, period by period.
    pub fn combined(&self, shares: &[f64]) -> Vec<f64> {
        let profiles = self.profiles.len();
        let mut out = vec![0.0; self.sequences.reach * profiles];
        for (share, terms) in shares.iter().zip(&self.columns) {
            for term in terms {
                let of_profile = out.iter_mut().skip(term.profile).step_by(profiles);
                for (value, number) in of_profile.zip(self.sequence(term.sequence)) {
                    *value += share * number;
                }
            }
        }
        out
    }

    fn sequence(&self, which: usize) -> &[f64] {
        let reach = self.sequences.reach;
        &self.sequences.filtered[which * reach..][..reach]
    }
}

/// The columns of a matrix with so many of them one after the other, or the rows of one with so
/// many rows.
pub(super) fn across(values: &[f64], columns: usize) -> Vec<f64> {
    (0..columns).flat_map(|j| values.iter().skip(j).step_by(columns)).copied().collect()
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
        let grid = self.whitening.grid;
        (grid.season * self.whitening.seasonal.raw + self.q).min(grid.count)
    }

    fn periods(&self) -> usize {
        if self.p == 0 { 0 } else { self.until().div_ceil(self.whitening.grid.season) }
    }

    /// Place τ is the lag τ + p + 1 - q - i.
    fn covariance(&self, i: usize, place: usize) -> f64 {
        self.cross.above_least(place + self.p + 1 - i)
    }

    fn profiles(&self) -> Vec<Profile> {
        let (season, until) = (self.whitening.grid.season, self.until());
        let is_something = |place: usize| (1..=self.p).any(|i| self.covariance(i, place).abs() > NOUGHT);
        let stretches = if self.p == 0 { Vec::new() } else { windows(season, until, is_something) };
        let mut out = Vec::with_capacity(self.p * self.periods());
        for i in 1..=self.p {
            for period in 0..self.periods() {
                let start = period * season;
                let mut values = vec![0.0; season.min(until - start)];
                let width = values.len();
                for phase in stretches.iter().flat_map(|own| own.start.min(width)..own.end.min(width)) {
                    values[phase] = self.filtered(i, start + phase);
                }
                out.push(Profile { values, stretches: stretches.clone() });
            }
        }
        out
    }

    fn filtered(&self, i: usize, place: usize) -> f64 {
        let (ar, season) = (self.whitening.ar, self.whitening.grid.season);
        let own = self.covariance(i, place);
        if place < season * self.whitening.seasonal.raw {
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
    (0..responses.len()).flat_map(|b| responses.iter().map(move |own| at(own, season + b))).collect()
}

/// One, the matrix, its square and so on until nothing is left.
fn powers(step: &[f64], size: usize, most: usize) -> Vec<f64> {
    let mut out = vec![0.0; size * size];
    (0..size).for_each(|i| out[i * size + i] = 1.0);
    for power in 1..most {
        let before = &out[(power - 1) * size * size..];
        let next: Vec<f64> = (0..size * size)
            .map(|at| (0..size).map(|k| step[at / size * size + k] * before[k * size + at % size]).sum())
            .collect();
        if next.iter().all(|value: &f64| value.abs() < NOUGHT) {
            break;
        }
        out.extend(next);
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
    while raw.len() < count && raw[raw.len() - q..].iter().any(|value| value.abs() > NOUGHT) {
        let end = raw.len();
        raw.resize((end + PIECE).min(count), 0.0);
        recur_forwards(&mut raw[end - q..], ma);
    }
    let last = raw.iter().rposition(|value| value.abs() > NOUGHT).map_or(q, |t| t + 1);
    raw.truncate(last.max(q));
    raw
}

#[cfg(test)]
mod tests {
    use super::*;

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
}
