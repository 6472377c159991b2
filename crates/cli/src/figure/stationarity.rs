//! The series with what is fixed about it, the tests as a strip, ACF of level and difference.

use kandrel_core::corr::Acf;
use kandrel_core::series::SeriesWithGaps;

use super::acf::{LEFT, draw_series};
use super::axis::Scale;
use super::canvas::{Anchor, Drawing, Part, Shape};
use super::font::font;
use super::lags::{LagChart, reach};
use super::panel::{MARGIN, Panel, Sheet, foot, headed, panel_title, thinned, value_scale};
use super::theme;

/// What the figure shows.
pub struct Picture<'a> {
    pub title: &'a str,
    pub subtitle: String,
    pub series: &'a SeriesWithGaps,
    /// Mean, trend and break of the most probable model, place by place.
    pub fixed: Option<Vec<f64>>,
    /// Place of the last period before its break.
    pub break_at: Option<usize>,
    /// Rolling mean and standard deviation, and over how many periods.
    pub rolling: (Vec<Option<(f64, f64)>>, usize),
    pub tests: Vec<StripRow>,
    /// Of the level and of the difference.
    pub functions: [(String, Acf); 2],
    pub season: usize,
    /// What lags are counted in.
    pub axis: String,
}

/// One test.
pub struct StripRow {
    pub name: String,
    pub null: &'static str,
    /// Statistic and 5 % point.
    pub numbers: String,
    pub p_value: f64,
    pub is_rejected: bool,
}

/// More rows do not fit under the series.
const MOST_ROWS: usize = 14;
/// p-values beyond are at the edge.
const LEAST_P: f64 = 1e-4;

/// The whole figure.
pub fn drawing(picture: &Picture<'_>, sheet: &Sheet) -> Drawing {
    let mut drawing = headed(sheet, picture.title, &picture.subtitle);
    let right = sheet.width - MARGIN;
    let down = |share: f64| share * sheet.height / 800.0;
    let above = Panel { left: LEFT, right, top: 122.0, bottom: down(366.0) };
    draw_level(&mut drawing, picture, above);
    let (top, bottom) = (down(366.0) + 84.0, sheet.height - 100.0);
    let along = |share: f64| LEFT + share * (right - LEFT);
    draw_strip(&mut drawing, picture, Panel { left: MARGIN, right: along(0.44), top, bottom });
    let panels = [(0.50, 0.73), (0.79, 1.0)];
    let values = picture.functions.iter().flat_map(|(_, acf)| acf.lags.iter().map(|lag| lag.acf));
    let band = picture.functions.iter().map(|(_, acf)| acf.band).fold(0.0, f64::max);
    let reach = reach(values, band);
    for ((title, acf), (from, to)) in picture.functions.iter().zip(panels) {
        let bars: Vec<(i64, f64)> =
            acf.lags.iter().map(|lag| (i64::try_from(lag.lag).unwrap_or(i64::MAX), lag.acf)).collect();
        let chart = LagChart {
            title,
            bars: &bars,
            band: acf.band,
            varying: Vec::new(),
            season: picture.season,
            axis: Some(&picture.axis),
            reach,
        };
        chart.draw(&mut drawing, Panel { left: along(from), right: along(to), top, bottom });
    }
    let more = match picture.tests.len().saturating_sub(MOST_ROWS) {
        0 => String::new(),
        count => format!(" {count} more tests stand in the table."),
    };
    foot(
        &mut drawing,
        &format!(
            "Squares: p-value of each test, filled if H0 is rejected at 5 %; in brackets the 5 % critical \
              value.{more} Shaded band of the ACF: 95 % band of white noise."
        ),
    );
    drawing
}

fn draw_level(drawing: &mut Drawing, picture: &Picture<'_>, panel: Panel) {
    let cells = &picture.series.cells;
    let values = cells.iter().flatten().copied();
    let (lowest, highest) =
        values.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), v| (low.min(v), high.max(v)));
    let up = value_scale(panel, lowest, highest);
    let last = cells.len().saturating_sub(1).max(1) as f64;
    let along = Scale { low: 0.0, high: last, at_low: panel.left + 8.0, at_high: panel.right - 8.0 };
    let number = drawing.next_panel();
    let spread = spread_name(picture);
    drawing.part(Part::Inside(number), |drawing| {
        let strip = Part::Series(spread.clone());
        drawing.part(strip, |drawing| draw_spread(drawing, &picture.rolling.0, along, up));
    });
    draw_series(drawing, picture.series, panel, None);
    let rolled: Vec<(f64, f64)> =
        picture.rolling.0.iter().enumerate().filter_map(|(t, one)| one.map(|(m, _)| (t as f64, m))).collect();
    let fixed: Vec<(f64, f64)> =
        picture.fixed.iter().flatten().enumerate().map(|(t, v)| (t as f64, *v)).collect();
    let line = |points: &[(f64, f64)], stroke, width| Shape::Polyline {
        points: thinned(points, along, up),
        stroke,
        width,
    };
    drawing.part(Part::Inside(number), |drawing| {
        drawing.part(Part::Series(spread.clone()), |drawing| {
            drawing.add(line(&rolled, theme::SERIES[2], 1.6));
        });
        drawing.part(Part::Series(DETERMINISTIC.to_owned()), |drawing| {
            // A step is drawn between its two periods.
            let split = picture.break_at.map_or(fixed.len(), |place| (place + 1).min(fixed.len()));
            for part in [&fixed[..split], &fixed[split..]].into_iter().filter(|part| !part.is_empty()) {
                drawing.add(line(part, theme::OCHRE, 2.6));
            }
        });
        draw_break(drawing, picture, panel, along);
    });
    if let Some(readout) = drawing.last_readout() {
        let ends: Vec<Option<(f64, f64)>> =
            picture.rolling.0.iter().map(|one| one.map(|(mean, sd)| (mean - sd, mean + sd))).collect();
        readout.add_strip(&spread, theme::SERIES[2], &ends);
        if let Some(fixed) = &picture.fixed {
            let values: Vec<Option<f64>> = fixed.iter().copied().map(Some).collect();
            readout.add_line(DETERMINISTIC, theme::OCHRE, &values);
        }
    }
    legend(drawing, picture, panel);
}

/// A broken line at the break, and when it is.
fn draw_break(drawing: &mut Drawing, picture: &Picture<'_>, panel: Panel, along: Scale) {
    if let Some(place) = picture.break_at {
        let x = along.at(place as f64 + 0.5);
        let (mut y, end) = (panel.top, panel.bottom);
        while y < end {
            drawing.line((x, y), (x, (y + 5.0).min(end)), theme::OCHRE, 1.2);
            y += 9.0;
        }
        let name = format!("last before the break: {}", picture.series.period(place));
        let room = font(false).width(&name, theme::TICK) + 8.0;
        let (at, anchor) =
            if x + room < panel.right { (x + 6.0, Anchor::Start) } else { (x - 6.0, Anchor::End) };
        drawing.text((at, panel.top + 14.0), &name, theme::TICK, theme::OCHRE, anchor);
    }
}

/// What the line of the most probable model is called.
const DETERMINISTIC: &str = "deterministic component of the most probable model";

fn spread_name(picture: &Picture<'_>) -> String {
    format!("mean and standard deviation over {}", picture.rolling.1)
}

/// A band of one standard deviation on either side of the rolling mean.
fn draw_spread(drawing: &mut Drawing, rolling: &[Option<(f64, f64)>], along: Scale, up: Scale) {
    let width = along.at(1.0) - along.at(0.0);
    for (t, (mean, sd)) in rolling.iter().enumerate().filter_map(|(t, one)| one.map(|one| (t, one))) {
        let (top, bottom) = (up.at(mean + sd).max(up.at_high), up.at(mean - sd).min(up.at_low));
        if bottom > top {
            drawing.add(Shape::Rect {
                x: along.at(t as f64 - 0.5),
                y: top,
                width: width + 0.2,
                height: bottom - top,
                fill: theme::SAND,
                stroke: None,
            });
        }
    }
}

/// What the lines are, from the right end of the panel's head.
fn legend(drawing: &mut Drawing, picture: &Picture<'_>, panel: Panel) {
    let mut entries = vec![(spread_name(picture), theme::SERIES[2])];
    if picture.fixed.is_some() {
        entries.push((DETERMINISTIC.to_owned(), theme::OCHRE));
    }
    let mut x = panel.right;
    let y = panel.top - 12.0;
    for (name, color) in entries {
        x -= font(false).width(&name, theme::TICK);
        drawing.part(Part::Key(name.clone()), |drawing| {
            drawing.text((x, y), &name, theme::TICK, theme::FAINT_TEXT, Anchor::Start);
            drawing.line((x - 28.0, y - 4.0), (x - 6.0, y - 4.0), color, 2.6);
        });
        x -= 48.0;
    }
}

/// Every test at its p-value, where critical values of all tests fall on the same lines.
fn draw_strip(drawing: &mut Drawing, picture: &Picture<'_>, panel: Panel) {
    panel_title(drawing, panel, "Tests and critical values", "");
    let rows = &picture.tests[..picture.tests.len().min(MOST_ROWS)];
    let widest = |words: &dyn Fn(&StripRow) -> &str| {
        rows.iter().map(|row| font(false).width(words(row), theme::TICK)).fold(0.0, f64::max)
    };
    let names = widest(&|row| &row.name);
    let nulls = widest(&|row| row.null);
    let numbers = widest(&|row| &row.numbers);
    let inner =
        Panel { left: panel.left + names + nulls + 28.0, right: panel.right - numbers - 10.0, ..panel };
    let score = |p: f64| -kandrel_core::num::normal::quantile(p.clamp(LEAST_P, 0.95));
    let along = Scale {
        low: score(0.95),
        high: score(LEAST_P),
        at_low: inner.left + 8.0,
        at_high: inner.right - 8.0,
    };
    drawing.add(Shape::Rect {
        x: along.at(score(0.05)),
        y: inner.top,
        width: inner.right - along.at(score(0.05)),
        height: inner.bottom - inner.top,
        fill: theme::SAND,
        stroke: None,
    });
    drawing.line((inner.left, inner.bottom), (inner.right, inner.bottom), theme::AXIS, 1.0);
    for (p, name) in [(0.5, "50 %"), (0.1, "10"), (0.05, "5"), (0.01, "1"), (0.001, "0.1")] {
        let x = along.at(score(p));
        drawing.line((x, inner.top), (x, inner.bottom), theme::GRID, 1.0);
        drawing.text((x, inner.bottom + 19.0), name, theme::TICK, theme::TEXT, Anchor::Middle);
    }
    let at = (0.5 * (inner.left + inner.right), inner.bottom + 40.0);
    drawing.text(at, "p-value (smaller to the right)", theme::TICK, theme::FAINT_TEXT, Anchor::Middle);
    let pitch = ((inner.bottom - inner.top) / rows.len().max(1) as f64).min(30.0);
    for (place, row) in rows.iter().enumerate() {
        let y = inner.top + (place as f64 + 0.5) * pitch;
        drawing.text((panel.left, y + 4.5), &row.name, theme::TICK, theme::TEXT, Anchor::Start);
        let null = panel.left + names + 12.0;
        drawing.text((null, y + 4.5), row.null, theme::TICK, theme::FAINT_TEXT, Anchor::Start);
        drawing.line((inner.left, y), (inner.right, y), theme::GRID, 1.0);
        drawing.text((inner.right + 10.0, y + 4.5), &row.numbers, theme::TICK, theme::TEXT, Anchor::Start);
        let x = along.at(score(row.p_value));
        let dot = Shape::Dot {
            at: (x, y),
            size: 10.0,
            fill: if row.is_rejected { theme::PETROL } else { theme::PAPER },
            stroke: Some(theme::PETROL),
        };
        let title = format!("{}: {}, {}", row.name, row.numbers, crate::wording::p_equals(row.p_value));
        drawing.add(Shape::Titled { title, shapes: vec![dot] });
    }
}
