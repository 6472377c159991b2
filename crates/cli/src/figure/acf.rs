//! The series above, ACF and PACF below side by side on one scale.

use kandrel_core::series::Series;

use super::axis::{Scale, period_ticks, round_ticks};
use super::canvas::{Anchor, Drawing, Shape, Text};
use super::font::font;
use super::theme;
use crate::present::acf::AcfResult;
use crate::read::Dataset;
use crate::render::number;

const WIDTH: f64 = 1280.0;
const HEIGHT: f64 = 800.0;
const LEFT: f64 = 84.0;
const RIGHT: f64 = WIDTH - 36.0;

/// A rectangle to draw in.
#[derive(Clone, Copy)]
struct Panel {
    left: f64,
    right: f64,
    top: f64,
    bottom: f64,
}

/// The whole figure; the title says the finding.
pub fn drawing(series: &Series, result: &AcfResult, title: &str, dataset: &Dataset) -> Drawing {
    let subtitle = format!(
        "{}, {} to {}, {} {} observations; {} lags",
        dataset.source,
        series.start,
        series.last(),
        series.values.len(),
        dataset.frame.frequency().adjective(),
        result.acf.lags.len()
    );
    let mut sheet = Drawing::new(WIDTH, HEIGHT, title, &subtitle);
    head(&mut sheet, title, &subtitle);
    let middle = 0.5 * (LEFT + RIGHT);
    draw_series(&mut sheet, series, Panel { left: LEFT, right: RIGHT, top: 122.0, bottom: 386.0 });
    let below = Panel { left: LEFT, right: middle - 36.0, top: 470.0, bottom: 700.0 };
    let beside = Panel { left: middle + 36.0, right: RIGHT, ..below };
    let noun = dataset.frame.frequency().noun();
    draw_lags(&mut sheet, below, "Autocorrelation (ACF)", result, noun, |lag| lag.acf);
    draw_lags(&mut sheet, beside, "Partial autocorrelation (PACF)", result, noun, |lag| lag.pacf);
    foot(&mut sheet, result);
    sheet
}

fn head(sheet: &mut Drawing, title: &str, subtitle: &str) {
    // A long title is made smaller rather than cut.
    let room = RIGHT - 36.0;
    let natural = font(true).width(title, theme::TITLE);
    let size = (theme::TITLE * (room / natural).min(1.0)).max(12.0);
    let text = Text {
        at: (36.0, 46.0),
        words: title.to_owned(),
        size,
        bold: true,
        fill: theme::TEXT,
        anchor: Anchor::Start,
    };
    sheet.add(Shape::Text(text));
    sheet.text((36.0, 74.0), subtitle, theme::SUBTITLE, theme::FAINT_TEXT, Anchor::Start);
}

fn panel_title(sheet: &mut Drawing, panel: Panel, title: &str) {
    let text = Text {
        at: (panel.left, panel.top - 12.0),
        words: title.to_owned(),
        size: theme::LABEL,
        bold: true,
        fill: theme::TEXT,
        anchor: Anchor::Start,
    };
    sheet.add(Shape::Text(text));
}

fn draw_series(sheet: &mut Drawing, series: &Series, panel: Panel) {
    panel_title(sheet, panel, &series.name);
    let lowest = series.values.iter().copied().fold(f64::INFINITY, f64::min);
    let highest = series.values.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let margin = 0.05 * (highest - lowest);
    let up = Scale { low: lowest - margin, high: highest + margin, at_low: panel.bottom, at_high: panel.top };
    let last = series.values.len().saturating_sub(1).max(1) as f64;
    let along = Scale { low: 0.0, high: last, at_low: panel.left + 8.0, at_high: panel.right - 8.0 };
    let (ticks, decimals) = round_ticks(up.low, up.high, 5);
    value_axis(sheet, panel, up, &ticks, decimals);
    period_axis(sheet, panel, along, series);
    if up.low < 0.0 && up.high > 0.0 {
        sheet.line((panel.left, up.at(0.0)), (panel.right, up.at(0.0)), theme::AXIS, 1.2);
    }
    let points = thinned(&series.values, along, up);
    sheet.add(Shape::Polyline { points, stroke: theme::PETROL, width: 1.6 });
}

/// At most four points per pixel column: first, lowest, highest and last keep
/// the picture the same however long the series is.
fn thinned(values: &[f64], along: Scale, up: Scale) -> Vec<(f64, f64)> {
    let columns = (along.at_high - along.at_low).max(1.0);
    let per_column = (values.len() as f64 / columns).ceil();
    // Between one and the length.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let per_column = per_column as usize;
    if per_column <= 4 {
        return values.iter().enumerate().map(|(t, v)| (along.at(t as f64), up.at(*v))).collect();
    }
    let mut points = Vec::new();
    for (place, chunk) in values.chunks(per_column).enumerate() {
        let x = along.at((place * per_column) as f64);
        let low = chunk.iter().copied().fold(f64::INFINITY, f64::min);
        let high = chunk.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let ends = [chunk.first(), chunk.last()].map(|end| end.copied().unwrap_or(low));
        points.extend([ends[0], low, high, ends[1]].map(|v| (x, up.at(v))));
    }
    points
}

fn value_axis(sheet: &mut Drawing, panel: Panel, up: Scale, ticks: &[f64], decimals: usize) {
    for tick in ticks {
        let y = up.at(*tick);
        sheet.line((panel.left, y), (panel.right, y), theme::GRID, 1.0);
        sheet.text(
            (panel.left - 10.0, y + 4.5),
            &number(*tick, decimals),
            theme::TICK,
            theme::TEXT,
            Anchor::End,
        );
    }
}

fn period_axis(sheet: &mut Drawing, panel: Panel, along: Scale, series: &Series) {
    let widest = font(false).width(&series.last().to_string(), theme::TICK) + 26.0;
    // At least one label fits.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let most = ((panel.right - panel.left) / widest).max(1.0) as usize;
    sheet.line((panel.left, panel.bottom), (panel.right, panel.bottom), theme::AXIS, 1.0);
    for t in period_ticks(series.start.frequency(), series.values.len(), most, &|t| series.period(t)) {
        let x = along.at(t as f64);
        sheet.line((x, panel.bottom), (x, panel.bottom + 5.0), theme::AXIS, 1.0);
        let name = series.period(t).to_string();
        let half = 0.5 * font(false).width(&name, theme::TICK);
        let inside = x.clamp(36.0 + half, RIGHT + 12.0 - half);
        sheet.text((inside, panel.bottom + 21.0), &name, theme::TICK, theme::TEXT, Anchor::Middle);
    }
}

fn draw_lags(
    sheet: &mut Drawing,
    panel: Panel,
    title: &str,
    result: &AcfResult,
    noun: &str,
    value: impl Fn(&kandrel_core::corr::AcfLag) -> f64,
) {
    panel_title(sheet, panel, title);
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
    let (ticks, decimals) = round_ticks(up.low, up.high, 5);
    value_axis(sheet, panel, up, &ticks, decimals);
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
    let unit = if noun == "observation" { "observations" } else { noun };
    let unit = if unit.ends_with('s') { unit.to_owned() } else { format!("{unit}s") };
    let middle = 0.5 * (panel.left + panel.right);
    sheet.text(
        (middle, base + 48.0),
        &format!("Lag in {unit}"),
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

fn foot(sheet: &mut Drawing, result: &AcfResult) {
    let seasonal = if result.season > 1 { "; ochre: seasonal lags" } else { "" };
    let text = format!(
        "Strip: 95 % band of white noise (±{:.3}). Filled bars lie outside it, outlined bars inside{seasonal}.",
        result.acf.band
    );
    sheet.text((36.0, HEIGHT - 22.0), &text, theme::TICK, theme::FAINT_TEXT, Anchor::Start);
}
