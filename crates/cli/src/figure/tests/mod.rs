//! Drawings before they become files: nothing leaves the sheet, nothing is drawn that is no number.

use kandrel_core::corr::{AcfOptions, acf as functions};
use kandrel_core::series::{Series, SeriesWithGaps};
use kandrel_core::time::{Frequency, Period};
use proptest::prelude::*;

use super::axis::{Scale, period_ticks, round_ticks};
use super::canvas::{Drawing, Shape};
use super::lags::{LagChart, reach};
use super::panel::{Panel as Place, Sheet, headed, thinned, value_scale};
use super::{acf, plot, svg};
use crate::document::{Along, BoxMark, Ink, Interval, Line, Mark, Panel, Plot};
use crate::present::acf as autocorrelation;

/// Every corner of every shape.
fn corners(shapes: &[Shape]) -> Vec<(f64, f64)> {
    let of = |shape: &Shape| match shape {
        Shape::Rect { x, y, width, height, .. } => vec![(*x, *y), (x + width, y + height)],
        Shape::Line { from, to, .. } => vec![*from, *to],
        Shape::Polyline { points, .. } | Shape::Polygon { points, .. } => points.clone(),
        Shape::Text(text) => vec![text.at],
        Shape::Dot { at, size, .. } => {
            let half = 0.5 * size;
            vec![(at.0 - half, at.1 - half), (at.0 + half, at.1 + half)]
        }
        Shape::Titled { shapes, .. } | Shape::Part { shapes, .. } => corners(shapes),
    };
    shapes.iter().flat_map(of).collect()
}

fn stays_on_its_sheet(drawing: &Drawing) {
    for (x, y) in corners(drawing.shapes()) {
        assert!(x.is_finite() && y.is_finite(), "({x}, {y})");
        assert!((-1.0..=drawing.width + 1.0).contains(&x), "x = {x} of {}", drawing.width);
        assert!((-1.0..=drawing.height + 1.0).contains(&y), "y = {y} of {}", drawing.height);
    }
    let text = svg::write(drawing);
    assert!(!text.contains("NaN") && !text.contains("inf\""), "{text}");
    assert!(text.starts_with("<svg ") && text.ends_with("</svg>\n"));
    assert_eq!(text.matches("<g").count(), text.matches("</g>").count());
}

fn first() -> Period {
    Period::month(2001, 1).expect("a month")
}

fn periods(count: usize) -> Vec<Period> {
    (0..).map(|t| first().offset(t)).take(count).collect()
}

fn line(values: &[Option<f64>], ink: Ink) -> Line {
    let points = values.iter().enumerate().map(|(t, value)| value.map(|value| (t as f64, value)));
    Line::with_gaps("a line", ink, points)
}

fn of_panels(panels: Vec<Panel>, columns: usize) -> Drawing {
    let plot = Plot {
        title: "What it shows, in a sentence that says it".to_owned(),
        subtitle: "where it is from".to_owned(),
        foot: "what the marks mean".to_owned(),
        columns,
        panels,
    };
    plot::drawing(&plot, &Sheet::default())
}

#[test]
fn lines_intervals_and_marks_stay_inside() {
    let values: Vec<Option<f64>> = (0..60).map(|t| (t % 7 != 3).then(|| f64::from(t * t) - 900.0)).collect();
    let ends = (50..60).map(|t| (f64::from(t), -2000.0, 3000.0)).collect();
    let panel = Panel {
        title: "x".to_owned(),
        along: Along::Periods(periods(60)),
        axis: "months".to_owned(),
        lines: vec![line(&values, Ink::Series(0)), line(&values, Ink::Series(1))],
        intervals: vec![Interval { name: "95 %".to_owned(), ends }],
        marks: vec![Mark { at: 5.0, value: 100.0, name: "odd".to_owned(), filled: true }],
        ..Panel::default()
    };
    stays_on_its_sheet(&of_panels(vec![panel], 1));
}

#[test]
fn every_kind_of_bottom_axis_is_drawn() {
    let names = |count: usize| (1..=count).map(|place| format!("place {place}")).collect::<Vec<_>>();
    let with = |along: Along| Panel {
        along,
        lines: vec![line(&[Some(1.0), None, Some(3.0), Some(2.0)], Ink::Mean)],
        dots: vec![(0.5, 1.5), (2.0, 2.5)],
        bars: vec![(1.0, 0.7), (2.0, -0.4)],
        ..Panel::default()
    };
    let panels = vec![
        with(Along::Periods(periods(4))),
        with(Along::Strips(names(4))),
        with(Along::Points(names(4))),
        with(Along::Values(0.0, 3.0)),
    ];
    stays_on_its_sheet(&of_panels(panels, 2));
}

#[test]
fn many_panels_make_the_sheet_longer_and_never_flatter_than_can_be_read() {
    let panel = || Panel { lines: vec![line(&[Some(1.0), Some(2.0)], Ink::Series(0))], ..Panel::default() };
    let few = of_panels((0..2).map(|_| panel()).collect(), 1);
    let many = of_panels((0..20).map(|_| panel()).collect(), 1);
    assert!((few.height - 800.0).abs() < 1e-9 && many.height > 20.0 * 92.0);
    stays_on_its_sheet(&many);
}

#[test]
fn boxes_with_values_beyond_them_stay_inside() {
    let mark = |at: f64| BoxMark {
        at,
        name: "Jan".to_owned(),
        values: [1.0, 2.0, 3.0, 4.0, 5.0],
        beyond: vec![(-8.0, "2001-01".to_owned()), (12.0, "2009-01".to_owned())],
    };
    let names = (0..12).map(|place| place.to_string()).collect();
    let boxes = (0..12).map(|place| mark(f64::from(place) + 0.5)).collect();
    stays_on_its_sheet(&of_panels(vec![Panel { along: Along::Strips(names), boxes, ..Panel::default() }], 1));
}

#[test]
fn series_that_are_flat_empty_or_of_one_value_can_be_drawn() {
    for values in [vec![Some(5.0); 8], vec![None; 8], vec![Some(0.0)], vec![Some(1e-300), Some(2e-300)]] {
        let panel = Panel {
            along: Along::Periods(periods(values.len())),
            lines: vec![line(&values, Ink::Series(0))],
            ..Panel::default()
        };
        if values.iter().any(Option::is_some) {
            stays_on_its_sheet(&of_panels(vec![panel], 1));
        }
    }
}

fn correlated(values: Vec<f64>, season: usize) -> (SeriesWithGaps, autocorrelation::AcfResult) {
    let series = SeriesWithGaps::from(Series { start: first(), ..Series::undated("x", values) });
    let options = AcfOptions { season, ..AcfOptions::default() };
    let known: Vec<f64> = series.cells.iter().flatten().copied().collect();
    let result = functions(&known, &options).expect("functions");
    let result = autocorrelation::result(&series, result, Vec::new(), season);
    (series, result)
}

/// Rectangles of a lag, by whether they are filled.
fn bars(shapes: &[Shape]) -> Vec<(String, bool)> {
    let bar = |shape: &Shape| match shape {
        Shape::Titled { title, shapes } => match shapes.as_slice() {
            [Shape::Rect { fill, .. }] => Some((title.clone(), *fill == super::theme::PETROL)),
            _ => None,
        },
        _ => None,
    };
    shapes.iter().filter_map(bar).collect()
}

#[test]
fn a_lag_has_a_bar_that_is_filled_outside_the_band_only() {
    let heights = [(1_i64, 0.9), (2, -0.5), (3, 0.1), (4, -0.15), (5, 0.2)];
    let mut drawing = headed(&Sheet::default(), "", "");
    let panel = Place { left: 80.0, right: 600.0, top: 100.0, bottom: 500.0 };
    let chart = LagChart {
        title: "ACF",
        bars: &heights,
        band: 0.2,
        varying: Vec::new(),
        season: 4,
        axis: Some("Lag"),
        reach: reach(heights.iter().map(|bar| bar.1), 0.2),
    };
    chart.draw(&mut drawing, panel);
    let drawn = bars(drawing.shapes());
    assert_eq!(drawn.iter().map(|bar| bar.1).collect::<Vec<_>>(), [true, true, false, false, false]);
    assert_eq!(drawn[1].0, "lag 2: -0.500");
    stays_on_its_sheet(&drawing);
}

#[test]
fn functions_of_one_series_and_of_many_are_drawn() {
    let seasonal: Vec<f64> =
        (0..96_i32).map(|t| f64::from((t * 37) % 11) + 5.0 * f64::from(t % 12 / 6)).collect();
    let one = correlated(seasonal.clone(), 12);
    let dataset = dataset(&seasonal);
    let sheet = Sheet::default();
    let alone = acf::drawing(&[(&one.0, &one.1)], "one", &dataset, &sheet);
    assert_eq!(bars(alone.shapes()).len(), 2 * one.1.acf.lags.len());
    stays_on_its_sheet(&alone);
    let several = vec![(&one.0, &one.1); 6];
    let rows = acf::drawing(&several, "six", &dataset, &sheet);
    assert!(rows.height > alone.height);
    stays_on_its_sheet(&rows);
    stays_on_its_sheet(&acf::with_cut(&[(&one.0, &one.1)], "cut", &dataset, &sheet, 5.0));
}

/// The values as a file.
fn dataset(values: &[f64]) -> crate::read::Dataset {
    let rows: Vec<String> = values
        .iter()
        .zip(periods(values.len()))
        .map(|(value, period)| format!("{period},{value}\n"))
        .collect();
    let csv = format!("month,x\n{}", rows.concat());
    crate::read::open("-", &crate::read::ReadOptions::default(), &mut csv.as_bytes()).expect("a table")
}

#[test]
fn the_wanted_title_takes_the_place_of_the_own_one() {
    let sheet = Sheet { title: Some("Mine".to_owned()), ..Sheet::default() };
    assert_eq!(headed(&sheet, "Own", "sub").title, "Mine");
    assert_eq!(headed(&Sheet::default(), "Own", "sub").title, "Own");
    // What is too long for the sheet is made smaller, not cut.
    let long = "a title that goes on ".repeat(20);
    let drawing = headed(&Sheet::default(), &long, "");
    let size = drawing.shapes().iter().find_map(|shape| match shape {
        Shape::Text(text) if text.words == long => Some(text.size),
        _ => None,
    });
    assert!(size.is_some_and(|size| (10.0..super::theme::TITLE).contains(&size)), "{size:?}");
}

#[test]
fn a_long_line_keeps_its_extremes_when_it_is_thinned() {
    let along = Scale { low: 0.0, high: 99_999.0, at_low: 0.0, at_high: 500.0 };
    let up = Scale { low: -1.0, high: 60.0, at_low: 400.0, at_high: 0.0 };
    let mut points: Vec<(f64, f64)> = (0..100_000_u32).map(|t| (f64::from(t), f64::from(t % 3))).collect();
    points[43_210].1 = 60.0;
    points[77_777].1 = -1.0;
    let kept = thinned(&points, along, up);
    assert!(kept.len() <= 4 * 501, "{}", kept.len());
    let reach = kept.iter().fold((f64::MAX, f64::MIN), |(low, high), (_, y)| (low.min(*y), high.max(*y)));
    assert!((reach.0 - 0.0).abs() < 1e-9 && (reach.1 - 400.0).abs() < 1e-9, "{reach:?}");
    assert_eq!(thinned(&points[..50], along, up).len(), 50);
}

#[test]
fn ticks_of_every_calendar_are_few_and_at_round_places() {
    let of = |start: &str, length: usize| {
        let start = Period::parse(start).expect("a period");
        let period = |t: usize| start.offset(i64::try_from(t).expect("small"));
        let ticks = period_ticks(start.frequency(), length, 10, &period);
        ticks.into_iter().map(|t| period(t).to_string()).collect::<Vec<_>>()
    };
    let years = of("1949", 70);
    assert!(years.len() <= 10 && years.iter().all(|year| year.ends_with('0')), "{years:?}");
    assert!(of("1980-Q2", 120).iter().all(|quarter| quarter.ends_with("Q1")));
    let days = of("2001-01-15", 700);
    assert!(days.len() <= 10 && days.iter().all(|day| day.ends_with("-01")), "{days:?}");
    assert_eq!(of("2001-03", 3), ["2001-03", "2001-04", "2001-05"]);
    assert!(of("2001-W05", 400).len() <= 10);
}

proptest! {
    /// Ticks are inside, evenly spaced, at least three, and not many more than wanted.
    #[test]
    fn round_ticks_are_even_and_inside(low in -1e6_f64..1e6, size in 1e-6_f64..1e6, wanted in 2_usize..8) {
        let (ticks, decimals) = round_ticks(low, low + size, wanted);
        let slack = 1e-9 * (low.abs() + size);
        prop_assert!(ticks.iter().all(|tick| *tick >= low - slack && *tick <= low + size + slack));
        prop_assert!((3..=(wanted + 1).max(5)).contains(&ticks.len()) && decimals <= 12, "{ticks:?}");
        let steps: Vec<f64> = ticks.windows(2).map(|pair| pair[1] - pair[0]).collect();
        prop_assert!(steps.iter().all(|step| (step - steps[0]).abs() <= slack), "{ticks:?}");
    }

    /// Whatever the values, a scale has them inside with room at both ends.
    #[test]
    fn a_scale_of_values_holds_them(low in -1e9_f64..1e9, size in 0.0_f64..1e9) {
        let panel = Place { left: 0.0, right: 100.0, top: 50.0, bottom: 450.0 };
        let scale = value_scale(panel, low, low + size);
        for value in [low, low + 0.5 * size, low + size] {
            let y = scale.at(value);
            prop_assert!(y.is_finite() && (50.0..=450.0).contains(&y), "{value} at {y}");
        }
    }

    /// Random values with gaps make a figure without a number that is none.
    #[test]
    fn any_series_can_be_drawn(cells in prop::collection::vec(prop::option::of(-1e12_f64..1e12), 2..80)) {
        prop_assume!(cells.iter().any(Option::is_some));
        let panel = Panel {
            along: Along::Periods(periods(cells.len())),
            lines: vec![line(&cells, Ink::Age(0.5))],
            ..Panel::default()
        };
        stays_on_its_sheet(&of_panels(vec![panel], 1));
    }
}

#[test]
fn names_of_files_tell_the_form() {
    use std::path::Path;
    let form = |name: &str| super::Form::of_path(Path::new(name)).ok();
    assert_eq!((form("a.SVG"), form("b.png")), (Some(super::Form::Svg), Some(super::Form::Png)));
    assert_eq!(form("c.html"), Some(super::Form::Html));
    assert_eq!((form("c.jpg"), form("none")), (None, None));
    assert_eq!(super::panel::axis_name(Frequency::Month), "months");
}

#[test]
fn a_pointer_reads_what_is_drawn() {
    let values: Vec<Option<f64>> = (0..24).map(|t| (t != 5).then(|| f64::from(t * t))).collect();
    let ends = (20..24).map(|t| (f64::from(t), 0.0, 900.0)).collect();
    let panel = Panel {
        along: Along::Periods(periods(24)),
        lines: vec![line(&values, Ink::Series(0)), line(&values[..12], Ink::Series(1))],
        intervals: vec![Interval { name: "95 %".to_owned(), ends }],
        ..Panel::default()
    };
    let drawing = of_panels(vec![panel], 1);
    let [readout] = drawing.readouts() else {
        panic!("one panel");
    };
    assert_eq!(readout.places.len(), 24);
    assert_eq!(readout.places[13].1, "2002-02");
    assert_eq!(readout.lines[0].values, values);
    assert_eq!(readout.lines[1].values[11..13], [Some(121.0), None]);
    assert_eq!((readout.strips[0].low[19], readout.strips[0].high[20]), (None, Some(900.0)));
    // A place of the readout lies where its value is drawn.
    let drawn = corners(drawing.shapes());
    let at = (readout.along.at(13.0), readout.up.at(169.0));
    assert!(drawn.iter().any(|(x, y)| (x - at.0).abs() < 1e-9 && (y - at.1).abs() < 1e-9), "{at:?}");
}
