use std::ops::Range;

use super::columns::{Column, Grid, NOUGHT, Piece};
use super::kernels::recur_forwards;
use super::workings::Workings;

impl Workings<'_> {
    /// The responses of x to each of its first values.
    pub fn unknown(&self) -> Vec<Column> {
        let (ma, Grid { count, season }) = (&self.coefficients.ma, self.grid);
        let q = ma.len();
        let responses: Vec<Vec<f64>> = (0..q).map(|place| response(place, ma, count)).collect();
        let last = responses.iter().map(Vec::len).fold(0, usize::max);
        // What flows back from later phases is as small as the response there.
        let ends = (last + q).min(count);
        let phases = 0..ends.min(season);
        let input_ends = (last.max(season * self.seasonal.raw) + self.seasonal_reach()).min(count);
        let column = |own: &Vec<f64>| {
            let value = |place: usize| own.get(place).copied().unwrap_or(0.0);
            Column { pieces: vec![Piece::new(self.grid, &phases, (ends, input_ends), value)] }
        };
        responses.iter().map(column).collect()
    }

    /// So far back looks the autoregressive filter.
    fn seasonal_reach(&self) -> usize {
        self.coefficients.seasonal_ar.len() * self.grid.season
    }

    /// The covariances of x with each of the first values of w.
    pub fn observed(&self) -> Vec<Column> {
        let (p, q) = (self.coefficients.ar.len(), self.coefficients.ma.len());
        let until = (self.grid.season * self.seasonal.raw + q).min(self.grid.count);
        // Place τ is the lag τ + p + 1 - q - i.
        let covariance = |i: usize, place: usize| self.cross.above_least(place + p + 1 - i);
        let windows =
            windows(self.grid.season, until, |place| (1..=p).any(|i| covariance(i, place).abs() > NOUGHT));
        let column = |i: usize| {
            let piece =
                |phases: &Range<usize>| Piece::new(self.grid, phases, (until, until), |t| covariance(i, t));
            Column { pieces: windows.iter().map(piece).collect() }
        };
        (1..=p).map(column).collect()
    }
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
