//! Matrices as shaded cells with their numbers: correlations, and shares.

use super::canvas::{Anchor, Drawing, Shape, Text};
use super::font::{font, shortened};
use super::panel::{MARGIN, Panel, Sheet, foot, headed, panel_title};
use super::theme;
use crate::document::Heat;

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
/// Room for the names of columns.
const HEADS: f64 = 30.0;

fn draw(drawing: &mut Drawing, matrix: &Matrix<'_>, panel: Panel) {
    panel_title(drawing, panel, &matrix.title, "");
    let cell = |row: usize, column: usize| {
        let value = *matrix.values.get(row)?.get(column)?;
        let names = (matrix.names.get(row)?, matrix.names.get(column)?);
        Some(Cell {
            value,
            words: format!("{value:.2}").replace('-', "−"),
            title: format!("{} and {}: {value:.3}", names.0, names.1),
        })
    };
    Cells { rows: matrix.names, columns: matrix.names, is_square: true, cell: &cell }.draw(drawing, panel);
}

/// Shares in per cent, darker where larger.
pub fn draw_heat(drawing: &mut Drawing, heat: &Heat, panel: Panel) {
    let cell = |row: usize, column: usize| {
        let value = (*heat.shares.get(row)?.get(column)?)?;
        let (down, across) = (heat.rows.get(row)?, heat.columns.get(column)?);
        let words = format!("{:.0}", 100.0 * value);
        Some(Cell { value, title: format!("{across}, {down}: {words} %"), words })
    };
    Cells { rows: &heat.rows, columns: &heat.columns, is_square: false, cell: &cell }.draw(drawing, panel);
}

/// One cell: how dark, what is written in it, and what is shown on hovering.
struct Cell {
    value: f64,
    words: String,
    title: String,
}

/// Cells under the names of their columns, beside those of their rows.
struct Cells<'a> {
    rows: &'a [String],
    columns: &'a [String],
    is_square: bool,
    /// Of a row and a column; none where nothing is known.
    cell: &'a dyn Fn(usize, usize) -> Option<Cell>,
}

impl Cells<'_> {
    fn draw(&self, drawing: &mut Drawing, panel: Panel) {
        let (down, across) = (self.rows.len().max(1) as f64, self.columns.len().max(1) as f64);
        let size = (1.6 * (panel.bottom - panel.top) / down / 4.0).clamp(5.0, theme::TICK);
        let widest = self.rows.iter().map(|name| font(false).width(name, size)).fold(0.0, f64::max);
        let names = (widest + 14.0).min(NAMES * (panel.right - panel.left));
        let (left, top) = (panel.left + names, panel.top + HEADS);
        let (mut width, mut height) = ((panel.right - left) / across, (panel.bottom - top) / down);
        if self.is_square {
            (width, height) = (width.min(height), width.min(height));
        }
        for (column, name) in self.columns.iter().enumerate() {
            // As far as each has room.
            let head = shortened(name, width - 6.0, size, false);
            let middle = left + (column as f64 + 0.5) * width;
            drawing.text((middle, top - 8.0), &head, size, theme::TEXT, Anchor::Middle);
        }
        for (row, name) in self.rows.iter().enumerate() {
            let y = top + row as f64 * height;
            let shown = shortened(name, names - 14.0, size, false);
            drawing.text(
                (left - 10.0, y + 0.5 * height + 0.35 * size),
                &shown,
                size,
                theme::TEXT,
                Anchor::End,
            );
            for column in 0..self.columns.len() {
                if let Some(cell) = (self.cell)(row, column) {
                    cell.draw(drawing, (left + column as f64 * width, y), (width, height));
                }
            }
        }
    }
}

impl Cell {
    fn draw(self, drawing: &mut Drawing, (x, y): (f64, f64), (width, height): (f64, f64)) {
        let inner = |side: f64| (side - 2.0).max(0.5);
        let mut shapes = vec![Shape::Rect {
            x: x + 1.0,
            y: y + 1.0,
            width: inner(width),
            height: inner(height),
            fill: shade(self.value),
            stroke: None,
        }];
        let size = (0.3 * width.min(height)).min(theme::LABEL);
        if size >= 7.0 {
            shapes.push(Shape::Text(Text {
                at: (x + 0.5 * width, y + 0.5 * height + 0.35 * size),
                words: self.words,
                size,
                bold: false,
                fill: if self.value.abs() > 0.6 { theme::PAPER } else { theme::TEXT },
                anchor: Anchor::Middle,
            }));
        }
        drawing.add(Shape::Titled { title: self.title, shapes });
    }
}

fn shade(value: f64) -> &'static str {
    let shades = if value < 0.0 { &theme::NEGATIVE } else { &theme::AGES };
    // Between zero and the number of shades.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let place = (value.abs().min(1.0) * shades.len() as f64) as usize;
    if value.abs() < 0.05 { theme::PAPER } else { shades[place.min(shades.len() - 1)] }
}
