//! From the options of the data to series: what is filled, left out, refused, and what is said of it.

use clap::Parser;
use kandrel_core::series::Span;
use kandrel_core::time::{Frequency, Period};

use super::Session;
use crate::args::{DataArgs, Gaps};
use crate::error::{CliError, Status};

#[derive(Parser)]
struct Typed {
    #[command(flatten)]
    data: DataArgs,
}

/// The options of the data, as if typed behind a file that comes from standard input.
fn args(options: &str) -> DataArgs {
    let words = ["x", "-"].into_iter().chain(options.split_whitespace());
    Typed::try_parse_from(words).unwrap_or_else(|error| panic!("{error}")).data
}

fn month(text: &str) -> Period {
    Period::parse(text).expect("a period")
}

/// What a job makes of a file read with these options.
fn on<T>(csv: &str, options: &str, job: impl FnOnce(&mut Session<'_>) -> T) -> T {
    let args = args(options);
    let mut session =
        Session::open(&args, &mut csv.as_bytes()).unwrap_or_else(|error| panic!("{options}: {error}"));
    job(&mut session)
}

fn values(csv: &str, options: &str, expression: &str) -> Vec<f64> {
    let all = on(csv, options, |session| session.series(&[expression.to_owned()]));
    all.unwrap_or_else(|error| panic!("{expression}: {error}")).remove(0).values
}

fn refused<T>(outcome: Result<T, CliError>, status: Status, texts: &[&str]) {
    let error = outcome.err().expect("a refusal");
    assert_eq!(error.status, status, "{error}");
    for text in texts {
        assert!(error.to_string().contains(text), "{text:?} is not in {error}");
    }
}

/// Six months, one of `b` missing.
const SIX: &str =
    "month,a,b\n2001-01,1,10\n2001-02,2,12\n2001-03,4,\n2001-04,8,16\n2001-05,16,19\n2001-06,32,20\n";

#[test]
fn the_season_is_that_of_the_frequency_unless_one_is_given() {
    assert_eq!(on(SIX, "", |session| session.season()), 12);
    assert_eq!(on(SIX, "--season 3", |session| session.season()), 3);
    assert_eq!(on("x\n1\n2\n3\n", "", |session| session.season()), 1);
}

#[test]
fn a_sample_is_a_span_of_the_data_or_says_how_to_write_one() {
    let span = on(SIX, "--sample 2001-02..2001-04", |session| session.span());
    assert_eq!(span.ok(), Span::parse("2001-02..2001-04", Frequency::Month).ok());
    assert_eq!(on(SIX, "", |session| session.span()).ok(), Some(Span::default()));
    let wrong = on(SIX, "--sample 2001Q1", |session| session.span());
    refused(wrong, Status::Call, &["--sample", "monthly", "write --sample 2001-01..2001-06"]);
}

#[test]
fn a_sample_cuts_a_series_before_its_steps_lose_their_values() {
    assert_eq!(values(SIX, "--sample 2001-03..", "a"), [4.0, 8.0, 16.0, 32.0]);
    // A difference at the first period of the sample takes the value before it.
    assert_eq!(values(SIX, "--sample 2001-03..", "a:d1"), [2.0, 4.0, 8.0, 16.0]);
    assert_eq!(values(SIX, "", "a:d1"), [1.0, 2.0, 4.0, 8.0, 16.0]);
}

#[test]
fn a_missing_value_is_refused_with_every_way_out() {
    let refusal = on(SIX, "", |session| session.series(&["b".to_owned()]));
    let ways = ["values are missing in 2001-03", "--gaps linear", "--gaps drop", "--sample 2001-04.."];
    refused(refusal, Status::Data, &ways);
    // Only a method that takes gaps is told that they may be kept.
    let open = on(SIX, "", |session| session.series_with_gaps(&["b".to_owned()], Gaps::Refuse));
    refused(open, Status::Data, &["--gaps keep"]);
    let closed = on(SIX, "", |session| session.series(&["b".to_owned()])).expect_err("a refusal");
    assert!(!closed.to_string().contains("--gaps keep"));
}

#[test]
fn each_rule_for_gaps_does_what_it_says() {
    let b = [10.0, 12.0, 16.0, 19.0, 20.0];
    let with = |value: f64| vec![b[0], b[1], value, b[2], b[3], b[4]];
    assert_eq!(values(SIX, "--gaps previous", "b"), with(12.0));
    assert_eq!(values(SIX, "--gaps linear", "b"), with(14.0));
    assert_eq!(values(SIX, "--gaps drop", "b"), b);
    let kept = on(SIX, "--gaps keep", |session| session.series_with_gaps(&["b".to_owned()], Gaps::Refuse));
    let kept = kept.unwrap_or_else(|error| panic!("{error}")).remove(0);
    assert_eq!((kept.cells.len(), kept.cells[2]), (6, None));
    let refusal = on(SIX, "--gaps keep", |session| session.series(&["b".to_owned()]));
    refused(refusal, Status::Call, &["--gaps keep: this command takes no gaps", "linear"]);
}

#[test]
fn gaps_are_filled_in_columns_before_expressions_are_computed() {
    // The logarithm of the filled value, not a filled logarithm.
    let found = values(SIX, "--gaps linear", "b:ln");
    assert!((found[2] - 14.0_f64.ln()).abs() < 1e-12);
    // Only periods where a column of the expression is missing are left out.
    assert_eq!(values(SIX, "--gaps drop", "a").len(), 6);
    assert_eq!(values(SIX, "--gaps drop", "a + b"), [11.0, 14.0, 24.0, 35.0, 52.0]);
}

#[test]
fn periods_that_are_left_out_make_their_neighbours_neighbours() {
    let all = on(SIX, "--gaps drop", |session| session.series(&["b:d1".to_owned()]));
    let series = all.unwrap_or_else(|error| panic!("{error}")).remove(0);
    assert_eq!(series.values, [2.0, 4.0, 3.0, 1.0]);
    assert_eq!(series.period(1), month("2001-04"));
}

#[test]
fn without_a_series_the_only_column_is_meant() {
    let one = "month,rate\n2001-01,1\n2001-02,2\n";
    let found = on(one, "", |session| session.series(&[])).unwrap_or_else(|error| panic!("{error}"));
    assert_eq!(found[0].name, "rate");
    let several = on(SIX, "", |session| session.series(&[]));
    refused(several, Status::Call, &["which series?", "`a` and `b`"]);
    let none = on("month,word\n2001-01,x\n2001-02,y\n", "", |session| session.series(&[]));
    refused(none, Status::Data, &["no column of numbers"]);
}

#[test]
fn names_stand_for_expressions_and_for_those_before_them() {
    let spread = values(SIX, "--gaps drop --let both=a+b --let twice=2*both", "twice");
    assert_eq!(spread, [22.0, 28.0, 48.0, 70.0, 104.0]);
}

#[test]
fn a_name_that_cannot_be_one_is_refused() {
    for (options, text) in [
        ("--let spread", "an equals sign is missing"),
        ("--let a=b", "cannot be the name"),
        ("--let 2nd=b", "cannot be the name"),
        ("--let c=a --let c=b", "cannot be the name"),
        ("--let c=a+", "the series"),
    ] {
        let outcome = on(SIX, options, |session| session.series(&["a".to_owned()]));
        refused(outcome, Status::Call, &[text]);
    }
}

#[test]
fn a_column_whose_name_reads_like_arithmetic_is_meant_as_the_column() {
    let csv = "month,a-b,a,b\n2001-01,5,1,1\n2001-02,6,2,1\n2001-03,7,3,1\n";
    assert_eq!(values(csv, "", "a-b"), [5.0, 6.0, 7.0]);
    assert_eq!(values(csv, "", "a - b"), [0.0, 1.0, 2.0]);
    assert_eq!(values(csv, "", "`a-b`:d1"), [1.0, 1.0]);
}

#[test]
fn series_of_several_spans_meet_where_all_have_values() {
    let all = on(SIX, "", |session| session.in_common(&["a:d1".to_owned(), "a:d2".to_owned()]));
    let all = all.unwrap_or_else(|error| panic!("{error}"));
    assert!(all.iter().all(|series| series.start == month("2001-03") && series.values.len() == 4));
    let twice = on(SIX, "", |session| session.in_common(&["a".to_owned(), "a".to_owned()]));
    refused(twice, Status::Call, &["a is named twice"]);
    let apart = "month,x,y\n2001-01,1,\n2001-02,2,\n2001-03,,3\n2001-04,,4\n";
    let apart = on(apart, "", |session| session.in_common(&["x".to_owned(), "y".to_owned()]));
    refused(apart, Status::Data, &["no period in common", "kandrel inspect"]);
}

#[test]
fn a_regressor_is_known_over_all_periods_whatever_the_sample() {
    let whole = on(SIX, "--sample 2001-03..2001-04", |session| session.whole_series("a"));
    let whole = whole.unwrap_or_else(|error| panic!("{error}"));
    assert_eq!((whole.cells.len(), whole.start), (6, month("2001-01")));
}

#[test]
fn a_smoothed_series_is_noted_and_another_is_not() {
    let notes = |expression: &str| {
        on(SIX, "", |session| {
            session.series(&[expression.to_owned()]).unwrap_or_else(|error| panic!("{error}"));
            session.dataset.notes.clone()
        })
    };
    let noted = |expression: &str| notes(expression).iter().any(|note| note.contains("is a moving average"));
    assert!(noted("a:avg3") && noted("a:trail2"));
    assert!(!noted("a:d1") && !noted("a"));
}

#[test]
fn what_has_no_value_says_where_and_what_to_do() {
    let csv = "month,a,z\n2001-01,1,0\n2001-02,-2,0\n2001-03,4,1\n";
    for (expression, status, texts) in [
        ("a:ln", Status::Data, ["no logarithm of -2 in 2001-02", "--sample"]),
        ("a / z", Status::Data, ["a division by zero in 2001-01", "divide by something else"]),
        ("freight", Status::Data, ["freight", "a"]),
        ("a:index=2005-01", Status::Data, ["no value in 2005-01 to be 100", "2001-01 to 2001-03"]),
        ("a:d5", Status::Data, ["reaches 5 periods back", "take smaller lags"]),
        ("a:", Status::Call, ["the series \"a:\"", "^"]),
    ] {
        let outcome = on(csv, "", |session| session.series(&[expression.to_owned()]));
        refused(outcome, status, &texts);
    }
    let undated = on("a\n1\n2\n3\n", "", |session| session.series(&["a:perday".to_owned()]));
    refused(undated, Status::Data, &["calendar steps need dates", "--time"]);
}

#[test]
fn the_terms_of_a_model_become_regressors_with_their_values() {
    let periods: Vec<Period> = (0..6).map(|t| month("2001-01").offset(t)).collect();
    let columns = |terms: &str| {
        let found = on(SIX, "", |session| session.regressors(Some(terms)));
        let found = found.unwrap_or_else(|error| panic!("{terms}: {error}"));
        (found.names(), found.over(&periods).expect("known"))
    };
    let (names, values) = columns("step=2001-04, pulse=2001-02, ramp=2001-04, trend, (a:ln)");
    assert_eq!(names, ["step=2001-04", "pulse=2001-02", "ramp=2001-04", "trend", "(a:ln)"]);
    assert_eq!(values[0], [0.0, 0.0, 0.0, 1.0, 1.0, 1.0]);
    assert_eq!(values[1], [0.0, 1.0, 0.0, 0.0, 0.0, 0.0]);
    assert_eq!(values[2], [0.0, 0.0, 0.0, 0.0, 1.0, 2.0]);
    assert!(values[3].windows(2).all(|pair| (pair[1] - pair[0] - 1.0).abs() < 1e-12));
    assert!((values[4][5] - 32.0_f64.ln()).abs() < 1e-12);
    // Twelve months need eleven dummies, each of which sums to zero over a year.
    let (new, _) = columns("seasons=2001-04");
    assert!(new.iter().all(|name| name.ends_with("_from_2001-04")), "{new:?}");
    let (names, _) = columns("seasons");
    assert_eq!(names.len(), 11);
    assert!(on(SIX, "", |session| session.regressors(None)).is_ok_and(|none| none.is_empty()));
}

#[test]
fn terms_that_mean_nothing_here_are_refused() {
    for (csv, terms, status, text) in [
        (SIX, "step=2001Q5", Status::Call, "write a period, as step=2001-06"),
        (SIX, " , ", Status::Call, "--with names nothing"),
        (SIX, "wind", Status::Data, "wind"),
        ("a\n1\n2\n3\n", "seasons", Status::Call, "the data have no season"),
        ("a\n1\n2\n3\n", "workdays", Status::Data, "the rows have no dates"),
    ] {
        refused(on(csv, "", |session| session.regressors(Some(terms))), status, &[text]);
    }
    let days: Vec<String> = (0..730).map(|t| t.to_string()).collect();
    let long = on(&format!("a\n{}\n", days.join("\n")), "--season 365", |session| {
        session.regressors(Some("seasons"))
    });
    refused(long, Status::Call, &["seasonal dummies are limited to a period of 60"]);
}

#[test]
fn a_column_takes_precedence_over_a_word_of_the_terms() {
    let csv = "month,trend\n2001-01,5\n2001-02,3\n2001-03,8\n";
    let found = on(csv, "", |session| session.deterministic("trend"));
    assert!(found.is_ok_and(|found| found.is_none()));
}

#[test]
fn a_series_to_be_carried_back_keeps_what_it_is_computed_from() {
    let all = on(SIX, "--sample 2001-02..", |session| session.transformed(&["a:ln,d1".to_owned()]));
    let one = all.unwrap_or_else(|error| panic!("{error}")).remove(0);
    assert_eq!((one.typed.text.as_str(), one.season), ("a:ln,d1", 12));
    assert_eq!(one.series.cells.len(), 5);
    assert_eq!(one.frame.length, 6);
    assert!(one.series.cells.iter().flatten().all(|change| (change - 2.0_f64.ln()).abs() < 1e-12));
}

#[test]
fn steps_that_take_something_from_the_data_say_what_they_took() {
    let rows: Vec<String> = (0..60_i32)
        .map(|t| format!("{:04}-{:02},{}\n", 2001 + t / 12, t % 12 + 1, 100 + 7 * t + 13 * (t % 5)))
        .collect();
    let csv = format!("month,x\n{}", rows.concat());
    let notes = on(&csv, "", |session| {
        session.series(&["x:boxcox".to_owned()]).unwrap_or_else(|error| panic!("{error}"));
        session.dataset.notes.join("; ")
    });
    assert!(notes.contains("x:boxcox: λ = ") && notes.contains("fixes it"), "{notes}");
}
