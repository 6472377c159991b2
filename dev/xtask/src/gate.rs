//! The daily data of Osmere Bay's gate: two seasons, holidays without values.

use std::f64::consts::TAU;
use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;
use kandrel_core::time::Period;

const SEED: u64 = 2018;
/// 2018-01-01 to 2024-12-31.
const DAYS: usize = 2557;
/// Lorries more or fewer on each day of the week, from Monday.
const WEEK: [f64; 7] = [62.0, 88.0, 94.0, 81.0, 40.0, -145.0, -220.0];
/// Month and day on which the gate is closed.
const HOLIDAYS: [(i8, i8); 5] = [(1, 1), (5, 1), (6, 24), (12, 25), (12, 26)];

/// The whole file.
pub fn csv() -> String {
    let start = Period::parse("2018-01-01").unwrap_or_else(|_| Period::year(2018));
    let mut out = String::from("day,lorries,diesel\n");
    for (t, (lorries, diesel)) in lorries().into_iter().zip(diesel()).enumerate() {
        let period = start.offset(i64::try_from(t).unwrap_or_default());
        let closed = period.first_day().is_some_and(|day| HOLIDAYS.contains(&(day.month(), day.day())));
        let weekend = t % 7 >= 5;
        let lorries = if closed { String::new() } else { format!("{lorries:.0}") };
        let diesel = if closed || weekend { String::new() } else { format!("{diesel:.2}") };
        // Writing to a string cannot fail.
        let _ = writeln!(out, "{period},{lorries},{diesel}");
    }
    out
}

/// Lorries through the gate: 520, the day of the week, a yearly wave of 60 with a smaller one of
/// half a year, 0.01 more each day, and an AR(1) with coefficient 0.3 and steps of 16.
fn lorries() -> Vec<f64> {
    let mut noise = 0.0;
    let steps = NormalStream::new(SEED, 0).take(DAYS);
    let day = |(t, e): (usize, &f64)| {
        noise = 0.3 * noise + 16.0 * e;
        let angle = TAU * t as f64 / 365.25;
        520.0 + WEEK[t % 7] - 60.0 * angle.cos() + 18.0 * (2.0 * angle).sin() + 0.01 * t as f64 + noise
    };
    steps.iter().enumerate().map(day).collect()
}

/// The workday price of diesel: a random walk from 110 with steps of 0.8.
fn diesel() -> Vec<f64> {
    let mut level = 110.0;
    let steps = NormalStream::new(SEED, 1).take(DAYS);
    let day = |(t, e): (usize, &f64)| {
        // Nothing moves while the market is closed.
        level += if t % 7 >= 5 { 0.0 } else { 0.8 * e };
        level
    };
    steps.iter().enumerate().map(day).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_committed_file_is_what_the_generator_writes() {
        assert_eq!(csv(), include_str!("../../../crates/cli/src/demo/gate.csv"));
    }

    #[test]
    fn the_calendar_is_that_of_the_dates() {
        let text = csv();
        assert!(text.lines().nth(1).is_some_and(|row| row == "2018-01-01,,"), "a Monday, and a holiday");
        assert!(text.lines().last().is_some_and(|row| row.starts_with("2024-12-31,")));
        assert_eq!(text.lines().count(), DAYS + 1);
        let prices = |row: &str| !row.ends_with(',');
        assert!(text.lines().skip(1).enumerate().all(|(t, row)| t % 7 < 5 || !prices(row)));
    }
}
