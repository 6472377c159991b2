//! The series above, ACF and PACF below side by side on one scale.

use kandrel_core::series::Series;

use super::axis::Scale;
use super::canvas::{Anchor, Drawing, Shape, Text};
use super::panel::{
    MARGIN, Panel, Sheet, axis_name, foot, headed, panel_title, period_axis, thinned, value_axis, value_scale,
};
use super::theme;
use crate::present::acf::AcfResult;
use crate::read::Dataset;

const LEFT: f64 = 84.0;

/// The whole figure; the title says the finding.
pub fn drawing(
    series: &Series,
    result: &AcfResult,
    title: &str,
    dataset: &Dataset,
    sheet: &Sheet,
) -> Drawing {
    let subtitle = format!(
        "{}, {} to {}, {} {} observations; {} lags",
        dataset.source,
        series.start,
        series.last(),
        series.values.len(),
        dataset.frame.frequency().adjective(),
        result.acf.lags.len()
    );
    let mut drawing = headed(sheet, title, &subtitle);
    let right = sheet.width - MARGIN;
    let middle = 0.5 * (LEFT + right);
    let down = |share: f64| share * sheet.height / 800.0;
    draw_series(&mut drawing, series, Panel { left: LEFT, right, top: 122.0, bottom: down(386.0) });
    let below =
        Panel { left: LEFT, right: middle - 36.0, top: down(386.0) + 84.0, bottom: sheet.height - 100.0 };
    let beside = Panel { left: middle + 36.0, right, ..below };
    let noun = axis_name(dataset.frame.frequency());
    draw_lags(&mut drawing, below, "Autocorrelation (ACF)", result, &noun, |lag| lag.acf);
    draw_lags(&mut drawing, beside, "Partial autocorrelation (PACF)", result, &noun, |lag| lag.pacf);
    note_band(&mut drawing, result);
    drawing
}

fn draw_series(drawing: &mut Drawing, series: &Series, panel: Panel) {
    panel_title(drawing, panel, &series.name, "");
    let lowest = series.values.iter().copied().fold(f64::INFINITY, f64::min);
    let highest = series.values.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let up = value_scale(panel, lowest, highest);
    let length = series.values.len();
    let last = length.saturating_sub(1).max(1) as f64;
    let along = Scale { low: 0.0, high: last, at_low: panel.left + 8.0, at_high: panel.right - 8.0 };
    value_axis(drawing, panel, up, 5);
    period_axis(drawing, panel, along, length, &|t| series.period(t));
    let points: Vec<(f64, f64)> = series.values.iter().enumerate().map(|(t, v)| (t as f64, *v)).collect();
    let points = thinned(&points, along, up);
    drawing.add(Shape::Polyline { points, stroke: theme::PETROL, width: 1.6 });
}

fn draw_lags(
    sheet: &mut Drawing,
    panel: Panel,
    title: &str,
    result: &AcfResult,
    noun: &str,
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
    value_axis(sheet, panel, up, 5);
    for edge in [above, below] {
        sheet.line((panel.left, edge), (panel.right, edge), theme::SAND_EDGE, 1.0);
    }
    let most = result.acf.lags.len() as f64;
    let along = Scale { low: 0.5, high: most + 0.5, at_low: panel.left + 4.0, at_high: panel.right - 4.0 };
    lag_axis(sheet, panel, along, result, noun);
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
fn lag_axis(sheet: &mut Drawing, panel: Panel, along: Scale, result: &AcfResult, noun: &str) {
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
    let middle = 0.5 * (panel.left + panel.right);
    sheet.text(
        (middle, base + 48.0),
        &format!("Lag in {noun}"),
        theme::TICK,
        theme::FAINT_TEXT,
        Anchor::Middle,
    );
}

fn lag_step(most: usize) -> usize {
    [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000]
        .into_iter()
        .find(|step| most / step <= 12)
        .unwrap_or(most.max(1))
}

fn note_band(drawing: &mut Drawing, result: &AcfResult) {
    let seasonal = if result.season > 1 { "; ochre: seasonal lags" } else { "" };
    let text = format!(
        "Strip: 95 % band of white noise (±{:.3}). Filled bars lie outside it, outlined bars inside{seasonal}.",
        result.acf.band
    );
    foot(drawing, &text);
}
