//! The choice on simulated series of known orders, and deterministic terms in both of their former definitions.

use super::*;
use crate::arima::fit;
use crate::diagnosis::filled;
use crate::num::rng::NormalStream;
use crate::series::Series;
use crate::time::Period;

/// Months from November on: the calendar's first place is not the first of the data.
fn monthly(values: Vec<f64>) -> SeriesWithGaps {
    let start = Period::month(2003, 11).expect("a month");
    let series =
        Series { name: "x".to_owned(), start, values, dates: None, lost: crate::series::Lost::default() };
    series.into()
}

fn found(series: &SeriesWithGaps, given: Regressors, options: IdentifyOptions) -> Identified {
    identify(series, given, None, &options, |_, _| {}).expect("a model")
}

const MONTHLY: IdentifyOptions = IdentifyOptions {
    season: 12,
    differences: [None, None],
    criterion: RankingCriterion::Bic,
    limit: Some([1, 1, 1, 1]),
    exhaustive: false,
    only_choice: false,
};

fn with_pattern(n: usize) -> Vec<f64> {
    let e = NormalStream::new(21, 0).take(n);
    e.iter().enumerate().map(|(t, e)| 5.0 * f64::from(u8::from(t % 12 < 4)) + e).collect()
}

#[test]
fn a_random_walk_is_differenced_and_noise_is_not() {
    let e = NormalStream::new(9, 0).take(240);
    let walk = e
        .iter()
        .scan(100.0, |level, e| {
            *level += e;
            Some(*level)
        })
        .collect();
    let of = |values: Vec<f64>| {
        found(&monthly(values), Regressors::default(), IdentifyOptions { season: 1, ..MONTHLY })
    };
    assert_eq!((of(walk).differences, of(e).differences), ([1, 0], [0, 0]));
}

#[test]
fn given_differences_need_no_verdict_and_given_regressors_stay() {
    let series = monthly(with_pattern(144));
    let both =
        found(&series, Regressors::default(), IdentifyOptions { differences: [Some(0), Some(1)], ..MONTHLY });
    assert!(both.diagnosis.is_none() && both.regressors.is_empty());
    assert_eq!((both.differences, both.grid.seasonal_differences), ([0, 1], 1));
    let trend = Regressor::deterministic(Deterministic::Trend { origin: series.start });
    let given = found(&series, Regressors { all: vec![trend] }, MONTHLY);
    assert_eq!(given.regressors.names(), ["trend"]);
    let refused = identify(
        &series,
        Regressors::default(),
        None,
        &IdentifyOptions { season: 1, differences: [Some(0), Some(1)], ..MONTHLY },
        |_, _| {},
    );
    assert_eq!(refused.expect_err("no season"), IdentifyError::NoSeason);
}

/// Dummies by the place in the data, as the verdict counts them, in place of the calendar's.
#[test]
fn seasonal_dummies_by_calendar_and_by_place_give_the_same_model() {
    let series = monthly(with_pattern(180));
    let own = found(&series, Regressors::default(), MONTHLY);
    assert_eq!(own.regressors.terms(), ["seasons"]);
    let by_place: Vec<Vec<f64>> = (1..12)
        .map(|place| {
            let value = |t: usize| match t % 12 {
                own if own == place => 1.0,
                0 => -1.0,
                _ => 0.0,
            };
            (0..series.cells.len()).map(value).collect()
        })
        .collect();
    let other = Data::with_gaps(&series.cells).with_regressors(by_place);
    let model = own.chosen().expect("a model").model;
    let here = fit(&own.data, model).expect("an estimate");
    let there = fit(&other, model).expect("an estimate");
    assert!((here.log_likelihood - there.log_likelihood).abs() < 1e-6);
}

/// The columns of steps and ramps at places of the data.
#[test]
fn steps_and_ramps_by_period_are_those_by_place() {
    let series = monthly(vec![0.0; 30]);
    let all = terms(&[FixedTerm::Trend, FixedTerm::Step(9), FixedTerm::Bend(9)], &series, 12);
    let periods: Vec<Period> = (0..30).map(|t| series.period(t)).collect();
    let columns = all.over(&periods).expect("values everywhere");
    let trend: Vec<f64> = (0..30).map(f64::from).collect();
    let step: Vec<f64> = (0..30).map(|t| f64::from(u8::from(t >= 9))).collect();
    let ramp: Vec<f64> = (0..30).map(|t| f64::from((t - 9).max(0))).collect();
    assert_eq!(columns, [trend, step, ramp]);
}

#[test]
fn gaps_are_filled_for_the_verdict_alone() {
    let mut series = monthly(with_pattern(144));
    series.cells[70] = None;
    let own = found(&series, Regressors::default(), MONTHLY);
    assert_eq!(own.data, data(&series, &own.regressors).expect("values everywhere"));
    assert_ne!(own.data, data(&filled(&series, 12).into(), &own.regressors).expect("values everywhere"));
    assert_eq!(filled(&series, 12).values.len(), 144);
}

#[test]
fn the_choice_is_the_same_on_one_thread_and_on_eight() {
    let series = monthly(with_pattern(120));
    let on = |threads: usize| {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build().expect("threads");
        pool.install(|| found(&series, Regressors::default(), MONTHLY))
    };
    let (one, eight) = (on(1), on(8));
    assert_eq!(one.ranked, eight.ranked);
    assert_eq!(one.diagnosis, eight.diagnosis);
}

#[test]
fn a_pattern_that_changes_once_has_dummies_of_both_patterns() {
    let e = NormalStream::new(77, 5).take(192);
    let patterns = [[3.0, -1.0, 0.0, -2.0, 1.0, -1.0], [-2.0, 1.0, 2.0, 0.0, -2.0, 1.0]];
    let values = (0..192).map(|t| e[t] + patterns[usize::from(t >= 96)][t % 6]).collect();
    let series = monthly(values);
    let own = found(&series, Regressors::default(), IdentifyOptions { season: 6, ..MONTHLY });
    let terms = own.regressors.terms();
    let [seasons, new] = terms.as_slice() else { panic!("{terms:?}") };
    assert_eq!((seasons.as_str(), own.differences), ("seasons", [0, 0]));
    // The new pattern begins within half a season of its first observation.
    let near = (93..=99).map(|place| format!("seasons={}", series.period(place)));
    assert!(near.into_iter().any(|term| term == *new), "{new}");
    assert_eq!(own.regressors.all.len(), 10);
}

#[test]
fn a_fixed_pattern_has_an_evolving_one_as_its_rival() {
    let series = monthly(with_pattern(144));
    let own = found(&series, Regressors::default(), MONTHLY);
    let of = |differences: [usize; 2]| own.rivals.iter().find(|rival| rival.differences == differences);
    let (fixed, evolving) = (of([0, 0]).expect("the verdict's"), of([1, 1]).expect("the evolving one"));
    assert_eq!((fixed.regressors.terms(), evolving.regressors.terms()), (vec!["seasons".into()], vec![]));
    assert!(fixed.probability > evolving.probability);
    // The pattern is fixed, and forecasts show it.
    assert!(fixed.error.expect("errors") < evolving.error.expect("errors"));
    assert_eq!((own.differences, &own.rivals[0].model), ([0, 0], own.chosen().expect("a model")));
}

#[test]
fn nothing_is_compared_where_the_differences_are_given() {
    let series = monthly(with_pattern(144));
    let given = IdentifyOptions { differences: [Some(1), Some(1)], ..MONTHLY };
    assert!(found(&series, Regressors::default(), given).rivals.is_empty());
    let noise = monthly(NormalStream::new(5, 0).take(150));
    let free = found(&noise, Regressors::default(), IdentifyOptions { season: 1, ..MONTHLY });
    assert!(free.rivals.is_empty(), "noise of 150 values is stationary with high confidence");
}

#[test]
fn short_series_of_long_seasons_get_one_order_of_each_kind() {
    let usual = |n: usize, season: usize| {
        let options = IdentifyOptions { season, limit: None, differences: [Some(0), Some(0)], ..MONTHLY };
        let series = monthly(NormalStream::new(7, 0).take(n));
        found(&series, Regressors::default(), options).grid.limit
    };
    assert_eq!((usual(96, 12), usual(96, 4), usual(120, 1)), ([1; 4], [3, 3, 2, 2], [3, 3, 0, 0]));
}

#[test]
fn a_drift_is_in_every_model_or_in_none() {
    let walk = |drift: f64| {
        let e = NormalStream::new(9, 1).take(240);
        let level = e.iter().scan(100.0, |level, e| {
            *level += drift + e;
            Some(*level)
        });
        monthly(level.collect())
    };
    let levels = |drift: f64| -> Vec<Level> {
        // Given differences have no diagnosis: the test alone decides.
        let given = IdentifyOptions { season: 1, differences: [Some(1), Some(0)], ..MONTHLY };
        let own = found(&walk(drift), Regressors::default(), given);
        own.ranked.iter().map(|one| one.model.level).collect()
    };
    assert!(levels(0.6).iter().all(|level| *level == Level::Drift));
    assert!(levels(0.0).iter().all(|level| *level == Level::None));
}

#[test]
fn what_is_left_out_of_a_search_for_a_choice_is_never_the_choice() {
    let mut left_out = 0;
    for stream in 0..10 {
        let e = NormalStream::new(733, stream).take(150);
        let mut y = vec![0.0; 150];
        for t in 0..150 {
            let before = |lag: usize| if t >= lag { y[t - lag] } else { 0.0 };
            let shock = |lag: usize| if t >= lag { e[t - lag] } else { 0.0 };
            y[t] = match stream % 5 {
                0 => 0.6 * before(1) + e[t],
                1 => before(1) + e[t] + 0.5 * shock(1),
                2 => before(4) + e[t] - 0.7 * shock(4),
                3 => 0.4 * before(1) + 0.4 * before(4) - 0.16 * before(5) + e[t],
                _ => e[t] + 0.6 * shock(1) + 0.4 * shock(2),
            };
        }
        let series = SeriesWithGaps::from(Series::undated("x", y));
        let of = |only_choice: bool| {
            let options = IdentifyOptions {
                season: 4,
                limit: Some([3, 3, 1, 1]),
                only_choice,
                ..IdentifyOptions::default()
            };
            found(&series, Regressors::default(), options)
        };
        let (whole, part) = (of(false), of(true));
        assert_eq!(part.chosen(), whole.chosen(), "series {stream}");
        // Those that are ranked are the same estimates.
        assert!(part.ranked.iter().all(|own| whole.ranked.contains(own)), "series {stream}");
        left_out += whole.ranked.len() - part.ranked.len();
    }
    assert!(left_out > 50, "{left_out} models are left out of 640");
}
