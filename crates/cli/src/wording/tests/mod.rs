//! What readers see of numbers, lists, periods and refusals.

use kandrel_core::boxcox::{Choice, LambdaRule, ProfileLikelihood};
use kandrel_core::decomp::{SeasonWindow, Windows};
use kandrel_core::expr;
use kandrel_core::num::scale::InvalidSeries;
use kandrel_core::series::{Lost, SeriesWithGaps};
use kandrel_core::time::{Frequency, Period};
use proptest::prelude::*;

use super::*;
use crate::error::Status;

fn strings(all: &[&str]) -> Vec<String> {
    all.iter().map(|one| (*one).to_owned()).collect()
}

fn month(year: i64, number: i64) -> Period {
    Period::month(year, number).expect("a month")
}

#[test]
fn a_number_has_a_true_minus_and_is_never_minus_zero() {
    for (value, decimals, shown) in
        [(-1.25, 2, "−1.25"), (1.25, 1, "1.2"), (-0.0004, 3, "0.000"), (-0.0, 0, "0"), (-12.0, 0, "−12")]
    {
        assert_eq!(number(value, decimals), shown);
    }
}

#[test]
fn a_p_value_keeps_four_decimals_until_they_are_zeros() {
    for (p, shown) in
        [(1.0, "1.0000"), (0.04996, "0.0500"), (0.0001, "0.0001"), (0.00004, "<0.0001"), (1e-17, "<0.0001")]
    {
        assert_eq!(p_value(p), shown);
    }
}

#[test]
fn a_share_is_a_percentage_without_needless_zeros() {
    for (share, shown) in [(0.05, "5"), (0.001, "0.1"), (0.95, "95"), (1.0 / 3.0, "33.3333")] {
        assert_eq!(percent(share), shown);
    }
}

#[test]
fn short_numbers_have_about_four_digits_whatever_their_size() {
    for (value, shown) in [
        (123_456.7, "123457"),
        (-456.78, "−456.8"),
        (45.678, "45.68"),
        (4.5678, "4.568"),
        (0.45678, "0.457"),
        (0.001_234, "0.001234"),
        (0.000_091_234, "0.00009123"),
    ] {
        assert_eq!(short(value), shown);
    }
}

#[test]
fn finer_differences_need_more_decimals() {
    let found = [1000.0, 50.0, 0.5, 0.001].map(decimals);
    assert_eq!(found, [1, 2, 4, 6]);
}

#[test]
fn lists_are_cut_where_they_would_not_be_read() {
    assert_eq!(list(&[]), "nothing");
    assert_eq!(list(&strings(&["a"])), "`a`");
    assert_eq!(list(&strings(&["a", "b", "c"])), "`a`, `b` and `c`");
    let many: Vec<String> = (0..33).map(|n| n.to_string()).collect();
    assert!(list(&many).ends_with("`29` and 3 more"));
    assert_eq!(joined::<&str>(&[]), "");
    assert_eq!(joined(&["a", "b"]), "a and b");
    assert_eq!(first_few(&strings(&["a", "b"])), "a, b");
    assert_eq!(first_few(&many[..8]), "0, 1, 2, 3, 4, 5 and 2 more");
    assert_eq!((term_list(&[]), term_list(&strings(&["trend", "x"]))), (None, Some("trend,x".to_owned())));
}

#[test]
fn one_is_one_and_many_are_many() {
    assert_eq!((count(1, "lag"), count(0, "lag"), count(2, "lag")), pair_of("1 lag", "0 lags", "2 lags"));
    assert_eq!((capitalised("öre"), capitalised("")), ("Öre".to_owned(), String::new()));
}

fn pair_of(a: &str, b: &str, c: &str) -> (String, String, String) {
    (a.to_owned(), b.to_owned(), c.to_owned())
}

#[test]
fn places_of_a_season_have_the_names_of_the_calendar() {
    assert_eq!(season_names(Frequency::Month, 12)[11], "Dec");
    assert_eq!(season_names(Frequency::Quarter, 4), strings(&["Q1", "Q2", "Q3", "Q4"]));
    assert_eq!(season_names(Frequency::Workday, 5).last().map(String::as_str), Some("Fri"));
    assert_eq!(season_names(Frequency::Day, 7).len(), 7);
    // A season that is not of the calendar has numbers.
    assert_eq!(season_names(Frequency::Month, 3), strings(&["1", "2", "3"]));
    assert_eq!((at_place("Mon"), at_place("Jan"), at_place("2001-03-04")), ("on", "in", "on"));
    assert_eq!(season_axis(Frequency::Quarter, 4), "Quarter");
    assert_eq!(season_axis(Frequency::Day, 365), "Position within the seasonal cycle of 365");
}

#[test]
fn stretches_of_periods_are_described_by_their_ends() {
    assert_eq!(periods(&[]), "");
    assert_eq!(periods(&[month(2001, 12), month(2002, 1)]), "2001-12 to 2002-01");
    let apart: Vec<Period> = (0..9).map(|n| month(2001, 1).offset(2 * n)).collect();
    assert!(periods(&apart).ends_with("2001-11 and 3 more"), "{}", periods(&apart));
}

#[test]
fn losses_name_the_ends_they_are_at_and_series_that_lost_nothing_are_not_named() {
    let series = |name: &str, start: usize, end: usize| SeriesWithGaps {
        name: name.to_owned(),
        start: month(2001, 1),
        cells: vec![Some(1.0)],
        dates: None,
        lost: Lost { start, end },
    };
    let all = [series("a", 0, 0), series("b", 2, 0), series("c", 0, 1), series("d", 6, 6)];
    assert_eq!(
        losses(&all),
        strings(&["b: 2 at the start", "c: 1 at the end", "d: 6 at the start, 6 at the end"])
    );
}

#[test]
fn a_chosen_lambda_is_written_as_the_option_takes_it() {
    let of = |lambda: f64, low: Option<f64>, high: Option<f64>| {
        let likelihood = ProfileLikelihood { lambda, low, high };
        super::lambda(&Choice { likelihood, guerrero: -0.001, sd_ratios: None }, LambdaRule::Likelihood)
    };
    let text = of(-0.167, Some(-0.5), None);
    assert!(text.contains("λ = −0.17") && text.contains("boxcox=-0.17 fixes it"), "{text}");
    assert!(text.contains("−0.50 to above") && text.contains("0.00 by Guerrero"), "{text}");
    assert!(of(0.5, None, Some(1.0)).contains("below"), "{text}");
}

#[test]
fn what_a_step_did_is_reported() {
    let windows = |seasonal_window| Windows { season: 12, seasonal_window, trend_window: 23, chosen: true };
    assert!(season_taken_out(&windows(SeasonWindow::Periodic)).contains("fixed pattern"));
    assert!(season_taken_out(&windows(SeasonWindow::Evolving(9))).contains("window of 9 cycles"));
    assert_eq!(repaired(&[]), "no outliers, nothing replaced");
    assert_eq!(repaired(&[(month(2001, 3), 9.0, 4.5)]), "1 outlier replaced: 2001-03 9.000 → 4.500");
}

#[test]
fn a_series_that_nothing_can_be_done_with_says_why_and_what_to_do() {
    let say = |reason| {
        unusable("a.csv, x", reason, "cannot be tested", |t| {
            month(2001, 1).offset(i64::try_from(t).expect("small"))
        })
    };
    let cases = [
        (
            InvalidSeries::TooShort { observations: 3, needed: 15 },
            "3 observations are too few: at least 15",
            "--sample",
        ),
        (InvalidSeries::Constant, "a.csv, x: the series is constant", "never changes cannot be tested"),
        (InvalidSeries::NotFinite { place: 2 }, "the value in 2001-03 is too large", "rescale"),
    ];
    for (reason, message, advice) in cases {
        let error = say(reason);
        assert_eq!(error.status, Status::Data);
        let text = error.to_string();
        assert!(text.contains(message) && text.contains(advice), "{text}");
    }
}

#[test]
fn a_mistyped_step_finds_the_one_that_was_meant() {
    let refusal = |text: &str| {
        let error = expr::parse(text).expect_err("a mistake");
        expression_error(text, &error).to_string()
    };
    let text = refusal("freight:lm");
    assert!(text.contains("did you mean ln") && text.contains("steps are"), "{text}");
    let lines: Vec<String> = refusal("a + ").lines().map(str::to_owned).collect();
    assert_eq!((lines[1].as_str(), lines[2].as_str()), ("  a + ", "      ^"));
}

proptest! {
    /// A cell that a spreadsheet would run comes back as it was.
    #[test]
    fn guards_come_off_as_they_went_on(text in "[-=+@'a-z0-9]{0,8}") {
        let cell = guarded(&text);
        prop_assert!(!cell.starts_with(['=', '+', '-', '@']));
        // A name that itself begins with an apostrophe and a mark is the one that cannot be told.
        if !text.starts_with('\'') {
            prop_assert_eq!(unguarded(&cell), text);
        }
    }

    /// Whatever a column is called, its quoted name is an expression of that column alone.
    #[test]
    fn a_column_as_an_expression_is_that_column(name in "[!-_a-z]([ -_a-z]{0,10}[!-_a-z])?") {
        let parsed = expr::parse(&column(&name));
        prop_assert!(parsed.is_ok_and(|parsed| parsed.node.columns() == [name.as_str()]));
    }

    /// What is shown of a number is near it.
    #[test]
    fn shown_numbers_are_near_the_true_ones(value in -1e6_f64..1e6) {
        let read = |text: String| text.replace('−', "-").parse::<f64>().unwrap_or(f64::NAN);
        prop_assert!((read(number(value, 2)) - value).abs() <= 0.005 + 1e-9);
        prop_assert!((read(short(value)) - value).abs() <= (1e-3 * value.abs()).max(5.1e-6));
    }
}

#[test]
fn noise_of_arithmetic_is_dropped_and_nothing_else() {
    assert_eq!(
        [5.71 - 0.0, 3.600_000_000_000_001_4, 0.1 + 0.2, -0.67].map(exact),
        ["5.71", "3.6", "0.3", "-0.67"]
    );
    for value in [1.0 / 3.0, 0.123_456_789_012_345, 1e300, 5e-324, 0.0, 123_456_789.0, f64::MAX, -2.5e-9] {
        assert_eq!(exact(value).parse(), Ok(value), "{value}");
    }
}
