//! Correlation matrices as shaded squares with their numbers.

use super::canvas::{Anchor, Drawing, Shape, Text};
use super::font::font;
use super::panel::{MARGIN, Panel, Sheet, foot, headed, panel_title};
use super::theme;

/// A matrix to draw.
pub struct Matrix<'a> {
    pub title: String,
    pub names: &'a [String],
    pub values: &'a [Vec<f64>],
}

/// Matrices side by side.
pub fn drawing(all: &[Matrix<'_>], title: &str, subtitle: &str, sheet: &Sheet) -> Drawing {
    let mut drawing = headed(sheet, title, subtitle);
    let count = all.len().max(1) as f64;
    let room = (sheet.width - 2.0 * MARGIN - (count - 1.0) * 40.0) / count;
    for (matrix, number) in all.iter().zip(0_u32..) {
        let left = MARGIN + f64::from(number) * (room + 40.0);
        let panel = Panel { left, right: left + room, top: 124.0, bottom: sheet.height - 56.0 };
        draw(&mut drawing, matrix, panel);
    }
    foot(&mut drawing, "Blue-green: positive correlation; red: negative; darker: stronger.");
    drawing
}

/// Names take at most this share of the width.
const NAMES: f64 = 0.32;

fn draw(drawing: &mut Drawing, matrix: &Matrix<'_>, panel: Panel) {
    panel_title(drawing, panel, &matrix.title, "");
    let count = matrix.names.len().max(1) as f64;
    let size = (1.6 * (panel.bottom - panel.top) / count / 4.0).clamp(5.0, theme::TICK);
    let widest = matrix.names.iter().map(|name| font(false).width(name, size)).fold(0.0, f64::max);
    let names = (widest + 14.0).min(NAMES * (panel.right - panel.left));
    let side = ((panel.right - panel.left - names) / count).min((panel.bottom - panel.top - 30.0) / count);
    let (left, top) = (panel.left + names, panel.top + 30.0);
    for (row, (name, values)) in matrix.names.iter().zip(matrix.values).enumerate() {
        let y = top + row as f64 * side;
        let shown = shortened(name, names - 14.0, size);
        drawing.text((left - 10.0, y + 0.5 * side + 0.35 * size), &shown, size, theme::TEXT, Anchor::End);
        // Above the columns as far as each has room; rows have the same order.
        let head = shortened(name, side - 6.0, size);
        let middle = left + (row as f64 + 0.5) * side;
        drawing.text((middle, top - 8.0), &head, size, theme::TEXT, Anchor::Middle);
        for (column, value) in values.iter().enumerate() {
            square(drawing, (left + column as f64 * side, y), side, *value, &matrix.names[column], name);
        }
    }
}

fn square(drawing: &mut Drawing, (x, y): (f64, f64), side: f64, value: f64, across: &str, down: &str) {
    let shade = shade(value);
    let inner = (side - 2.0).max(0.5);
    let mut shapes =
        vec![Shape::Rect { x: x + 1.0, y: y + 1.0, width: inner, height: inner, fill: shade, stroke: None }];
    let size = (0.3 * side).min(theme::LABEL);
    if size >= 7.0 {
        shapes.push(Shape::Text(Text {
            at: (x + 0.5 * side, y + 0.5 * side + 0.35 * size),
            words: format!("{value:.2}").replace('-', "−"),
            size,
            bold: false,
            fill: if value.abs() > 0.6 { theme::PAPER } else { theme::TEXT },
            anchor: Anchor::Middle,
        }));
    }
    drawing.add(Shape::Titled { title: format!("{down} and {across}: {value:.3}"), shapes });
}

fn shade(value: f64) -> &'static str {
    let shades = if value < 0.0 { &theme::NEGATIVE } else { &theme::AGES };
    // Between zero and the number of shades.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let place = (value.abs().min(1.0) * shades.len() as f64) as usize;
    if value.abs() < 0.05 { theme::PAPER } else { shades[place.min(shades.len() - 1)] }
}

/// The name, or as much of it as has room.
fn shortened(name: &str, room: f64, size: f64) -> String {
    if font(false).width(name, size) <= room {
        return name.to_owned();
    }
    let mut kept: String = name.to_owned();
    while kept.pop().is_some() {
        let with_mark = format!("{kept}…");
        if font(false).width(&with_mark, size) <= room {
            return with_mark;
        }
    }
    String::new()
}
