//! Residuals over time above; their ACF, PACF and quantiles and the model's roots below.

use kandrel_core::num::normal;
use kandrel_core::series::SeriesWithGaps;

use super::acf::{LEFT, draw_functions, draw_series};
use super::axis::{Scale, round_ticks};
use super::canvas::{Anchor, Drawing, Shape};
use super::panel::{MARGIN, Panel, Sheet, axis_name, foot, headed, panel_title, value_axis, value_scale};
use super::theme;
use crate::present::acf::AcfResult;
use crate::read::Dataset;
use crate::wording::number;

/// What is drawn.
pub struct Residuals<'a> {
    pub title: String,
    pub series: &'a SeriesWithGaps,
    pub functions: &'a AcfResult,
    /// What the series is, for the subtitle.
    pub about: &'static str,
    pub last: LastPanel,
}

/// What is in the last panel below.
pub enum LastPanel {
    /// Inverse roots, real and imaginary parts, of the autoregressive part and of the moving
    /// average.
    Roots { ar: Vec<(f64, f64)>, ma: Vec<(f64, f64)> },
    /// Fitted values and residuals.
    Fitted(Vec<(f64, f64)>),
}

/// Room between panels side by side.
const BESIDE: f64 = 62.0;

/// The whole figure.
pub fn drawing(residuals: &Residuals<'_>, dataset: &Dataset, sheet: &Sheet) -> Drawing {
    let series = residuals.series;
    let known = series.cells.iter().flatten().count();
    let last = series.period(series.cells.len().saturating_sub(1));
    let subtitle =
        format!("{}: {}, {known} from {} to {last}", dataset.file_name(), residuals.about, series.start);
    let mut drawing = headed(sheet, &residuals.title, &subtitle);
    let right = sheet.width - MARGIN;
    let down = |share: f64| share * sheet.height / 800.0;
    draw_series(&mut drawing, series, Panel { left: LEFT, right, top: 122.0, bottom: down(360.0) }, None);
    let width = (right - LEFT - 3.0 * BESIDE) / 4.0;
    let place = |column: f64| {
        let left = LEFT + column * (width + BESIDE);
        Panel { left, right: left + width, top: down(360.0) + 84.0, bottom: sheet.height - 100.0 }
    };
    let noun = format!("Lag in {}", axis_name(dataset.frame.frequency()));
    let titles = ["ACF", "PACF"];
    draw_functions(&mut drawing, [place(0.0), place(1.0)], titles, residuals.functions, Some(&noun));
    draw_quantiles(&mut drawing, series, place(2.0));
    let meaning = match &residuals.last {
        LastPanel::Roots { ar, ma } => {
            draw_roots(&mut drawing, ar, ma, place(3.0));
            "Roots: stationary and invertible inside the circle."
        }
        LastPanel::Fitted(points) => {
            draw_fitted(&mut drawing, points, place(3.0));
            "Against fitted: a cloud without shape if the relation is right."
        }
    };
    let text = format!(
        "Shaded band: 95 % band of white noise (±{:.3}); bars outside it are filled; lines (ACF): Bartlett limits. Quantiles: on the \
          line under normality. {meaning}",
        residuals.functions.acf.band
    );
    foot(&mut drawing, &text);
    drawing
}

/// Values in order of size against those of a normal distribution.
fn draw_quantiles(drawing: &mut Drawing, series: &SeriesWithGaps, panel: Panel) {
    panel_title(drawing, panel, "Quantiles", "");
    let mut values: Vec<f64> = series.cells.iter().flatten().copied().collect();
    values.sort_by(f64::total_cmp);
    let n = values.len().max(1) as f64;
    let sd = (values.iter().map(|value| value * value).sum::<f64>() / n).sqrt();
    let points: Vec<(f64, f64)> = values
        .iter()
        .enumerate()
        .map(|(k, value)| (normal::quantile((k as f64 + 0.5) / n), *value))
        .collect();
    let reach = points.last().map_or(1.0, |(x, _)| *x).max(1.0);
    let low = values.first().copied().unwrap_or(-1.0).min(-reach * sd);
    let high = values.last().copied().unwrap_or(1.0).max(reach * sd);
    let up = value_scale(panel, low, high);
    value_axis(drawing, panel, up, 4);
    let along = Scale { low: -1.1 * reach, high: 1.1 * reach, at_low: panel.left, at_high: panel.right };
    drawing.line((panel.left, panel.bottom), (panel.right, panel.bottom), theme::AXIS, 1.0);
    for tick in [-2.0, -1.0, 0.0, 1.0, 2.0] {
        let x = along.at(tick);
        drawing.line((x, panel.bottom), (x, panel.bottom + 5.0), theme::AXIS, 1.0);
        drawing.text((x, panel.bottom + 24.0), &number(tick, 0), theme::TICK, theme::TEXT, Anchor::Middle);
    }
    let ends = [-reach, reach].map(|x| (along.at(x), up.at(x * sd)));
    drawing.line(ends[0], ends[1], theme::OCHRE, 1.6);
    for (x, y) in points {
        drawing.add(dot((along.at(x), up.at(y)), theme::PETROL, None, 4.0));
    }
    let at = (0.5 * (panel.left + panel.right), panel.bottom + 48.0);
    drawing.text(at, "Normal quantile", theme::TICK, theme::FAINT_TEXT, Anchor::Middle);
}

fn dot(at: (f64, f64), fill: &'static str, stroke: Option<&'static str>, size: f64) -> Shape {
    Shape::Dot { at, size, fill, stroke }
}

/// Residuals against fitted values.
fn draw_fitted(drawing: &mut Drawing, points: &[(f64, f64)], panel: Panel) {
    panel_title(drawing, panel, "Against fitted", "");
    let ends = |of: fn(&(f64, f64)) -> f64| {
        points
            .iter()
            .map(of)
            .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), value| (low.min(value), high.max(value)))
    };
    let ((left, right), (low, high)) = (ends(|point| point.0), ends(|point| point.1));
    let up = value_scale(panel, low, high);
    value_axis(drawing, panel, up, 4);
    let room = 0.04 * (right - left).max(f64::MIN_POSITIVE);
    let along = Scale { low: left - room, high: right + room, at_low: panel.left, at_high: panel.right };
    drawing.line((panel.left, panel.bottom), (panel.right, panel.bottom), theme::AXIS, 1.0);
    drawing.line((panel.left, up.at(0.0)), (panel.right, up.at(0.0)), theme::OCHRE, 1.2);
    let (ticks, decimals) = round_ticks(along.low, along.high, 5);
    for tick in ticks {
        let x = along.at(tick);
        drawing.line((x, panel.bottom), (x, panel.bottom + 5.0), theme::AXIS, 1.0);
        drawing.text(
            (x, panel.bottom + 24.0),
            &number(tick, decimals),
            theme::TICK,
            theme::TEXT,
            Anchor::Middle,
        );
    }
    for (x, y) in points {
        drawing.add(dot((along.at(*x), up.at(*y)), theme::PETROL, None, 4.0));
    }
    let at = (0.5 * (panel.left + panel.right), panel.bottom + 48.0);
    drawing.text(at, "Fitted value", theme::TICK, theme::FAINT_TEXT, Anchor::Middle);
}

/// Inverse roots and the circle they have to stay in.
fn draw_roots(drawing: &mut Drawing, ar: &[(f64, f64)], ma: &[(f64, f64)], panel: Panel) {
    panel_title(drawing, panel, "Inverse roots", "");
    let side = (panel.right - panel.left).min(panel.bottom - panel.top);
    let (x, y) = (0.5 * (panel.left + panel.right), panel.top + 0.5 * side);
    let radius = 0.46 * side;
    let place = |(re, im): (f64, f64)| (x + radius * re, y - radius * im);
    drawing.line((x - radius, y), (x + radius, y), theme::GRID, 1.0);
    drawing.line((x, y - radius), (x, y + radius), theme::GRID, 1.0);
    let turn = |k: i32| f64::from(k) * std::f64::consts::TAU / 120.0;
    let circle = (0..=120).map(|k| place((turn(k).cos(), turn(k).sin()))).collect();
    drawing.add(Shape::Polyline { points: circle, stroke: theme::AXIS, width: 1.2 });
    for (list, fill, stroke, kind) in [
        (ar, theme::PETROL, theme::PETROL, "autoregressive"),
        (ma, theme::PAPER, theme::OCHRE, "moving average"),
    ] {
        for (re, im) in list {
            let title = format!("{kind}: modulus {:.3}", re.hypot(*im));
            drawing
                .add(Shape::Titled { title, shapes: vec![dot(place((*re, *im)), fill, Some(stroke), 8.0)] });
        }
    }
    let below = y + radius + 30.0;
    let left = x - radius;
    let kinds = [
        (ar.len(), theme::PETROL, theme::PETROL, "autoregressive"),
        (ma.len(), theme::PAPER, theme::OCHRE, "moving average"),
    ];
    for (row, (_, fill, stroke, name)) in kinds.into_iter().filter(|kind| kind.0 > 0).enumerate() {
        let y = below + 20.0 * row as f64;
        drawing.add(dot((left + 5.0, y - 4.0), fill, Some(stroke), 8.0));
        drawing.text((left + 16.0, y), name, theme::TICK, theme::TEXT, Anchor::Start);
    }
}
