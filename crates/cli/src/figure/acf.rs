//! The series above, ACF and PACF below side by side on one scale.

use kandrel_core::series::SeriesWithGaps;

use super::axis::Scale;
use super::canvas::{Anchor, Drawing, Shape, Text};
use super::panel::{
    MARGIN, Panel, Sheet, axis_name, foot, headed, panel_title, period_axis, thinned, value_axis, value_scale,
};
use super::theme;
use crate::document::{Ink, Line};
use crate::present::acf::AcfResult;
use crate::read::Dataset;

const LEFT: f64 = 84.0;

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
    let noun = axis_name(dataset.frame.frequency());
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
        dataset.source,
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
    draw_lags(&mut drawing, below, "Autocorrelation (ACF)", result, Axis::named(noun), |lag| lag.acf);
    draw_lags(&mut drawing, beside, "Partial autocorrelation (PACF)", result, Axis::named(noun), |lag| {
        lag.pacf
    });
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
        format!("{}, {}; up to {longest} lags", dataset.source, dataset.frame.frequency().adjective());
    let mut drawing = headed(&sheet, title, &subtitle);
    let (right, room) = (sheet.width - MARGIN, sheet.width - MARGIN - LEFT);
    for (number, (series, result)) in all.iter().enumerate() {
        let top = 88.0 + 30.0 + number as f64 * (height + BETWEEN);
        let left = Panel { left: LEFT, right: LEFT + 0.38 * room, top, bottom: top + height };
        let middle = Panel { left: left.right + 62.0, right: LEFT + 0.69 * room, ..left };
        let last = Panel { left: middle.right + 62.0, right, ..left };
        let axis = if number + 1 == all.len() { Axis::named(noun) } else { Axis::unnamed() };
        draw_series(&mut drawing, series, left, None);
        draw_lags(&mut drawing, middle, "ACF", result, axis, |lag| lag.acf);
        draw_lags(&mut drawing, last, "PACF", result, axis, |lag| lag.pacf);
    }
    let results: Vec<&AcfResult> = all.iter().map(|(_, result)| *result).collect();
    note_band(&mut drawing, &results, false);
    drawing
}

/// What stands below the lags.
#[derive(Clone, Copy)]
struct Axis<'a> {
    name: Option<&'a str>,
}

impl<'a> Axis<'a> {
    fn named(name: &'a str) -> Self {
        Self { name: Some(name) }
    }

    fn unnamed() -> Self {
        Self { name: None }
    }
}

fn draw_series(drawing: &mut Drawing, series: &SeriesWithGaps, panel: Panel, cut: Option<f64>) {
    panel_title(drawing, panel, &series.name, "");
    let known = series.cells.iter().flatten().copied();
    let (lowest, highest) =
        known.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), v| (low.min(v), high.max(v)));
    let up = value_scale(panel, lowest, highest);
    let length = series.cells.len();
    let last = length.saturating_sub(1).max(1) as f64;
    let along = Scale { low: 0.0, high: last, at_low: panel.left + 8.0, at_high: panel.right - 8.0 };
    if let Some(cut) = cut {
        shade_runs(drawing, series, panel, along, cut);
    }
    value_axis(drawing, panel, up, if panel.bottom - panel.top > 180.0 { 5 } else { 4 });
    if let Some(cut) = cut {
        drawing.line((panel.left, up.at(cut)), (panel.right, up.at(cut)), theme::OCHRE, 2.0);
    }
    period_axis(drawing, panel, along, length, &|t| series.period(t));
    let points = series.cells.iter().enumerate().map(|(t, cell)| cell.map(|value| (t as f64, value)));
    for piece in Line::with_gaps(&series.name, Ink::Series(0), points).pieces {
        let points = thinned(&piece, along, up);
        drawing.add(Shape::Polyline { points, stroke: theme::PETROL, width: 1.6 });
    }
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

fn draw_lags(
    sheet: &mut Drawing,
    panel: Panel,
    title: &str,
    result: &AcfResult,
    axis: Axis<'_>,
    value: impl Fn(&kandrel_core::corr::AcfLag) -> f64,
) {
    panel_title(sheet, panel, title, "");
    let up = shared_scale(result, panel);
    let band = result.acf.band;
    let (above, below) = (up.at(band.min(up.high)), up.at((-band).max(up.low)));
    sheet.add(Shape::Rect {
        x: panel.left,
        y: above,
        width: panel.right - panel.left,
        height: below - above,
        fill: theme::SAND,
        stroke: None,
    });
    value_axis(sheet, panel, up, if panel.bottom - panel.top > 180.0 { 5 } else { 4 });
    for edge in [above, below] {
        sheet.line((panel.left, edge), (panel.right, edge), theme::SAND_EDGE, 1.0);
    }
    let most = result.acf.lags.len() as f64;
    let along = Scale { low: 0.5, high: most + 0.5, at_low: panel.left + 4.0, at_high: panel.right - 4.0 };
    lag_axis(sheet, panel, along, result, axis);
    let pitch = (along.at_high - along.at_low) / most;
    let width = (0.62 * pitch).clamp(0.6, 16.0);
    for lag in &result.acf.lags {
        let height = value(lag);
        let (top, bottom) = (up.at(height.max(0.0)), up.at(height.min(0.0)));
        let outside = height.abs() > band;
        let bar = Shape::Rect {
            x: along.at(lag.lag as f64) - 0.5 * width,
            y: top,
            width,
            height: (bottom - top).max(0.5),
            fill: if outside { theme::PETROL } else { theme::PAPER },
            stroke: Some(theme::PETROL),
        };
        sheet.add(Shape::Titled { title: format!("lag {}: {height:.3}", lag.lag), shapes: vec![bar] });
    }
    sheet.line((panel.left, up.at(0.0)), (panel.right, up.at(0.0)), theme::TEXT, 1.0);
}

/// One scale for both functions, with a little room beyond the largest bar.
fn shared_scale(result: &AcfResult, panel: Panel) -> Scale {
    let both = result.acf.lags.iter().flat_map(|lag| [lag.acf, lag.pacf]);
    let reach = both.chain([1.3 * result.acf.band, -1.3 * result.acf.band]);
    let (low, high) = reach.fold((0.0_f64, 0.0_f64), |(low, high), v| (low.min(v), high.max(v)));
    let room = 0.06 * (high - low);
    Scale { low: low - room, high: high + room, at_low: panel.bottom, at_high: panel.top }
}

/// Seasonal lags carry a mark and their number in ochre; others are numbered
/// where there is room.
fn lag_axis(sheet: &mut Drawing, panel: Panel, along: Scale, result: &AcfResult, axis: Axis<'_>) {
    let (base, most, season) = (panel.bottom, result.acf.lags.len(), result.season);
    sheet.line((panel.left, base), (panel.right, base), theme::AXIS, 1.0);
    let pitch = (along.at_high - along.at_low) / most as f64;
    let step = if season > 1 && most >= season { season } else { lag_step(most) };
    // Between the seasonal lags a third or half of them, where that is whole and has room.
    let part = [3, 2].into_iter().find(|k| season > 1 && step % k == 0 && pitch * (step / k) as f64 > 34.0);
    let minor = part.map_or(step, |k| step / k);
    for lag in (1..=most).filter(|lag| lag % minor == 0 && pitch * minor as f64 > 22.0) {
        let x = along.at(lag as f64);
        let seasonal = season > 1 && lag % season == 0;
        let (color, length) = if seasonal { (theme::OCHRE, 9.0) } else { (theme::AXIS, 5.0) };
        sheet.line((x, base), (x, base + length), color, if seasonal { 2.4 } else { 1.0 });
        let text = Text {
            at: (x, base + 24.0),
            words: lag.to_string(),
            size: theme::TICK,
            bold: seasonal,
            fill: if seasonal { theme::OCHRE } else { theme::TEXT },
            anchor: Anchor::Middle,
        };
        sheet.add(Shape::Text(text));
    }
    if let Some(name) = axis.name {
        let at = (0.5 * (panel.left + panel.right), base + 48.0);
        sheet.text(at, &format!("Lag in {name}"), theme::TICK, theme::FAINT_TEXT, Anchor::Middle);
    }
}

fn lag_step(most: usize) -> usize {
    [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000]
        .into_iter()
        .find(|step| most / step <= 12)
        .unwrap_or(most.max(1))
}

fn note_band(drawing: &mut Drawing, results: &[&AcfResult], is_cut: bool) {
    let season = results.iter().map(|result| result.season).max().unwrap_or(1);
    let seasonal = if season > 1 { "; ochre: seasonal lags" } else { "" };
    let runs = if is_cut { " Above, shaded: runs at or over the cut." } else { "" };
    let width = match results {
        [one] => format!(" (±{:.3})", one.acf.band),
        _ => String::new(),
    };
    let text = format!(
        "Strip: 95 % band of white noise{width}. Filled bars lie outside it, outlined bars inside{seasonal}.{runs}"
    );
    foot(drawing, &text);
}
