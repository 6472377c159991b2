use std::collections::BTreeSet;

use super::Series;
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
    let start = *shared.first()?;
    let cut = |series: &Series| {
        let kept = series.values.iter().enumerate().filter(|(t, _)| shared.contains(&series.period(*t)));
        Series {
            name: series.name.clone(),
            start,
            values: kept.map(|(_, value)| *value).collect(),
            dates: series.dates.as_ref().map(|_| shared.iter().copied().collect()),
            lost: series.lost,
        }
    };
    Some(all.iter().map(cut).collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::series::Lost;

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
    fn series_apart_have_none() {
        assert_eq!(common_periods(&[from(1, &[1.0]), from(3, &[7.0])]), None);
        assert_eq!(common_periods(&[]), None);
    }
}
