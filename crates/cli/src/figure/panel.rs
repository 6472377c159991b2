//! What every figure has: a head, and panels with a scale of values and one of
//! periods.

use kandrel_core::time::{Frequency, Period};

use super::axis::{Scale, period_ticks, round_ticks};
use super::canvas::{Anchor, Drawing, Shape, Text};
use super::font::{font, shortened};
use super::theme;
use crate::wording::number;

/// Space left free at both sides of the sheet.
pub const MARGIN: f64 = 36.0;

/// How a figure is wanted.
#[derive(Debug, Clone)]
pub struct Sheet {
    pub width: f64,
    pub height: f64,
    /// In place of the figure's own title.
    pub title: Option<String>,
}

impl Default for Sheet {
    fn default() -> Self {
        Self { width: 1280.0, height: 800.0, title: None }
    }
}

/// A rectangle to draw in.
#[derive(Clone, Copy)]
pub struct Panel {
    pub left: f64,
    pub right: f64,
    pub top: f64,
    pub bottom: f64,
}

/// An empty sheet with its title and subtitle.
pub fn headed(sheet: &Sheet, title: &str, subtitle: &str) -> Drawing {
    let title = sheet.title.as_deref().unwrap_or(title);
    let mut drawing = Drawing::new(sheet.width, sheet.height, title, subtitle);
    let room = sheet.width - 2.0 * MARGIN;
    // What is too long is made smaller rather than cut.
    let fitted = |words: &str, size: f64, bold: bool| {
        let natural = font(bold).width(words, size).max(1.0);
        (size * (room / natural).min(1.0)).max(10.0)
    };
    let size = fitted(title, theme::TITLE, true);
    drawing.add(bold((MARGIN, 46.0), title, size, theme::TEXT, Anchor::Start));
    let size = fitted(subtitle, theme::SUBTITLE, false);
    drawing.text((MARGIN, 74.0), subtitle, size, theme::FAINT_TEXT, Anchor::Start);
    drawing
}

/// A line of bold text.
pub fn bold(at: (f64, f64), words: &str, size: f64, fill: &'static str, anchor: Anchor) -> Shape {
    Shape::Text(Text { at, words: words.to_owned(), size, bold: true, fill, anchor })
}

/// A line of faint text at the foot of the sheet.
pub fn foot(drawing: &mut Drawing, text: &str) {
    let at = (MARGIN, drawing.height - 22.0);
    drawing.text(at, text, theme::TICK, theme::FAINT_TEXT, Anchor::Start);
}

/// The bold title of a panel, with faint words behind it; as much of both as there is room for.
pub fn panel_title(drawing: &mut Drawing, panel: Panel, title: &str, about: &str) {
    let y = panel.top - 12.0;
    let title = shortened(title, panel.right - panel.left, theme::LABEL, true);
    drawing.add(bold((panel.left, y), &title, theme::LABEL, theme::TEXT, Anchor::Start));
    let behind = panel.left + font(true).width(&title, theme::LABEL) + 12.0;
    let about = shortened(about, panel.right - behind, theme::TICK, false);
    drawing.text((behind, y), &about, theme::TICK, theme::FAINT_TEXT, Anchor::Start);
}

/// A scale of values from `low` to `high` with a little room beyond.
pub fn value_scale(panel: Panel, low: f64, high: f64) -> Scale {
    let size = high.abs().max(low.abs());
    // A constant is in the middle of a scale that its own size suggests.
    let is_flat = high - low <= 1e-12 * size;
    let margin = match (is_flat, size > 0.0) {
        (false, _) => 0.05 * (high - low),
        (true, true) => 0.1 * size,
        (true, false) => 1.0,
    };
    Scale { low: low - margin, high: high + margin, at_low: panel.bottom, at_high: panel.top }
}

/// Grid lines and numbers for about that number of round values; the line of zero darker.
pub fn value_axis(drawing: &mut Drawing, panel: Panel, up: Scale, wanted: usize) {
    let (ticks, decimals) = round_ticks(up.low, up.high, wanted);
    for tick in ticks {
        let y = up.at(tick);
        drawing.line((panel.left, y), (panel.right, y), theme::GRID, 1.0);
        let label = number(tick, decimals);
        drawing.text((panel.left - 10.0, y + 4.5), &label, theme::TICK, theme::TEXT, Anchor::End);
    }
    if up.low < 0.0 && up.high > 0.0 {
        drawing.line((panel.left, up.at(0.0)), (panel.right, up.at(0.0)), theme::AXIS, 1.2);
    }
}

/// The axis of periods, labelled as far as there is room.
pub fn period_axis(
    drawing: &mut Drawing,
    panel: Panel,
    along: Scale,
    length: usize,
    period: &dyn Fn(usize) -> Period,
) {
    let frequency = period(0).frequency();
    let widest = font(false).width(&period(length.saturating_sub(1)).to_string(), theme::TICK) + 26.0;
    // At least one label fits.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let most = ((panel.right - panel.left) / widest).max(1.0) as usize;
    drawing.line((panel.left, panel.bottom), (panel.right, panel.bottom), theme::AXIS, 1.0);
    for t in period_ticks(frequency, length, most, period) {
        let x = along.at(t as f64);
        drawing.line((x, panel.bottom), (x, panel.bottom + 5.0), theme::AXIS, 1.0);
        let name = period(t).to_string();
        let half = 0.5 * font(false).width(&name, theme::TICK);
        let inside = x.clamp(MARGIN + half, (drawing.width - MARGIN + 12.0 - half).max(MARGIN + half));
        drawing.text((inside, panel.bottom + 21.0), &name, theme::TICK, theme::TEXT, Anchor::Middle);
    }
}

/// The name of an axis of periods, in the plural.
pub fn axis_name(frequency: Frequency) -> String {
    format!("{}s", frequency.noun())
}

/// At most four points per pixel column: first, lowest, highest and last keep
/// the picture the same however long the line is. Points are in order of x.
pub fn thinned(points: &[(f64, f64)], along: Scale, up: Scale) -> Vec<(f64, f64)> {
    let placed = |(x, y): &(f64, f64)| (along.at(*x), up.at(*y));
    let width = (along.at_high - along.at_low).max(1.0);
    if points.len() as f64 <= 4.0 * width {
        return points.iter().map(placed).collect();
    }
    let mut kept = Vec::new();
    let same_pixel = |a: &(f64, f64), b: &(f64, f64)| along.at(a.0).floor() >= along.at(b.0).floor();
    for chunk in points.chunk_by(same_pixel) {
        let by_value = |a: &&(f64, f64), b: &&(f64, f64)| a.1.total_cmp(&b.1);
        let ends =
            [chunk.first(), chunk.iter().min_by(by_value), chunk.iter().max_by(by_value), chunk.last()];
        kept.extend(ends.into_iter().flatten().map(placed));
    }
    kept
}
