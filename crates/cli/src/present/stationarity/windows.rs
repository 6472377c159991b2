//! Tests over rolling and recursive windows: result, sentence, table, figure.

use kandrel_core::nulldist::Terms;
use kandrel_core::robustness::{WindowTests, Windows};
use kandrel_core::series::Series;
use kandrel_core::time::Period;
use kandrel_core::unitroot::UnitRootTest;
use schemars::JsonSchema;
use serde::Serialize;

use crate::call::{Call, Name};
use crate::document::{Along, Block, Document, Ink, Line, Panel, Plot, Table};
use crate::present::decision::Decision;
use crate::present::sample::Sample;
use crate::wording;
use crate::wording::{heads, legends, titles};

/// What `stationarity --rolling N` finds.
#[derive(JsonSchema, Serialize)]
pub struct WindowsResult {
    pub series: String,
    pub sample: Sample,
    /// Deterministic terms of all tests.
    pub terms: Terms,
    /// Observations in a rolling window; the first recursive window has as many.
    pub window: usize,
    /// Observations from the end of one window to that of the next.
    pub step: usize,
    /// In the order of time.
    pub windows: Vec<WindowRowResult>,
    /// One period of the data.
    pub unit: &'static str,
    pub alpha: f64,
}

/// The windows that end in one period.
#[derive(JsonSchema, Serialize)]
pub struct WindowRowResult {
    pub last: String,
    /// Of the last `window` observations.
    pub rolling: WindowTestsResult,
    /// Of all observations so far.
    pub recursive: WindowTestsResult,
}

/// The tests of one window.
#[derive(JsonSchema, Serialize)]
pub struct WindowTestsResult {
    pub adf: Option<WindowTestResult>,
    pub kpss: Option<WindowTestResult>,
}

/// One test of one window.
#[derive(JsonSchema, Serialize)]
pub struct WindowTestResult {
    /// Lagged differences of ADF.
    pub lags: Option<usize>,
    /// Lags in the long-run variance of KPSS.
    pub bandwidth: Option<usize>,
    pub statistic: f64,
    /// Critical value at 5 %.
    pub critical: Option<f64>,
    pub p_value: Option<f64>,
    pub decision: Option<Decision>,
}

/// Puts a result together.
pub fn result(series: &Series, found: &Windows, alpha: f64) -> WindowsResult {
    let test = |test: &UnitRootTest| WindowTestResult {
        lags: test.lags,
        bandwidth: test.bandwidth,
        statistic: test.statistic,
        critical: test.critical.map(|critical| critical.five),
        p_value: test.p_value,
        decision: test.p_value.map(|p| Decision::at(p, alpha)),
    };
    let tests = |tests: &WindowTests| WindowTestsResult {
        adf: tests.adf.as_ref().map(test),
        kpss: tests.kpss.as_ref().map(test),
    };
    let row = |row: &kandrel_core::robustness::WindowRow| WindowRowResult {
        last: series.period(row.last).to_string(),
        rolling: tests(&row.rolling),
        recursive: tests(&row.recursive),
    };
    WindowsResult {
        series: series.name.clone(),
        sample: Sample::of(series),
        terms: found.terms,
        window: found.window,
        step: found.step,
        windows: found.rows.iter().map(row).collect(),
        unit: series.start.frequency().noun(),
        alpha,
    }
}

/// Which windows, and which test of them.
type Read = fn(&WindowRowResult) -> Option<&WindowTestResult>;

const ROLLING_ADF: Read = |row| row.rolling.adf.as_ref();
const ROLLING_KPSS: Read = |row| row.rolling.kpss.as_ref();
const RECURSIVE_ADF: Read = |row| row.recursive.adf.as_ref();
const RECURSIVE_KPSS: Read = |row| row.recursive.kpss.as_ref();

/// How many windows a test rejects in, of those with a p-value.
fn rejections(result: &WindowsResult, read: Read) -> (usize, usize) {
    let p_values: Vec<f64> =
        result.windows.iter().filter_map(|row| read(row).and_then(|test| test.p_value)).collect();
    (p_values.iter().filter(|p| **p <= result.alpha).count(), p_values.len())
}

/// The finding in one sentence.
pub fn answer(result: &WindowsResult) -> String {
    let ((adf, windows), (kpss, of_kpss)) =
        (rejections(result, ROLLING_ADF), rejections(result, ROLLING_KPSS));
    format!(
        "In rolling windows of {} {}s, ADF at {} % rejects a unit root of {} in {adf} of {windows}, and KPSS rejects \
         stationarity in {kpss} of {of_kpss}.",
        result.window,
        result.unit,
        wording::percent(result.alpha),
        result.series
    )
}

/// The same of all observations so far, and what the last window says.
fn recursive(result: &WindowsResult) -> String {
    let ((adf, windows), (kpss, of_kpss)) =
        (rejections(result, RECURSIVE_ADF), rejections(result, RECURSIVE_KPSS));
    format!(
        "In recursive windows, from the first observation on, ADF rejects in {adf} of {windows} and KPSS in {kpss} of \
         {of_kpss}."
    )
}

/// Rows of the usual text.
const SHOWN: usize = 12;

/// Sentences, table with the latest window first, legend, next step.
pub fn document(result: &WindowsResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(recursive(result));
    let every = if result.step > 1 {
        format!(" Windows end {} {}s apart.", result.step, result.unit)
    } else {
        String::new()
    };
    document.paragraph(format!("{}.{every}", result.sample));
    document.table(table(result, heads::ROLLING_TO, ROLLING_ADF, ROLLING_KPSS));
    document.detail("recursive windows", |inner| {
        inner.table(table(result, heads::RECURSIVE_TO, RECURSIVE_ADF, RECURSIVE_KPSS));
    });
    document.blocks.push(Block::EvidenceLegend);
    document.paragraph(legends::WINDOWS);
    document.commands(titles::NEXT, vec![call.next(Name::Stationarity, [&result.series])]);
    document
}

/// One kind of windows, named by their last periods.
fn table(result: &WindowsResult, head: &str, adf: Read, kpss: Read) -> Table {
    let statistic = |row: &WindowRowResult, read: Read| read(row).map(|test| test.statistic);
    let p = |row: &WindowRowResult, read: Read| read(row).and_then(|test| test.p_value);
    Table::of(result.windows.iter().rev())
        .text(head, |row| row.last.clone())
        .number(heads::ADF, 2, |row| statistic(row, adf))
        .p_value(heads::ADF_P, |row| p(row, adf))
        .number(heads::KPSS, 3, |row| statistic(row, kpss))
        .p_value(heads::KPSS_P, |row| p(row, kpss))
        .table()
        .showing(SHOWN, "earlier windows")
}

/// Statistics and their critical values through time.
pub fn plot(result: &WindowsResult, series: &Series, found: &Windows, source: &str) -> Plot {
    let periods: Vec<Period> = found.rows.iter().map(|row| series.period(row.last)).collect();
    let panel = |(title, read): (&str, Read)| {
        let line = |name: &str, ink, of: &dyn Fn(&WindowTestResult) -> Option<f64>| {
            let values = result.windows.iter().enumerate();
            let points = values.map(|(t, row)| Some((t as f64, of(read(row)?)?)));
            Line::with_gaps(name, ink, points)
        };
        Panel {
            title: title.to_owned(),
            along: Along::Periods(periods.clone()),
            axis: "Last period of the window".to_owned(),
            lines: vec![
                line("statistic", Ink::Series(0), &|test| Some(test.statistic)),
                line("5 % critical value", Ink::Series(1), &|test| test.critical),
            ],
            ..Panel::default()
        }
    };
    let panels = [
        ("ADF, rolling: a unit root is rejected below", ROLLING_ADF),
        ("ADF, recursive", RECURSIVE_ADF),
        ("KPSS, rolling: stationarity is rejected above", ROLLING_KPSS),
        ("KPSS, recursive", RECURSIVE_KPSS),
    ];
    Plot {
        title: answer(result),
        subtitle: format!("{source}: {}", result.sample),
        foot: "Critical values are those of one test; in many windows some reject by chance.".to_owned(),
        columns: 2,
        panels: panels.map(panel).into(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use kandrel_core::robustness::windows;
    use kandrel_core::verdict::AssessOptions;

    fn of(values: Vec<f64>) -> (WindowsResult, Series, Windows) {
        let series = Series::undated("x", values);
        let found = windows(&series.values, 40, &AssessOptions::default()).expect("windows");
        (result(&series, &found, 0.05), series, found)
    }

    #[test]
    fn sentences_count_what_the_windows_decide() {
        let noise = kandrel_core::num::rng::NormalStream::new(5, 0).take(100);
        let (result, ..) = of(noise);
        let decided = |read: Read| {
            let tests = result.windows.iter().filter_map(read);
            tests.filter(|test| test.decision == Some(Decision::at(0.0, 0.05))).count()
        };
        let said = format!(
            "In rolling windows of 40 observations, ADF at 5 % rejects a unit root of x in {} of 61, and KPSS rejects \
             stationarity in {} of 61.",
            decided(ROLLING_ADF),
            decided(ROLLING_KPSS)
        );
        assert_eq!(answer(&result), said);
        assert!(decided(ROLLING_ADF) > 0);
        assert!(recursive(&result).contains(&format!("ADF rejects in {} of 61", decided(RECURSIVE_ADF))));
    }

    #[test]
    fn the_figure_has_statistic_and_critical_value_of_both_tests_and_windows() {
        let noise = kandrel_core::num::rng::NormalStream::new(5, 1).take(90);
        let (result, series, found) = of(noise);
        let plot = plot(&result, &series, &found, "a.csv");
        assert_eq!(plot.panels.len(), 4);
        for (panel, read) in
            plot.panels.iter().zip([ROLLING_ADF, RECURSIVE_ADF, ROLLING_KPSS, RECURSIVE_KPSS])
        {
            let last = result.windows.last().and_then(read).expect("a test");
            let drawn = |line: usize| panel.lines[line].points().last().map(|point| point.1);
            assert_eq!([drawn(0), drawn(1)], [Some(last.statistic), last.critical], "{}", panel.title);
        }
    }
}
