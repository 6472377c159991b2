//! Forecasts in original units against those of the bare model, what cannot be forecast, and no look ahead.

use std::collections::BTreeMap;

use super::*;
use crate::arima::{Data, Known, Model, fit};
use crate::expr;
use crate::identify;
use crate::num::rng::NormalStream;
use crate::predictive::Shocks;
use crate::regressor::{Deterministic, Regressor, RegressorValues, Regressors};
use crate::series::{Column, Frame, Span};
use crate::time::Period;
use crate::transform::{InverseError, Transformed, evaluate_with_gaps, resolve};

const LENGTH: usize = 96;

/// Eight years of months of a positive series that grows, and of a second column.
fn frame() -> Frame {
    let e = NormalStream::new(41, 0).take(LENGTH);
    let growing = e.iter().zip(0..).map(|(e, t)| Some((3.0 + 0.01 * f64::from(t) + 0.1 * e).exp())).collect();
    let other = (0..LENGTH).map(|t| Some(50.0 + (t % 7) as f64)).collect();
    let column = |name: &str, cells: Vec<Option<f64>>| Column { name: name.to_owned(), cells };
    let columns = vec![column("x", growing), column("z", other)];
    Frame { start: Period::month(2010, 1).expect("a month"), length: LENGTH, columns, dates: None }
}

fn transformed_of(frame: Frame, text: &str, span: Span) -> Transformed {
    let typed = expr::parse(text).expect("an expression");
    let mut expression = typed.clone();
    resolve(&mut expression, &frame, span, 12).expect("steps that find what they need");
    let series = evaluate_with_gaps(&expression, &frame, span).expect("values");
    Transformed { typed, expression, frame, span, season: 12, series }
}

fn transformed(text: &str) -> Transformed {
    transformed_of(frame(), text, Span::default())
}

fn next(
    target: &Transformed,
    model: &str,
    regressors: &Regressors,
    options: AheadOptions,
) -> Result<Ahead, AheadError> {
    let data = identify::data(&target.series, regressors).expect("values in the sample");
    let fit = fit(&data, Model::parse(model).expect("a model")).expect("an estimate");
    ahead(target, &data, Estimates::Known(&Known::from(&fit)), regressors, options)
}

const SIX: AheadOptions = AheadOptions { ahead: 6, transformed: false };

#[test]
fn medians_on_a_log_scale_are_exponentials_of_the_forecasts_there() {
    let target = transformed("x:ln");
    let own = next(&target, "(0,1,1)", &Regressors::default(), SIX).expect("forecasts");
    let there = next(&target, "(0,1,1)", &Regressors::default(), AheadOptions { transformed: true, ..SIX });
    let there = there.expect("forecasts");
    assert_eq!(own.periods.len(), 6);
    assert_eq!(own.periods[0].to_string(), "2018-01");
    for (own, there) in own.steps(&[]).iter().zip(&there.steps(&[])) {
        assert!((own.median - there.median.exp()).abs() < 1e-9 * own.median);
        // The mean of a lognormal value lies above its median.
        assert!(own.mean.is_some_and(|mean| mean > own.median));
    }
}

#[test]
fn a_difference_as_a_step_is_a_difference_in_the_model() {
    let by_step =
        next(&transformed("x:ln,d1"), "(0,0,1)+none", &Regressors::default(), SIX).expect("forecasts");
    let by_model = next(&transformed("x:ln"), "(0,1,1)", &Regressors::default(), SIX).expect("forecasts");
    for (a, b) in by_step.steps(&[]).iter().zip(&by_model.steps(&[])) {
        assert!((a.median - b.median).abs() < 1e-5 * b.median, "{} {}", a.median, b.median);
    }
}

#[test]
fn actual_values_are_those_that_the_data_have() {
    let last = Period::month(2017, 8).expect("a month");
    let target = transformed_of(frame(), "x:ln", Span { to: Some(last), ..Span::default() });
    let own = next(&target, "(0,1,1)", &Regressors::default(), SIX).expect("forecasts");
    let known: Vec<bool> = own.actual.iter().map(Option::is_some).collect();
    assert_eq!(known, [true, true, true, true, false, false]);
    let cells = &frame().columns[0].cells;
    assert_eq!(own.actual[0], cells[92]);
}

#[test]
fn paths_follow_their_seed_and_have_the_steps_as_their_middle() {
    let own = next(&transformed("x:ln"), "(0,1,1)", &Regressors::default(), SIX).expect("forecasts");
    let paths_of = |count, seed| own.paths(count, &Shocks::Normal { seed });
    let paths = paths_of(2000, 3);
    assert_eq!((paths.len(), paths[0].len()), (2000, 6));
    assert_eq!(paths, paths_of(2000, 3));
    assert_ne!(paths[0], paths_of(1, 4)[0]);
    let mut last: Vec<f64> = paths.iter().map(|path| path[5]).collect();
    last.sort_by(f64::total_cmp);
    assert!((last[1000] / own.steps(&[])[5].median - 1.0).abs() < 0.05);
}

#[test]
fn what_has_no_forecast_says_why() {
    let none = Regressors::default();
    let lossy = next(&transformed("x:abs"), "(0,1,1)", &none, SIX).expect_err("abs has no inverse");
    assert!(matches!(lossy, AheadError::Undo(InverseError::Lossy(_))), "{lossy:?}");
    assert!(next(&transformed("x:abs"), "(0,1,1)", &none, AheadOptions { transformed: true, ..SIX }).is_ok());
    let future = next(&transformed("x:per=z"), "(0,1,1)", &none, SIX).expect_err("z is not known ahead");
    assert!(matches!(future, AheadError::Undo(InverseError::Future { .. })), "{future:?}");
    // A column as a regressor ends with the data; a trend does not.
    let target = transformed("x:ln");
    let periods: BTreeMap<Period, f64> =
        (0..LENGTH).map(|t| (target.frame.period(t), (t % 7) as f64)).collect();
    let column =
        Regressor { term: "z".to_owned(), name: "z".to_owned(), values: RegressorValues::Known(periods) };
    let error = next(&target, "(1,0,0)", &Regressors { all: vec![column] }, SIX).expect_err("it ends");
    let AheadError::Regressor(missing) = error else { panic!("{error:?}") };
    assert_eq!((missing.name.as_str(), missing.periods.len()), ("z", 6));
    let trend = Regressor::deterministic(Deterministic::Trend { origin: target.frame.start });
    let own = next(&target, "(1,0,0)", &Regressors { all: vec![trend] }, SIX).expect("forecasts");
    assert!(own.steps(&[])[5].median > own.steps(&[])[0].median);
}

/// What is known at an origin does not depend on anything after it.
#[test]
fn an_origin_sees_no_later_value() {
    for text in ["x:boxcox", "x:deseason", "x:repair,ln", "x:standardize", "x:detrend", "x:ln,d12"] {
        let last = Period::month(2015, 12).expect("a month");
        let whole = transformed(text);
        let mut changed = frame();
        for cell in changed.columns[0].cells.iter_mut().skip(72) {
            *cell = cell.map(|value| 40.0 * value + 7.0);
        }
        let other = transformed_of(changed, text, Span::default());
        let own = whole.known_until(last).expect("values");
        assert_eq!(own.series.cells, other.known_until(last).expect("values").series.cells, "{text}");
        assert_eq!(own.series.period(own.series.cells.len() - 1), last);
        // With what the steps took from all values the past may be another.
        let estimated = ["x:boxcox", "x:deseason", "x:standardize", "x:detrend"].contains(&text);
        let kept = whole.until(last).expect("values").series.cells;
        assert_eq!(kept.len(), own.series.cells.len(), "{text}");
        if !estimated {
            continue;
        }
        assert_ne!(whole.series.cells[..kept.len()], other.series.cells[..kept.len()], "{text}");
    }
}

#[test]
fn own_values_are_those_of_the_column() {
    let target = transformed("x:ln,d12");
    let own = target.own_values();
    assert_eq!(own.len(), LENGTH);
    let first = frame().columns[0].cells[0].expect("a value");
    assert!((own[&target.frame.start] - first).abs() < 1e-12);
    assert_eq!(target.series.cells.len(), LENGTH - 12);
    assert!(Data::with_gaps(&target.series.cells).len() == LENGTH - 12);
}
