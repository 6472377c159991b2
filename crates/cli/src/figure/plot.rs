//! Panels of lines and boxes.

use super::axis::{Scale, round_ticks};
use super::canvas::{Anchor, Drawing, Part, Shape};
use super::font::font;
use super::label;
use super::matrix;
use super::panel::{
    MARGIN, Panel as Place, Sheet, bold, foot, headed, panel_title, period_axis, thinned, value_axis,
    value_scale,
};
use super::readout::{self, ReadLine, ReadStrip, Readout};
use super::theme;
use crate::document::{Along, BoxMark, Ink, Interval, Line, Panel, Plot};
use crate::wording::{number, short};

/// Room left of a panel for its numbers.
const LEFT: f64 = 72.0;
/// Room above a panel for its title.
const ABOVE: f64 = 34.0;
/// Room below a panel for its labels.
const BELOW: f64 = 34.0;
/// Room for the name of the axis below the last panels.
const AXIS_NAME: f64 = 22.0;
const TOP: f64 = 96.0;
/// A panel is never flatter than this; the sheet grows instead.
const LEAST_HEIGHT: f64 = 92.0;

/// The whole figure.
pub fn drawing(plot: &Plot, sheet: &Sheet) -> Drawing {
    let rows = plot.panels.len().div_ceil(plot.columns.max(1)).max(1);
    let key = has_key(plot);
    let top = if key { TOP + 26.0 } else { TOP };
    let bottom = if plot.foot.is_empty() { 22.0 } else { 48.0 };
    let fixed = top + bottom + AXIS_NAME + rows as f64 * (ABOVE + BELOW);
    let height = ((sheet.height - fixed) / rows as f64).max(LEAST_HEIGHT);
    let sheet = Sheet { height: sheet.height.max(fixed + rows as f64 * height), ..sheet.clone() };
    let mut drawing = headed(&sheet, &plot.title, &plot.subtitle);
    let columns = plot.columns.max(1) as f64;
    let width = (sheet.width - 2.0 * MARGIN - columns * LEFT) / columns;
    for (number, panel) in plot.panels.iter().enumerate() {
        let (row, column) = ((number / plot.columns.max(1)) as f64, (number % plot.columns.max(1)) as f64);
        let left = MARGIN + (column + 1.0) * LEFT + column * width - 12.0;
        let upper = top + ABOVE + row * (height + ABOVE + BELOW);
        let place = Place { left, right: left + width, top: upper, bottom: upper + height };
        let last = number + plot.columns >= plot.panels.len();
        draw_panel(&mut drawing, panel, place, last);
    }
    if key {
        draw_key(&mut drawing, plot);
    }
    if !plot.foot.is_empty() {
        foot(&mut drawing, &plot.foot);
    }
    drawing
}

fn draw_panel(drawing: &mut Drawing, panel: &Panel, place: Place, last: bool) {
    panel_title(drawing, place, &panel.title, &panel.about);
    if let Some(heat) = &panel.heat {
        matrix::draw_heat(drawing, heat, place);
        return;
    }
    let (low, high) = panel.reach();
    let up = value_scale(place, low, high);
    let wanted = if place.bottom - place.top > 200.0 { 6 } else { 4 };
    let (first, end) = panel.extent();
    let inset = if matches!(panel.along, Along::Strips(_)) { 0.0 } else { 8.0 };
    let along = Scale { low: first, high: end, at_low: place.left + inset, at_high: place.right - inset };
    let number = drawing.next_panel();
    drawing.part(Part::Axes(number), |drawing| {
        value_axis(drawing, place, up, wanted);
        bottom_axis(drawing, panel, place, along);
    });
    if last {
        let middle = 0.5 * (place.left + place.right);
        let below = place.bottom + BELOW + 10.0;
        drawing.text((middle, below), &panel.axis, theme::TICK, theme::FAINT_TEXT, Anchor::Middle);
    }
    drawing.part(Part::Inside(number), |drawing| draw_inside(drawing, panel, along, up));
    drawing.read_off(readout(panel, place, along, up));
}

fn draw_inside(drawing: &mut Drawing, panel: &Panel, along: Scale, up: Scale) {
    for (number, interval) in panel.intervals.iter().enumerate() {
        draw_interval(drawing, interval, number, along, up);
    }
    for mark in &panel.boxes {
        draw_box(drawing, mark, along, up);
    }
    for at in thinned_dots(&panel.dots, along, up) {
        drawing.add(Shape::Dot { at, size: 4.0, fill: theme::SERIES[0], stroke: None });
    }
    for line in &panel.lines {
        draw_line(drawing, line, along, up);
    }
    draw_marks(drawing, panel, along, up);
}

/// What a pointer reads off a panel of lines; nothing where a strip has many values side by side.
fn readout(panel: &Panel, place: Place, along: Scale, up: Scale) -> Readout {
    let places = places(panel);
    let at = |points: &[(f64, f64)]| -> Vec<Option<f64>> {
        let value = |(at, _): &(f64, String)| {
            points.binary_search_by(|(x, _)| x.total_cmp(at)).ok().map(|found| points[found].1)
        };
        places.iter().map(value).collect()
    };
    let line = |line: &Line| ReadLine {
        name: line.name.clone(),
        ink: stroke(line.ink).0,
        values: at(&line.points().collect::<Vec<_>>()),
    };
    let strip = |(number, strip): (usize, &Interval)| {
        let end = |of: fn(&(f64, f64, f64)) -> (f64, f64)| at(&strip.ends.iter().map(of).collect::<Vec<_>>());
        ReadStrip {
            name: strip.name.clone(),
            ink: strip_ink(number),
            low: end(|(x, low, _)| (*x, *low)),
            high: end(|(x, _, high)| (*x, *high)),
        }
    };
    Readout {
        corners: [place.left, place.top, place.right, place.bottom],
        along,
        up,
        lines: panel.lines.iter().map(line).collect(),
        strips: panel.intervals.iter().enumerate().map(strip).collect(),
        zooms: matches!(panel.along, Along::Periods(_) | Along::Values(..)) && !places.is_empty(),
        places,
    }
}

/// The places of a panel's lines and what they are called.
fn places(panel: &Panel) -> Vec<(f64, String)> {
    let named = |count: usize, name: &dyn Fn(usize) -> String| {
        (0..count).step_by(readout::step(count)).map(|t| (t as f64, name(t))).collect()
    };
    match &panel.along {
        Along::Periods(periods) => named(periods.len(), &|t| periods[t].to_string()),
        Along::Points(names) => named(names.len(), &|t| names[t].clone()),
        Along::Strips(_) => Vec::new(),
        Along::Values(..) => {
            let mut all: Vec<f64> = panel.lines.iter().flat_map(Line::points).map(|(x, _)| x).collect();
            all.sort_by(f64::total_cmp);
            all.dedup();
            let step = readout::step(all.len());
            all.into_iter().step_by(step).map(|x| (x, short(x))).collect()
        }
    }
}

/// Squares on the values pointed out, and their names as far as there is room.
fn draw_marks(drawing: &mut Drawing, panel: &Panel, along: Scale, up: Scale) {
    let mut named: Vec<(f64, f64)> = Vec::new();
    for mark in &panel.marks {
        let (x, y) = (along.at(mark.at), up.at(mark.value));
        let fill = if mark.filled { theme::BRICK } else { theme::PAPER };
        let square = Shape::Dot { at: (x, y), size: 8.0, fill, stroke: Some(theme::BRICK) };
        drawing.add(Shape::Titled {
            title: format!("{}: {}", mark.name, number(mark.value, 2)),
            shapes: vec![square],
        });
        let wide = font(false).width(&mark.name, theme::TICK);
        let free = |other: &(f64, f64)| (other.0 - x).abs() > wide + 16.0 || (other.1 - y).abs() > 18.0;
        if mark.filled && named.iter().all(free) {
            let room = label::free_box((x, y), wide, &panel.lines, along, up);
            drawing.text((room.left, room.bottom - 4.0), &mark.name, theme::TICK, theme::TEXT, Anchor::Start);
            named.push((x, y));
        }
    }
}

/// Where the points are; of those on one pixel only one.
fn thinned_dots(dots: &[(f64, f64)], along: Scale, up: Scale) -> Vec<(f64, f64)> {
    let mut pixels: Vec<(f64, f64)> =
        dots.iter().map(|(x, y)| (along.at(*x).round(), up.at(*y).round())).collect();
    pixels.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.total_cmp(&b.1)));
    pixels.dedup();
    pixels
}

fn bottom_axis(drawing: &mut Drawing, panel: &Panel, place: Place, along: Scale) {
    match &panel.along {
        Along::Periods(periods) => {
            let Some(first) = periods.first().copied() else {
                return;
            };
            period_axis(drawing, place, along, periods.len(), &|t| periods.get(t).copied().unwrap_or(first));
        }
        Along::Strips(names) => {
            drawing.line((place.left, place.bottom), (place.right, place.bottom), theme::AXIS, 1.0);
            for edge in 1..names.len() {
                let x = along.at(edge as f64);
                drawing.line((x, place.top), (x, place.bottom), theme::GRID, 1.0);
            }
            name_places(drawing, names, place, along, 0.5);
        }
        Along::Points(names) => {
            drawing.line((place.left, place.bottom), (place.right, place.bottom), theme::AXIS, 1.0);
            name_places(drawing, names, place, along, 0.0);
        }
        Along::Values(..) => axis_of_values(drawing, place, along),
    }
}

/// Round values along the bottom, as far as there is room.
fn axis_of_values(drawing: &mut Drawing, place: Place, along: Scale) {
    drawing.line((place.left, place.bottom), (place.right, place.bottom), theme::AXIS, 1.0);
    // Four digits and a gap, three labels at least.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let wanted = ((place.right - place.left) / 70.0).clamp(3.0, 8.0) as usize;
    let (ticks, decimals) = round_ticks(along.low, along.high, wanted);
    for tick in ticks {
        let x = along.at(tick);
        drawing.line((x, place.bottom), (x, place.bottom + 5.0), theme::AXIS, 1.0);
        let label = number(tick, decimals);
        drawing.text((x, place.bottom + 21.0), &label, theme::TICK, theme::TEXT, Anchor::Middle);
    }
}

/// As many names as fit.
fn name_places(drawing: &mut Drawing, names: &[String], place: Place, along: Scale, shift: f64) {
    let widest = names.iter().map(|name| font(false).width(name, theme::TICK)).fold(0.0, f64::max) + 12.0;
    let pitch = along.at(1.0) - along.at(0.0);
    let step = [1, 2, 3, 4, 5, 7, 10, 13, 26, 30, 50, 100, 200, 500]
        .into_iter()
        .find(|step| pitch * f64::from(*step) >= widest)
        .unwrap_or(1000);
    let step = usize::try_from(step).unwrap_or(1);
    for (number, name) in names.iter().enumerate().step_by(step) {
        let x = along.at(number as f64 + shift);
        drawing.text((x, place.bottom + 21.0), name, theme::TICK, theme::TEXT, Anchor::Middle);
    }
}

fn stroke(ink: Ink) -> (&'static str, f64) {
    match ink {
        Ink::Series(number) => (theme::SERIES[number % theme::SERIES.len()], 1.6),
        Ink::Mean => (theme::OCHRE, 2.6),
        Ink::Age(age) => {
            let shades = theme::AGES.len() as f64;
            // Within the list of shades.
            #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
            let place = (age.clamp(0.0, 1.0) * (shades - 1.0)).round() as usize;
            (theme::AGES[place.min(theme::AGES.len() - 1)], 1.4)
        }
    }
}

fn strip_ink(number: usize) -> &'static str {
    theme::STRIPS[number.min(theme::STRIPS.len() - 1)]
}

fn draw_interval(drawing: &mut Drawing, interval: &Interval, number: usize, along: Scale, up: Scale) {
    let upper = interval.ends.iter().map(|(x, _, high)| (along.at(*x), up.at(*high)));
    let lower = interval.ends.iter().rev().map(|(x, low, _)| (along.at(*x), up.at(*low)));
    let fill = strip_ink(number);
    let strip = Shape::Polygon { points: upper.chain(lower).collect(), fill };
    drawing.part(Part::Series(interval.name.clone()), |drawing| {
        drawing.add(Shape::Titled { title: interval.name.clone(), shapes: vec![strip] });
    });
}

fn draw_line(drawing: &mut Drawing, line: &Line, along: Scale, up: Scale) {
    let (color, width) = stroke(line.ink);
    let mut shapes = Vec::new();
    for piece in &line.pieces {
        if let [(x, y)] = piece.as_slice() {
            // A lone value between gaps shows as a dot.
            let at = (along.at(*x), up.at(*y));
            shapes.push(Shape::Dot { at, size: 3.0, fill: color, stroke: None });
        } else {
            shapes.push(Shape::Polyline { points: thinned(piece, along, up), stroke: color, width });
        }
    }
    drawing.part(Part::Series(line.name.clone()), |drawing| {
        drawing.add(Shape::Titled { title: line.name.clone(), shapes });
    });
}

fn draw_box(drawing: &mut Drawing, mark: &BoxMark, along: Scale, up: Scale) {
    let half = (0.3 * (along.at(1.0) - along.at(0.0))).min(28.0);
    let x = along.at(mark.at);
    let [low, lower, median, upper, high] = mark.values.map(|value| up.at(value));
    let line = |from, to, width| Shape::Line { from, to, stroke: theme::PETROL, width };
    let shapes = vec![
        line((x, low), (x, lower), 1.2),
        line((x, upper), (x, high), 1.2),
        line((x - 0.5 * half, low), (x + 0.5 * half, low), 1.2),
        line((x - 0.5 * half, high), (x + 0.5 * half, high), 1.2),
        Shape::Rect {
            x: x - half,
            y: upper,
            width: 2.0 * half,
            height: (lower - upper).max(0.5),
            fill: theme::SAND,
            stroke: Some(theme::PETROL),
        },
        line((x - half, median), (x + half, median), 2.4),
    ];
    let [_, lower, median, upper, _] = mark.values;
    let title = format!("{}: quartiles {lower:.4}, {median:.4}, {upper:.4}", mark.name);
    drawing.add(Shape::Titled { title, shapes });
    let right = along.at(along.high);
    let mut labelled: Vec<f64> = Vec::new();
    for (value, period) in &mark.beyond {
        let y = up.at(*value);
        let dot = Shape::Dot { at: (x, y), size: 5.0, fill: theme::OCHRE, stroke: None };
        drawing.add(Shape::Titled { title: format!("{period}: {}", number(*value, 2)), shapes: vec![dot] });
        // Labels of near neighbours would lie over each other; hovering names them all.
        if labelled.iter().all(|other| (other - y).abs() > 11.0) {
            let fits = x + 8.0 + font(false).width(period, 10.0) <= right;
            let (x, anchor) = if fits { (x + 6.0, Anchor::Start) } else { (x - 6.0, Anchor::End) };
            drawing.text((x, y + 4.0), period, 10.0, theme::FAINT_TEXT, anchor);
            labelled.push(y);
        }
    }
}

/// Whether colours need saying: several series in a panel, or lines by age.
fn has_key(plot: &Plot) -> bool {
    plot.panels.iter().any(|panel| panel.lines.iter().filter(|line| line.ink != Ink::Mean).count() > 1)
        && plot.panels.iter().all(|panel| panel.lines.iter().all(|line| line.ink != Ink::Mean))
}

/// Names of series next to a stroke of their colour; for ages, the oldest and newest.
fn draw_key(drawing: &mut Drawing, plot: &Plot) {
    let y = TOP + 12.0;
    let Some(panel) = plot.panels.first() else {
        return;
    };
    let ages = panel.lines.iter().all(|line| matches!(line.ink, Ink::Age(_)));
    let mut x = MARGIN;
    if ages {
        let names = panel.lines.first().zip(panel.lines.last());
        let (oldest, newest) = names.map_or(("", ""), |(a, b)| (a.name.as_str(), b.name.as_str()));
        drawing.add(bold((x, y), oldest, theme::LABEL, theme::TEXT, Anchor::Start));
        x += font(true).width(oldest, theme::LABEL) + 10.0;
        for shade in theme::AGES {
            let (y, width, height) = (y - 9.0, 18.0, 8.0);
            drawing.add(Shape::Rect { x, y, width, height, fill: shade, stroke: None });
            x += 18.0;
        }
        drawing.add(bold((x + 10.0, y), newest, theme::LABEL, theme::TEXT, Anchor::Start));
        return;
    }
    for (number, interval) in panel.intervals.iter().enumerate() {
        let fill = strip_ink(number);
        drawing.part(Part::Key(interval.name.clone()), |drawing| {
            drawing.add(Shape::Rect { x, y: y - 11.0, width: 26.0, height: 12.0, fill, stroke: None });
            drawing.text((x + 34.0, y), &interval.name, theme::LABEL, theme::TEXT, Anchor::Start);
        });
        x += 34.0 + font(false).width(&interval.name, theme::LABEL) + 28.0;
    }
    for line in &panel.lines {
        let (color, _) = stroke(line.ink);
        drawing.part(Part::Key(line.name.clone()), |drawing| {
            drawing.line((x, y - 5.0), (x + 26.0, y - 5.0), color, 3.0);
            drawing.text((x + 34.0, y), &line.name, theme::LABEL, theme::TEXT, Anchor::Start);
        });
        x += 34.0 + font(false).width(&line.name, theme::LABEL) + 28.0;
    }
}
