//! The periods that several series have in common.

use std::collections::BTreeSet;

use super::{Lost, Series};
use crate::time::Period;

/// The series over the periods that all of them have; `None` if there is no such period,
/// or no series.
pub fn common_periods(all: &[Series]) -> Option<Vec<Series>> {
    let own = |series: &Series| -> BTreeSet<Period> {
        (0..series.values.len()).map(|t| series.period(t)).collect()
    };
    let mut shared = own(all.first()?);
    for series in all.iter().skip(1) {
        shared = shared.intersection(&own(series)).copied().collect();
    }
    let (start, last) = (*shared.first()?, *shared.last()?);
    let lost = lost_together(all, start, last);
    let cut = |series: &Series| {
        let kept = series.values.iter().enumerate().filter(|(t, _)| shared.contains(&series.period(*t)));
        Series {
            name: series.name.clone(),
            start,
            values: kept.map(|(_, value)| *value).collect(),
            dates: series.dates.as_ref().map(|_| shared.iter().copied().collect()),
            lost,
        }
    };
    Some(all.iter().map(cut).collect())
}

/// What lags and differences of any of the series took from the periods that all their columns have.
fn lost_together(all: &[Series], start: Period, last: Period) -> Lost {
    let periods = |series: &Series, is_outside: &dyn Fn(Period) -> bool| {
        (0..series.values.len()).filter(|t| is_outside(series.period(*t))).count()
    };
    let before = all.iter().map(|series| series.lost.start + periods(series, &|own| own < start));
    let after = all.iter().map(|series| series.lost.end + periods(series, &|own| own > last));
    Lost { start: before.min().unwrap_or(0), end: after.min().unwrap_or(0) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn from(month: i64, values: &[f64]) -> Series {
        let start = Period::month(2004, month).expect("valid");
        Series { name: "x".into(), start, values: values.to_vec(), dates: None, lost: Lost::default() }
    }

    #[test]
    fn the_periods_of_both_are_kept() {
        let both = common_periods(&[from(1, &[1.0, 2.0, 3.0, 4.0]), from(3, &[7.0, 8.0, 9.0])]);
        let both = both.expect("two in common");
        assert_eq!(
            (both[0].values.as_slice(), both[1].values.as_slice()),
            (&[3.0, 4.0][..], &[7.0, 8.0][..])
        );
        assert!(both.iter().all(|series| series.start == Period::month(2004, 3).expect("valid")));
    }

    #[test]
    fn what_any_of_them_lost_is_lost_to_all() {
        let lost = |start, end, series: Series| Series { lost: Lost { start, end }, ..series };
        // A difference and a lag of three of columns that begin together.
        let all = [lost(1, 0, from(2, &[1.0, 2.0, 3.0, 4.0, 5.0])), lost(3, 1, from(4, &[1.0, 2.0]))];
        let both = common_periods(&all).expect("two in common");
        assert!(
            both.iter().all(|series| series.lost == Lost { start: 3, end: 1 } && series.values.len() == 2)
        );
        // A column that begins later takes nothing.
        let all = [lost(1, 0, from(2, &[1.0, 2.0, 3.0, 4.0, 5.0])), from(4, &[1.0, 2.0, 3.0])];
        let both = common_periods(&all).expect("three in common");
        assert!(both.iter().all(|series| series.lost == Lost::default()));
    }

    #[test]
    fn series_apart_have_none() {
        assert_eq!(common_periods(&[from(1, &[1.0]), from(3, &[7.0])]), None);
        assert_eq!(common_periods(&[]), None);
    }
}
