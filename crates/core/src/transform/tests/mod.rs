//! Every step on values computed by hand.

use super::*;
use crate::decomp::DecompError;
use crate::expr::{parse, with_names};
use crate::series::{Column, Frame, Series, SeriesError, Span};
use crate::time::{Frequency, Period};

fn frame_of(start: Period, columns: &[(&str, &[Option<f64>])]) -> Frame {
    let length = columns[0].1.len();
    let columns =
        columns.iter().map(|(name, cells)| Column { name: (*name).to_owned(), cells: cells.to_vec() });
    Frame { start, length, columns: columns.collect(), dates: None }
}

fn full(values: &[f64]) -> Vec<Option<f64>> {
    values.iter().copied().map(Some).collect()
}

fn run_on(frame: &Frame, text: &str, sample: &str) -> Result<Series, EvaluateError> {
    let sample = Span::parse(sample, frame.frequency()).expect("a span");
    evaluate(&parse(text).expect("an expression"), frame, sample)
}

/// An expression in `x` over years from 2000.
fn run(text: &str, cells: &[Option<f64>], sample: &str) -> Result<Series, EvaluateError> {
    run_on(&frame_of(Period::year(2000), &[("x", cells)]), text, sample)
}

/// First year and values of an expression in `x`, all periods.
#[track_caller]
fn gives(text: &str, x: &[f64], first: i64, expected: &[f64]) {
    let series = run(text, &full(x), "..").expect(text);
    assert_eq!(series.start, Period::year(first), "{text}");
    assert_eq!(series.values.len(), expected.len(), "{text}: {:?}", series.values);
    for (ours, by_hand) in series.values.iter().zip(expected) {
        assert!((ours - by_hand).abs() < 1e-12, "{text}: {:?}", series.values);
    }
}

#[test]
fn steps_on_each_value() {
    let e = std::f64::consts::E;
    gives("x:ln", &[1.0, e, e * e], 2000, &[0.0, 1.0, 2.0]);
    gives("x:exp", &[0.0, 1.0], 2000, &[1.0, e]);
    gives("x:sqrt", &[0.0, 9.0], 2000, &[0.0, 3.0]);
    gives("x:abs", &[-2.0, 3.0], 2000, &[2.0, 3.0]);
    // (4^0.5 - 1)/0.5 = 2, (9^0.5 - 1)/0.5 = 4; λ = 0 is the logarithm; λ = 1 the value less one.
    gives("x:boxcox=0.5", &[4.0, 9.0], 2000, &[2.0, 4.0]);
    gives("x:boxcox=0", &[1.0, e], 2000, &[0.0, 1.0]);
    gives("x:boxcox=-1", &[2.0, 4.0], 2000, &[0.5, 0.75]);
}

#[test]
fn steps_that_look_back() {
    gives("x:d1", &[1.0, 4.0, 9.0], 2001, &[3.0, 5.0]);
    gives("x:d1,d1", &[1.0, 4.0, 9.0, 16.0], 2002, &[2.0, 2.0]);
    gives("x:d2", &[1.0, 4.0, 9.0], 2002, &[8.0]);
    gives("x:pct1", &[10.0, 12.0, 9.0], 2001, &[20.0, -25.0]);
    gives("x:growth2", &[1.0, 5.0, 1.0_f64.exp()], 2002, &[100.0]);
    gives("x[t-2]", &[1.0, 2.0, 3.0], 2002, &[1.0]);
    gives("x - x[t-1]", &[1.0, 4.0, 9.0], 2001, &[3.0, 5.0]);
    gives("x:trail3", &[1.0, 2.0, 6.0, 7.0], 2002, &[3.0, 5.0]);
}

#[test]
fn centred_averages_lose_both_ends() {
    gives("x:avg3", &[1.0, 2.0, 6.0, 7.0], 2001, &[3.0, 5.0]);
    // 0.125 · 1 + 0.25 · (2 + 6 + 7) + 0.125 · 9
    gives("x:avg4", &[1.0, 2.0, 6.0, 7.0, 9.0], 2002, &[5.0]);
    gives("x:avg1", &[1.0, 2.0], 2000, &[1.0, 2.0]);
}

#[test]
fn steps_that_estimate_use_the_sample_only() {
    gives("x:demean", &[1.0, 2.0, 6.0], 2000, &[-2.0, -1.0, 3.0]);
    let half = 0.5_f64.sqrt();
    gives("x:standardize", &[1.0, 3.0], 2000, &[-half, half]);
    gives("x:detrend", &[1.0, 3.0, 5.0, 8.0], 2000, &[0.2, -0.1, -0.4, 0.3]);
    gives("x:detrend=2", &[1.0, 4.0, 9.0, 16.0, 25.0], 2000, &[0.0; 5]);
    gives("x:cumulate", &[1.0, 2.0, 6.0], 2000, &[1.0, 3.0, 9.0]);
    gives("x:index=2001", &[1.0, 2.0, 3.0], 2000, &[50.0, 100.0, 150.0]);
    let cells = full(&[100.0, 1.0, 3.0]);
    assert_eq!(run("x:demean", &cells, "2001..").expect("defined").values, [-1.0, 1.0]);
    assert_eq!(run("x:d1", &cells, "2001..").expect("defined").values, [-99.0, 2.0]);
}

#[test]
fn arithmetic_and_other_columns() {
    let frame = frame_of(
        Period::year(2000),
        &[("a", &full(&[6.0, 8.0])), ("b", &full(&[2.0, 4.0])), ("price index", &full(&[50.0, 200.0]))],
    );
    let values = |text: &str| run_on(&frame, text, "..").expect(text).values;
    assert_eq!(values("a + b * 2"), [10.0, 16.0]);
    assert_eq!(values("(a - b) / b"), [2.0, 1.0]);
    assert_eq!(values("-a ^ 2"), [-36.0, -64.0]);
    assert_eq!(values("a:per=b"), [3.0, 2.0]);
    assert_eq!(values("a:real=`price index`"), [12.0, 4.0]);
    assert_eq!(values("(a - b):d1"), [0.0]);
    assert_eq!(values("2 - a:d1"), [0.0]);
}

#[test]
fn calendar_steps_know_leap_years_and_weekends() {
    // 2024: February has 29 days and 21 Mondays to Fridays; January 31 and 23.
    let start = Period::month(2024, 1).expect("a month");
    let frame = frame_of(start, &[("x", &full(&[31.0, 29.0]))]);
    let average = 365.25 / 12.0;
    for value in run_on(&frame, "x:perday", "..").expect("dated").values {
        assert!((value - average).abs() < 1e-12);
    }
    let frame = frame_of(start, &[("x", &full(&[23.0, 21.0]))]);
    for value in run_on(&frame, "x:perworkday", "..").expect("dated").values {
        assert!((value - average * 5.0 / 7.0).abs() < 1e-12);
    }
    let common = frame_of(Period::month(2023, 2).expect("a month"), &[("x", &full(&[28.0]))]);
    let days = run_on(&common, "x:perday", "..").expect("dated").values[0];
    assert!((days - average).abs() < 1e-12);
    let numbered = frame_of(Period::observation(1), &[("x", &full(&[28.0]))]);
    assert_eq!(run_on(&numbered, "x:perday", ".."), Err(EvaluateError::Undated));
}

#[test]
fn what_is_undefined_matters_only_where_the_sample_needs_it() {
    let cells = full(&[0.0, 1.0, 1.0, 1.0]);
    assert_eq!(run("x:ln", &cells, "2001..").expect("defined").values, [0.0; 3]);
    let undefined = |why| Err(EvaluateError::Undefined { period: Period::year(2000), why });
    assert_eq!(run("x:ln,d1", &cells, "2001.."), undefined(Undefined::Logarithm(0.0)));
    assert_eq!(run("1 / x", &cells, ".."), undefined(Undefined::Division));
    assert_eq!(run("(x - 5):sqrt", &cells, ".."), undefined(Undefined::Power(-5.0)));
    assert_eq!(run("(x + 800):exp", &cells, ".."), undefined(Undefined::TooLarge));
    assert_eq!(run("x ^ (-1)", &cells, ".."), undefined(Undefined::Power(0.0)));
}

#[test]
fn gaps_are_those_of_the_columns_not_those_of_their_differences() {
    let cells = [Some(1.0), Some(2.0), None, Some(4.0), Some(5.0), Some(6.0)];
    let gap = EvaluateError::Series(SeriesError::Gaps { periods: vec![Period::year(2002)] });
    for text in ["x", "x:d1", "x:trail2", "x + x[t-1]"] {
        assert_eq!(run(text, &cells, ".."), Err(gap.clone()), "{text}");
    }
}

#[test]
fn what_cannot_be_evaluated_is_refused_by_name() {
    let cells = full(&[1.0, 1.0, 1.0]);
    assert_eq!(run("y", &cells, ".."), Err(EvaluateError::UnknownColumn("y".into())));
    assert_eq!(run("x:per=y", &cells, ".."), Err(EvaluateError::UnknownColumn("y".into())));
    assert_eq!(run("1 + 1", &cells, ".."), Err(EvaluateError::NoColumn));
    assert_eq!(run("x:standardize", &cells, ".."), Err(EvaluateError::NoVariation));
    assert_eq!(run("x:detrend=3", &cells, ".."), Err(EvaluateError::TooFew { needed: 5 }));
    assert_eq!(run("x:index=1990", &cells, ".."), Err(EvaluateError::NoBase { period: "1990".into() }));
    assert_eq!(run("x:d5", &cells, ".."), Err(EvaluateError::Series(SeriesError::Empty)));
    assert_eq!(Frequency::Year.per_year(), Some(1.0));
}

#[test]
fn named_expressions_take_the_place_of_their_names() {
    let frame = frame_of(Period::year(2000), &[("a", &full(&[6.0, 8.0])), ("b", &full(&[2.0, 4.0]))]);
    let node = |text: &str| parse(text).expect("an expression").node;
    let names = [("spread".to_owned(), node("a - b")), ("twice".to_owned(), node("2 * b"))];
    let values = |text: &str| {
        let mut expression = parse(text).expect("an expression");
        expression.node = with_names(&expression.node, &names);
        evaluate(&expression, &frame, Span::default()).expect(text).values
    };
    assert_eq!(values("spread"), [4.0, 4.0]);
    assert_eq!(values("spread:ln,d1"), [0.0]);
    assert_eq!(values("-spread[t-1] * 2"), [-8.0]);
    assert_eq!(values("a:per=twice,d1"), [-0.5]);
    assert_eq!(values("a:d1,real=twice"), [25.0]);
}

#[test]
fn a_gap_near_an_end_is_not_trimmed_away_with_what_it_costs() {
    let gap = |year| Err(EvaluateError::Series(SeriesError::Gaps { periods: vec![Period::year(year)] }));
    let near_end = [Some(1.0), Some(2.0), Some(3.0), None, Some(5.0)];
    assert_eq!(run("x:d1", &near_end, ".."), gap(2003));
    let near_start = [Some(1.0), None, Some(3.0), Some(4.0), Some(5.0)];
    assert_eq!(run("x:d1", &near_start, ".."), gap(2001));
    assert_eq!(run("x:d2", &near_start, ".."), gap(2001));
    // A sample that does not feel the gap is whole.
    assert_eq!(run("x:d1", &near_end, "..2002").expect("whole").values, [1.0, 1.0]);
    assert_eq!(run("x:d1", &near_start, "2003..").expect("whole").values, [1.0, 1.0]);
    // Values that a centred average cannot have are no gap.
    gives("x:avg3,d1", &[1.0, 2.0, 3.0, 4.0, 5.0], 2002, &[1.0, 1.0]);
    gives("x[t-1]", &[1.0, 2.0, 3.0], 2001, &[1.0, 2.0]);
}

#[test]
fn an_open_lambda_is_chosen_from_the_sample_and_put_in() {
    let shocks = crate::num::rng::NormalStream::new(5, 0).take(80);
    let mut level = 3.0;
    let cells: Vec<Option<f64>> = shocks
        .iter()
        .map(|shock| {
            level += 0.02 + 0.1 * shock;
            Some(f64::exp(level))
        })
        .collect();
    let start = Period::month(2001, 1).expect("valid");
    let frame = frame_of(start, &[("x", &cells)]);
    let mut expression = parse("x:boxcox,d1").expect("valid");
    assert_eq!(evaluate(&expression, &frame, Span::default()), Err(EvaluateError::Open));
    let choices = resolve(&mut expression, &frame, Span::default(), 1).expect("a choice");
    let Resolved::Lambda(choice, _) = &choices[0] else { panic!("{choices:?}") };
    let lambda = choice.likelihood.lambda;
    let given = parse(&format!("x:boxcox={lambda},d1")).expect("valid");
    let values = |expression| evaluate(expression, &frame, Span::default()).expect("values").values;
    assert_eq!(values(&expression), values(&given));
    // A value that has no power is named by its period.
    let mut cells = cells;
    cells[30] = Some(-1.0);
    let frame = frame_of(start, &[("x", &cells)]);
    let refused = resolve(&mut parse("x:boxcox").expect("valid"), &frame, Span::default(), 1);
    assert!(
        matches!(refused, Err(EvaluateError::Undefined { period, .. }) if period == start.offset(30)),
        "{refused:?}"
    );
}

/// Quarters from 2000 with a season, a line and small waves.
fn quarters(count: u32) -> Vec<Option<f64>> {
    let value =
        |t: u32| 30.0 + f64::from(t) + [6.0, -2.0, 1.0, -5.0][t as usize % 4] + (f64::from(t) * 2.7).sin();
    (0..count).map(|t| Some(value(t))).collect()
}

#[test]
fn a_season_taken_out_on_the_sample_reaches_beyond_it() {
    let start = Period::quarter(2000, 1).expect("valid");
    let frame = frame_of(start, &[("x", &quarters(48))]);
    let sample = Span::parse("2003-Q1..2009-Q4", Frequency::Quarter).expect("a span");
    let mut expression = parse("x:deseason,d4").expect("valid");
    let found = resolve(&mut expression, &frame, sample, 4).expect("a season");
    assert!(matches!(found[..], [Resolved::Season(windows)] if windows.season == 4));
    let changes = evaluate(&expression, &frame, sample).expect("values");
    // The first change reaches back before the sample, where the season is that of its first year.
    assert_eq!(changes.values.len(), 28);
    assert!(changes.values.iter().all(|change| (change - 4.0).abs() < 2.5), "{:?}", changes.values);
    let adjusted = {
        let mut expression = parse("x:deseason").expect("valid");
        resolve(&mut expression, &frame, Span::default(), 4).expect("a season");
        evaluate(&expression, &frame, Span::default()).expect("values").values
    };
    let steps: Vec<f64> = adjusted.windows(2).map(|pair| pair[1] - pair[0]).collect();
    assert!(steps.iter().all(|step| (step - 1.0).abs() < 2.6), "{steps:?}");
    assert_eq!(
        resolve(&mut parse("x:deseason").expect("valid"), &frame, sample, 1),
        Err(EvaluateError::Season(DecompError::NoSeason))
    );
}

#[test]
fn outliers_are_replaced_and_named() {
    let start = Period::quarter(2000, 1).expect("valid");
    let mut cells = quarters(48);
    cells[30] = Some(200.0);
    let frame = frame_of(start, &[("x", &cells)]);
    let mut expression = parse("x:repair").expect("valid");
    let found = resolve(&mut expression, &frame, Span::default(), 4).expect("a search");
    let [Resolved::Repaired(values)] = &found[..] else { panic!("{found:?}") };
    assert_eq!(values.iter().map(|one| one.0).collect::<Vec<_>>(), [start.offset(30)]);
    let repaired = evaluate(&expression, &frame, Span::default()).expect("values").values;
    assert!((repaired[30] - (30.0 + 30.0 + 1.0)).abs() < 2.0, "{}", repaired[30]);
    assert_eq!(Some(repaired[29]), cells[29]);
    cells[12] = None;
    let holed = frame_of(start, &[("x", &cells)]);
    let refused = resolve(&mut parse("x:repair").expect("valid"), &holed, Span::default(), 4);
    assert_eq!(refused, Err(SeriesError::Gaps { periods: vec![start.offset(12)] }.into()));
}
