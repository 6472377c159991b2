//! Which periods the dates of a column represent.

use jiff::civil::Weekday;
use kandrel_core::time::{Frequency, Period, WeekForm};

/// What dates represent, and why.
pub enum Reading {
    Periods { periods: Vec<Period>, because: String },
    Irregular { how: String },
}

/// Dates in fewer weeks than this may happen to leave out the weekends.
const WEEKS: i64 = 2;

/// Days that are a week, month, quarter or year apart represent those periods;
/// days that leave out every weekend are workdays.
pub fn read(raw: &[Period]) -> Reading {
    let mut days = raw.to_vec();
    days.sort_unstable();
    days.dedup();
    let gaps: Vec<i64> = days.windows(2).filter_map(|pair| pair[1].steps_since(pair[0])).collect();
    let (Some(shortest), Some(longest)) = (gaps.iter().min().copied(), gaps.iter().max().copied()) else {
        return Reading::Periods { periods: raw.to_vec(), because: "are a single day".to_owned() };
    };
    let apart = if shortest == longest {
        format!("are {shortest} days apart")
    } else {
        format!("are {shortest} to {longest} days apart")
    };
    let longer = [(360, Frequency::Year), (88, Frequency::Quarter), (28, Frequency::Month)];
    let longer = longer.into_iter().filter(|(least, _)| shortest >= *least);
    for frequency in longer.map(|(_, frequency)| frequency) {
        if let Some(periods) = one_each(raw, &days, frequency) {
            return Reading::Periods { periods, because: format!("{apart}, one a {}", frequency.noun()) };
        }
    }
    if shortest == 7 && gaps.iter().all(|gap| gap % 7 == 0) {
        let (_, name) = weekday(days[0]);
        if let Some(periods) = one_each(raw, &days, week_of(days[0])) {
            return Reading::Periods { periods, because: format!("are all {name}s") };
        }
    }
    if (5..=9).contains(&shortest)
        && let Some(periods) = one_each(raw, &days, Frequency::Week(WeekForm::Number))
    {
        return Reading::Periods { periods, because: format!("{apart}, one in each week") };
    }
    if shortest > 1 {
        return Reading::Irregular { how: format!("are at least {shortest} days apart") };
    }
    let span = gaps.iter().sum::<i64>();
    let weekend = days.iter().any(|day| weekday(*day).0 > 4);
    if !weekend
        && span >= 7 * WEEKS
        && let Some(periods) = one_each(raw, &days, Frequency::Workday)
    {
        return Reading::Periods { periods, because: "leave out every weekend".to_owned() };
    }
    Reading::Periods { periods: raw.to_vec(), because: "follow each other from day to day".to_owned() }
}

/// The periods that contain the days, unless two days fall into one.
fn one_each(raw: &[Period], days: &[Period], frequency: Frequency) -> Option<Vec<Period>> {
    let inside = |day: &Period| day.first_day().and_then(|date| Period::containing(date, frequency));
    let mut distinct: Vec<Period> = days.iter().map(inside).collect::<Option<_>>()?;
    distinct.dedup();
    if distinct.len() < days.len() {
        return None;
    }
    raw.iter().map(inside).collect()
}

/// The weeks that are written by the weekday of a day.
pub fn week_of(day: Period) -> Frequency {
    Frequency::Week(WeekForm::Day(weekday(day).0))
}

/// The weekday, 0 for Monday, and its name.
fn weekday(day: Period) -> (u8, &'static str) {
    match day.first_day().map(jiff::civil::Date::weekday) {
        Some(Weekday::Tuesday) => (1, "Tuesday"),
        Some(Weekday::Wednesday) => (2, "Wednesday"),
        Some(Weekday::Thursday) => (3, "Thursday"),
        Some(Weekday::Friday) => (4, "Friday"),
        Some(Weekday::Saturday) => (5, "Saturday"),
        Some(Weekday::Sunday) => (6, "Sunday"),
        Some(Weekday::Monday) | None => (0, "Monday"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Days from 2004-01-05, a Monday, at the given distances.
    fn found(days: impl Iterator<Item = i64>) -> String {
        let start = Period::parse("2004-01-05").expect("valid");
        let raw: Vec<Period> = days.map(|day| start.offset(day)).collect();
        match read(&raw) {
            Reading::Periods { periods, because } => {
                let ends = [periods[0], periods[periods.len() - 1]].map(|period| period.to_string());
                format!("{} {} {}: {because}", periods[0].frequency().adjective(), ends[0], ends[1])
            }
            Reading::Irregular { how } => how,
        }
    }

    #[test]
    fn the_distances_and_weekdays_tell_the_frequency() {
        let cases: [(Vec<i64>, &str); 8] = [
            ((0..20).collect(), "daily 2004-01-05 2004-01-24: follow each other from day to day"),
            (
                (0..30).filter(|day| day % 7 < 5).collect(),
                "workday 2004-01-05 2004-02-03: leave out every weekend",
            ),
            ((0..10).map(|week| 7 * week).collect(), "weekly 2004-01-05 2004-03-08: are all Mondays"),
            (vec![0, 7, 15, 21, 28], "weekly 2004-W02 2004-W06: are 6 to 8 days apart, one in each week"),
            (vec![0, 31, 60, 91], "monthly 2004-01 2004-04: are 29 to 31 days apart, one a month"),
            (vec![0, 91, 182], "quarterly 2004-Q1 2004-Q3: are 91 days apart, one a quarter"),
            (vec![0, 366, 731], "annual 2004 2006: are 365 to 366 days apart, one a year"),
            (vec![0, 3, 20, 22], "are at least 2 days apart"),
        ];
        for (days, wanted) in cases {
            assert_eq!(found(days.into_iter()), wanted);
        }
        // Every four weeks: two fall into one month, so they are weeks with gaps.
        assert_eq!(found((0..14).map(|k| 28 * k)), "are at least 28 days apart");
    }
}
