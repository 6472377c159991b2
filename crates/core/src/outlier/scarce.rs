//! Which value is the bad one where a place of the season has only a few.

use super::event::EventKind;
use super::search::{Outliers, OutlyingValue};

/// A place of the season with that many values or fewer cannot tell by itself which of them is bad.
const SCARCE: usize = 4;

/// For every scarce place with marked values, the one whose siblings agree best without it.
pub(super) struct Suspects {
    season: usize,
    /// Place in the series, and what its siblings and the trend say of it.
    values: Vec<(usize, f64)>,
}

impl Suspects {
    /// None where all marked values have siblings enough.
    pub fn of(y: &[f64], season: usize, found: &Outliers) -> Option<Self> {
        let siblings = |t: usize| (t % season..y.len()).step_by(season);
        let marked: Vec<usize> = marked_values(found).collect();
        let gap = |t: usize| y[t] - found.expected[t] + found.background.season[t];
        let mut values: Vec<(usize, f64)> = Vec::new();
        for place in 0..season {
            let own: Vec<usize> = marked.iter().copied().filter(|t| t % season == place).collect();
            let others =
                |t: usize| siblings(t).filter(move |other| *other != t).map(gap).collect::<Vec<f64>>();
            if season < 2 || own.is_empty() || siblings(place).count() > SCARCE {
                continue;
            }
            let odd = own.into_iter().min_by(|a, b| range(&others(*a)).total_cmp(&range(&others(*b))));
            values.extend(odd.map(|t| {
                let usual = others(t);
                (t, y[t] - gap(t) + usual.iter().sum::<f64>() / usual.len().max(1) as f64)
            }));
        }
        (!values.is_empty()).then_some(Self { season, values })
    }

    /// The series with each suspect at its usual value.
    pub fn left_out(&self, y: &[f64]) -> Vec<f64> {
        let mut usual = y.to_vec();
        for (t, value) in &self.values {
            usual[*t] = *value;
        }
        usual
    }

    /// Of the search without the suspects, with these marked where no sibling of theirs is.
    pub fn settle(&self, found: &Outliers, mut again: Outliers) -> Outliers {
        let suspicious = |t: usize| self.values.iter().any(|(own, _)| own % self.season == t % self.season);
        let siblings: Vec<usize> = marked_values(&again).filter(|t| suspicious(*t)).collect();
        for one in again.outliers.iter_mut().filter(|one| siblings.contains(&one.place)) {
            (one.marked, one.is_candidate) = (false, true);
        }
        again.outliers.retain(|one| self.values.iter().all(|(t, _)| *t != one.place));
        let suspects = found.outliers.iter().filter(|one| self.values.iter().any(|(t, _)| *t == one.place));
        let settled = suspects.map(|one| {
            let marked = siblings.iter().all(|t| t % self.season != one.place % self.season);
            let expected = again.expected[one.place];
            OutlyingValue { expected, marked, is_candidate: !marked, ..one.clone() }
        });
        let settled: Vec<OutlyingValue> = settled.collect();
        again.outliers.extend(settled);
        again.outliers.sort_by_key(|one| one.place);
        again
    }
}

/// Where single values and temporary changes are marked.
fn marked_values(found: &Outliers) -> impl Iterator<Item = usize> {
    found.marked().filter(|one| one.kind != EventKind::LevelShift).map(|one| one.place)
}

fn range(values: &[f64]) -> f64 {
    let (low, high) = values
        .iter()
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), value| (low.min(*value), high.max(*value)));
    high - low
}

#[cfg(test)]
mod tests {
    use crate::num::rng::NormalStream;
    use crate::outlier::search::detect;
    use crate::outlier::{Method, OutlierOptions, Outliers, find};

    #[test]
    fn of_42_months_the_planted_value_is_marked_and_good_ones_of_its_month_are_not() {
        let pattern = [3.0, -1.0, 0.0, 2.0, -4.0, 5.0, 1.0, 0.0, -2.0, 4.0, -6.0, 9.0];
        let (mut found_bad, mut good_marked, mut good_marked_at_once) = (0, 0, 0);
        for draw in 0..36_u64 {
            let e = NormalStream::new(73, draw).take(42);
            let mut level = 0.0;
            let mut y: Vec<f64> = Vec::new();
            for (t, own) in e.iter().enumerate() {
                level = 0.4 * level + own;
                y.push(50.0 + pattern[t % 12] + 0.05 * t as f64 + level);
            }
            let bad = 4 + usize::try_from(draw).expect("small");
            y[bad] += if draw % 2 == 0 { 11.0 } else { -11.0 };
            let options = OutlierOptions { season: 12, methods: Method::ALL.to_vec() };
            let found = find(&y, &options).expect("a search");
            let good = |found: &Outliers| {
                found.marked().filter(|one| one.place != bad && one.place % 12 == bad % 12).count()
            };
            found_bad += usize::from(found.marked().any(|one| one.place == bad));
            good_marked += good(&found);
            good_marked_at_once += good(&detect(&y, &options).expect("a search"));
        }
        // One look alone takes good values of the same month for bad ones.
        assert!(good_marked_at_once > 0, "{good_marked_at_once}");
        assert!(found_bad >= 30 && good_marked == 0, "{found_bad} {good_marked}");
    }
}
