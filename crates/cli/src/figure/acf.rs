//! The series above, ACF and PACF below side by side on one scale.

use kandrel_core::corr::AcfLag;
use kandrel_core::series::SeriesWithGaps;

use super::axis::Scale;
use super::canvas::{Drawing, Part, Shape};
use super::lags::{LagChart, reach};
use super::panel::{
    MARGIN, Panel, Sheet, axis_name, foot, headed, panel_title, period_axis, thinned, value_axis, value_scale,
};
use super::readout::{self, ReadLine, Readout};
use super::theme;
use crate::document::{Ink, Line};
use crate::present::acf::AcfResult;
use crate::read::Dataset;

/// Room left of a panel for its numbers.
pub(super) const LEFT: f64 = 84.0;

/// The whole figure: for one series its values above and the functions below, for
/// several a row each.
pub fn drawing(
    all: &[(&SeriesWithGaps, &AcfResult)],
    title: &str,
    dataset: &Dataset,
    sheet: &Sheet,
) -> Drawing {
    drawn(all, title, dataset, sheet, None)
}

/// The same with a line at a value, and a strip below each stretch of values at or above
/// it.
pub fn with_cut(
    all: &[(&SeriesWithGaps, &AcfResult)],
    title: &str,
    dataset: &Dataset,
    sheet: &Sheet,
    cut: f64,
) -> Drawing {
    drawn(all, title, dataset, sheet, Some(cut))
}

fn drawn(
    all: &[(&SeriesWithGaps, &AcfResult)],
    title: &str,
    dataset: &Dataset,
    sheet: &Sheet,
    cut: Option<f64>,
) -> Drawing {
    let noun = format!("Lag in {}", axis_name(dataset.frame.frequency()));
    match all {
        [(series, result)] => alone(series, result, title, dataset, sheet, (&noun, cut)),
        several => rows(several, title, dataset, sheet, &noun),
    }
}

fn alone(
    series: &SeriesWithGaps,
    result: &AcfResult,
    title: &str,
    dataset: &Dataset,
    sheet: &Sheet,
    (noun, cut): (&str, Option<f64>),
) -> Drawing {
    let subtitle = format!(
        "{}, {} to {}, {} {} observations; {} lags",
        dataset.file_name(),
        result.first,
        result.last,
        result.acf.observations,
        dataset.frame.frequency().adjective(),
        result.acf.lags.len()
    );
    let mut drawing = headed(sheet, title, &subtitle);
    let right = sheet.width - MARGIN;
    let middle = 0.5 * (LEFT + right);
    let down = |share: f64| share * sheet.height / 800.0;
    draw_series(&mut drawing, series, Panel { left: LEFT, right, top: 122.0, bottom: down(386.0) }, cut);
    let below =
        Panel { left: LEFT, right: middle - 36.0, top: down(386.0) + 84.0, bottom: sheet.height - 100.0 };
    let beside = Panel { left: middle + 36.0, right, ..below };
    let titles = ["Autocorrelation (ACF)", "Partial autocorrelation (PACF)"];
    draw_functions(&mut drawing, [below, beside], titles, result, Some(noun));
    note_band(&mut drawing, &[result], cut.is_some());
    drawing
}

/// A row is never flatter than this; the sheet grows instead.
const LEAST_ROW: f64 = 110.0;
/// Room between rows for titles and labels.
const BETWEEN: f64 = 66.0;

fn rows(
    all: &[(&SeriesWithGaps, &AcfResult)],
    title: &str,
    dataset: &Dataset,
    sheet: &Sheet,
    noun: &str,
) -> Drawing {
    let count = all.len().max(1) as f64;
    let fixed = 88.0 + count * BETWEEN + 64.0;
    let height = ((sheet.height - fixed) / count).max(LEAST_ROW);
    let sheet = Sheet { height: sheet.height.max(fixed + count * height), ..sheet.clone() };
    let longest = all.iter().map(|(_, result)| result.acf.lags.len()).max().unwrap_or(0);
    let subtitle =
        format!("{}, {}; up to {longest} lags", dataset.file_name(), dataset.frame.frequency().adjective());
    let mut drawing = headed(&sheet, title, &subtitle);
    let (right, room) = (sheet.width - MARGIN, sheet.width - MARGIN - LEFT);
    for (number, (series, result)) in all.iter().enumerate() {
        let top = 88.0 + 30.0 + number as f64 * (height + BETWEEN);
        let left = Panel { left: LEFT, right: LEFT + 0.38 * room, top, bottom: top + height };
        let middle = Panel { left: left.right + 62.0, right: LEFT + 0.69 * room, ..left };
        let last = Panel { left: middle.right + 62.0, right, ..left };
        let axis = (number + 1 == all.len()).then_some(noun);
        draw_series(&mut drawing, series, left, None);
        draw_functions(&mut drawing, [middle, last], ["ACF", "PACF"], result, axis);
    }
    let results: Vec<&AcfResult> = all.iter().map(|(_, result)| *result).collect();
    note_band(&mut drawing, &results, false);
    drawing
}

/// Both functions of a series on one scale.
pub(super) fn draw_functions(
    drawing: &mut Drawing,
    panels: [Panel; 2],
    titles: [&str; 2],
    result: &AcfResult,
    axis: Option<&str>,
) {
    let lags = &result.acf.lags;
    let of = |value: fn(&AcfLag) -> f64| -> Vec<(i64, f64)> {
        lags.iter().map(|lag| (i64::try_from(lag.lag).unwrap_or(i64::MAX), value(lag))).collect()
    };
    let functions = [of(|lag| lag.acf), of(|lag| lag.pacf)];
    let both = functions.iter().flatten().map(|(_, value)| *value);
    let reach = reach(both, result.acf.band);
    // The quantile that the band of white noise has too.
    let z = result.acf.band * (result.acf.observations as f64).sqrt();
    let bartlett = [lags.iter().map(|lag| z * lag.acf_se).collect(), Vec::new()];
    for (((panel, title), bars), varying) in panels.into_iter().zip(titles).zip(&functions).zip(bartlett) {
        let chart =
            LagChart { title, bars, band: result.acf.band, varying, season: result.season, axis, reach };
        chart.draw(drawing, panel);
    }
}

/// The values over time, and a cut with the runs about it if there is one.
pub(super) fn draw_series(drawing: &mut Drawing, series: &SeriesWithGaps, panel: Panel, cut: Option<f64>) {
    panel_title(drawing, panel, &series.name, "");
    let known = series.cells.iter().flatten().copied();
    let (lowest, highest) =
        known.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), v| (low.min(v), high.max(v)));
    let up = value_scale(panel, lowest, highest);
    let length = series.cells.len();
    let last = length.saturating_sub(1).max(1) as f64;
    let along = Scale { low: 0.0, high: last, at_low: panel.left + 8.0, at_high: panel.right - 8.0 };
    let number = drawing.next_panel();
    drawing.part(Part::Inside(number), |drawing| {
        if let Some(cut) = cut {
            shade_runs(drawing, series, panel, along, cut);
        }
    });
    drawing.part(Part::Axes(number), |drawing| {
        value_axis(drawing, panel, up, if panel.bottom - panel.top > 180.0 { 5 } else { 4 });
        period_axis(drawing, panel, along, length, &|t| series.period(t));
    });
    let points = series.cells.iter().enumerate().map(|(t, cell)| cell.map(|value| (t as f64, value)));
    let line = Line::with_gaps(&series.name, Ink::Series(0), points);
    drawing.part(Part::Inside(number), |drawing| {
        if let Some(cut) = cut {
            drawing.line((panel.left, up.at(cut)), (panel.right, up.at(cut)), theme::OCHRE, 2.0);
        }
        for piece in &line.pieces {
            let points = thinned(piece, along, up);
            drawing.add(Shape::Polyline { points, stroke: theme::PETROL, width: 1.6 });
        }
    });
    let kept = || (0..length).step_by(readout::step(length));
    drawing.read_off(Readout {
        corners: [panel.left, panel.top, panel.right, panel.bottom],
        along,
        up,
        places: kept().map(|t| (t as f64, series.period(t).to_string())).collect(),
        lines: vec![ReadLine {
            name: series.name.clone(),
            ink: theme::PETROL,
            values: kept().map(|t| series.cells.get(t).copied().flatten()).collect(),
        }],
        strips: Vec::new(),
        zooms: true,
    });
}

/// A strip behind every run of values at or above the cut.
fn shade_runs(drawing: &mut Drawing, series: &SeriesWithGaps, panel: Panel, along: Scale, cut: f64) {
    let places: Vec<(usize, bool)> =
        series.cells.iter().enumerate().filter_map(|(t, cell)| cell.map(|value| (t, value >= cut))).collect();
    for run in places.chunk_by(|a, b| a.1 == b.1).filter(|run| run[0].1) {
        let (first, last) = (run[0].0 as f64, run[run.len() - 1].0 as f64);
        let left = along.at(first - 0.5).max(panel.left);
        let right = along.at(last + 0.5).min(panel.right);
        drawing.add(Shape::Rect {
            x: left,
            y: panel.top,
            width: right - left,
            height: panel.bottom - panel.top,
            fill: theme::SAND,
            stroke: None,
        });
    }
}

fn note_band(drawing: &mut Drawing, results: &[&AcfResult], is_cut: bool) {
    let season = results.iter().map(|result| result.season).max().unwrap_or(1);
    let seasonal = if season > 1 { "; orange: seasonal lags" } else { "" };
    let runs = if is_cut { " Above, shaded: runs at or over the cut." } else { "" };
    let width = match results {
        [one] => format!(" (±{:.3})", one.acf.band),
        _ => String::new(),
    };
    let text = format!(
        "Shaded: 95 % band of white noise{width}. Lines (ACF): 95 % limits if all higher autocorrelations are zero \
         (Bartlett). Filled bars: outside the shaded band{seasonal}.{runs}"
    );
    foot(drawing, &text);
}
