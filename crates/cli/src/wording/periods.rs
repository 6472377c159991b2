//! Periods and positions within the seasonal cycle.

use kandrel_core::series::SeriesWithGaps;
use kandrel_core::time::{Frequency, Period};

use super::{capitalised, first_few};

/// Periods, stretches of neighbours written as `first to last`.
pub fn periods(all: &[Period]) -> String {
    let mut stretches: Vec<(Period, Period)> = Vec::new();
    for period in all {
        match stretches.last_mut() {
            Some((_, last)) if period.steps_since(*last) == Some(1) => *last = *period,
            _ => stretches.push((*period, *period)),
        }
    }
    let shown: Vec<String> = stretches
        .iter()
        .map(|(first, last)| if first == last { first.to_string() } else { format!("{first} to {last}") })
        .collect();
    first_few(&shown)
}

/// The adjective of the data's frequency, capitalised.
pub fn frequency_of(all: &[SeriesWithGaps]) -> String {
    capitalised(all.first().map_or("", |series| series.start.frequency().adjective()))
}

const MONTHS: [&str; 12] =
    ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const DAYS: [&str; 7] = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/// Names of the places of a season, numbers where the calendar has none.
pub fn season_names(frequency: Frequency, season: usize) -> Vec<String> {
    let own = |names: &[&str]| names.iter().map(|name| (*name).to_owned()).collect();
    if season != frequency.season() {
        return (1..=season).map(|place| place.to_string()).collect();
    }
    match frequency {
        Frequency::Month => own(&MONTHS),
        Frequency::Quarter => own(&["Q1", "Q2", "Q3", "Q4"]),
        Frequency::Day => own(&DAYS),
        Frequency::Workday => own(&DAYS[..5]),
        Frequency::Week(_) => (1..=53).map(|week| format!("W{week:02}")).collect(),
        Frequency::Year | Frequency::Undated => (1..=season).map(|place| place.to_string()).collect(),
    }
}

/// The preposition before such a place: days are `on`, all else is `in`.
pub fn at_place(place: &str) -> &'static str {
    let is_date = place.len() == 10 && place.starts_with(|c: char| c.is_ascii_digit());
    if is_date || DAYS.contains(&place) { "on" } else { "in" }
}

/// The name of an axis of such places.
pub fn season_axis(frequency: Frequency, season: usize) -> String {
    match frequency {
        _ if season != frequency.season() => format!("Position within the seasonal cycle of {season}"),
        Frequency::Month => "Month".to_owned(),
        Frequency::Quarter => "Quarter".to_owned(),
        Frequency::Week(_) => "Week".to_owned(),
        Frequency::Day | Frequency::Workday => "Day of the week".to_owned(),
        Frequency::Year | Frequency::Undated => format!("Position within the seasonal cycle of {season}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn neighbouring_periods_make_a_stretch() {
        let month = |m| Period::month(2004, m).expect("valid");
        assert_eq!(periods(&[month(2), month(3), month(4), month(9)]), "2004-02 to 2004-04, 2004-09");
    }
}
