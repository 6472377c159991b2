//! Plots drawn with characters, for terminals.

use crate::document::{Along, Ink, Line, Panel, Plot};
use crate::wording::number;

/// Which characters a terminal shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Charts {
    /// No charts.
    None,
    /// Dots of Braille patterns.
    Braille,
    /// Letters and marks only.
    Ascii,
}

/// Columns for the chart next to its numbers.
const WIDTH: usize = 68;
const TALL: usize = 14;
const SHORT: usize = 8;

/// Every panel below the other; lines of several series each in a chart of their own,
/// as characters have no colour.
pub fn chart(plot: &Plot, charts: Charts) -> String {
    let mut out = String::new();
    for panel in &plot.panels {
        let number = |line: &Line| match line.ink {
            Ink::Series(number) => number,
            Ink::Age(_) | Ink::Mean => 0,
        };
        if panel.lines.iter().any(|line| number(line) > 0) {
            for line in &panel.lines {
                let alone = Panel { lines: vec![line.clone()], boxes: Vec::new(), ..panel.clone() };
                out += &titled(&line.name, &alone, SHORT, charts);
            }
        } else {
            let rows = if plot.panels.len() > 1 { SHORT } else { TALL };
            out += &titled(&panel.title, panel, rows, charts);
        }
    }
    out
}

fn titled(title: &str, panel: &Panel, rows: usize, charts: Charts) -> String {
    format!("{title}\n{}", panel_chart(panel, rows, charts))
}

fn panel_chart(panel: &Panel, rows: usize, charts: Charts) -> String {
    let (low, high) = panel.reach();
    let (first, last) = panel.extent();
    let mut grid = Grid::new(WIDTH, rows, charts);
    let along = |x: f64| (x - first) / (last - first).max(f64::MIN_POSITIVE);
    let up = |y: f64| if high > low { (y - low) / (high - low) } else { 0.5 };
    let place = |(x, y): &(f64, f64)| (along(*x), up(*y));
    for piece in panel.lines.iter().flat_map(|line: &Line| &line.pieces) {
        let points: Vec<(f64, f64)> = piece.iter().map(place).collect();
        for point in &points {
            grid.dot(*point);
        }
        for pair in points.windows(2) {
            grid.line(pair[0], pair[1]);
        }
    }
    for mark in &panel.boxes {
        let [low, lower, median, upper, high] = mark.values.map(up);
        let x = along(mark.at);
        grid.line((x, low), (x, high));
        let half = 0.3 / (last - first);
        for level in [lower, median, upper] {
            grid.line((x - half, level), (x + half, level));
        }
        for side in [x - half, x + half] {
            grid.line((side, lower), (side, upper));
        }
        for (value, _) in &mark.beyond {
            grid.dot((x, up(*value)));
        }
    }
    for point in &panel.dots {
        grid.dot(place(point));
    }
    for (x, height) in &panel.bars {
        grid.line((along(*x), up(0.0)), (along(*x), up(*height)));
    }
    if !panel.bars.is_empty() {
        grid.line((0.0, up(0.0)), (1.0, up(0.0)));
    }
    for edge in panel.band.iter().flat_map(|band| [-band, *band]) {
        for step in 0..WIDTH {
            grid.dot((step as f64 / (WIDTH as f64 - 1.0), up(edge)));
        }
    }
    with_axes(&grid.rows(), panel, low, high)
}

fn with_axes(rows: &[String], panel: &Panel, low: f64, high: f64) -> String {
    let spread = high - low;
    let decimals = match spread {
        _ if spread >= 100.0 => 0,
        _ if spread >= 10.0 => 1,
        _ if spread >= 0.1 => 2,
        _ => 4,
    };
    let labels = [high, 0.5 * (low + high), low].map(|value| number(value, decimals));
    let wide = labels.iter().map(|label| label.chars().count()).max().unwrap_or(0);
    let middle = rows.len() / 2;
    let mut out = String::new();
    for (place, row) in rows.iter().enumerate() {
        let label = match place {
            0 => labels[0].as_str(),
            _ if place + 1 == rows.len() => labels[2].as_str(),
            _ if place == middle => labels[1].as_str(),
            _ => "",
        };
        out += format!("{label:>wide$}  {row}").trim_end();
        out.push('\n');
    }
    out + &format!("{:>wide$}  {}\n", "", bottom(panel).trim_end())
}

/// First and last period, or as many names as fit.
fn bottom(panel: &Panel) -> String {
    match &panel.along {
        Along::Periods(periods) => {
            let ends = [periods.first(), periods.last()];
            let [first, last] = ends.map(|end| end.map(ToString::to_string).unwrap_or_default());
            between_ends(&first, &last)
        }
        Along::Values(low, high) => between_ends(&number(*low, 2), &number(*high, 2)),
        Along::Strips(names) | Along::Points(names) => {
            let strips = matches!(panel.along, Along::Strips(_));
            let count = if strips { names.len() } else { names.len().saturating_sub(1) }.max(1);
            let mut line: Vec<char> = vec![' '; WIDTH + 8];
            let widest = names.iter().map(|name| name.chars().count()).max().unwrap_or(0);
            let step =
                [1, 2, 3, 4, 6, 12, 24, 52, 100].into_iter().find(|step| step * WIDTH / count > widest);
            let mut free = 0;
            for (place, name) in names.iter().enumerate().step_by(step.unwrap_or(200)) {
                let start = (2 * place + usize::from(strips)) * WIDTH / (2 * count);
                let start = start.saturating_sub(if strips { name.chars().count() / 2 } else { 0 });
                if start < free || start + name.chars().count() > WIDTH + 4 {
                    continue;
                }
                for (offset, letter) in name.chars().enumerate() {
                    line[start + offset] = letter;
                }
                free = start + name.chars().count() + 1;
            }
            line.into_iter().collect()
        }
    }
}

fn between_ends(first: &str, last: &str) -> String {
    let between = WIDTH.saturating_sub(first.chars().count() + last.chars().count());
    format!("{first}{}{last}", " ".repeat(between))
}

/// Dots, two across and four down in each character (one and two in plain letters).
struct Grid {
    across: usize,
    down: usize,
    per: (usize, usize),
    dots: Vec<bool>,
    charts: Charts,
}

impl Grid {
    fn new(width: usize, height: usize, charts: Charts) -> Self {
        let per = if charts == Charts::Ascii { (1, 2) } else { (2, 4) };
        let (across, down) = (width * per.0, height * per.1);
        Self { across, down, per, dots: vec![false; across * down], charts }
    }

    /// Marks a place given as shares of width and height.
    fn dot(&mut self, (x, y): (f64, f64)) {
        // Shares between zero and one.
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
        let at = |share: f64, count: usize| (share.clamp(0.0, 1.0) * (count as f64 - 1.0)).round() as usize;
        let (column, row) = (at(x, self.across), self.down - 1 - at(y, self.down));
        if let Some(dot) = self.dots.get_mut(row * self.across + column) {
            *dot = true;
        }
    }

    fn line(&mut self, from: (f64, f64), to: (f64, f64)) {
        let steps =
            ((to.0 - from.0).abs() * self.across as f64).max((to.1 - from.1).abs() * self.down as f64);
        // A few thousand at most.
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
        let steps = steps.ceil().clamp(1.0, 4000.0) as usize;
        for step in 0..=steps {
            let share = step as f64 / steps as f64;
            self.dot((from.0 + share * (to.0 - from.0), from.1 + share * (to.1 - from.1)));
        }
    }

    fn rows(&self) -> Vec<String> {
        let character = |row: usize, column: usize| {
            let is_set = |(down, across): (usize, usize)| {
                let place = (row * self.per.1 + down) * self.across + column * self.per.0 + across;
                self.dots.get(place).copied().unwrap_or(false)
            };
            if self.charts == Charts::Ascii {
                return match (is_set((0, 0)), is_set((1, 0))) {
                    (true, true) => '|',
                    (true, false) => '\'',
                    (false, true) => '.',
                    (false, false) => ' ',
                };
            }
            // The order in which the standard numbers the dots of a pattern.
            let order = [(0, 0), (1, 0), (2, 0), (0, 1), (1, 1), (2, 1), (3, 0), (3, 1)];
            let bits =
                order.into_iter().enumerate().map(|(bit, at)| u32::from(is_set(at)) << bit).sum::<u32>();
            if bits == 0 { ' ' } else { char::from_u32(0x2800 + bits).unwrap_or(' ') }
        };
        let (rows, columns) = (self.down / self.per.1, self.across / self.per.0);
        (0..rows).map(|row| (0..columns).map(|column| character(row, column)).collect()).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn rising(charts: Charts) -> String {
        let line = Line::with_gaps("x", Ink::Series(0), (0..5).map(|t| Some((f64::from(t), f64::from(t)))));
        let along = Along::Points((0..5).map(|t| t.to_string()).collect());
        let panel = Panel { title: "x".into(), along, lines: vec![line], ..Panel::default() };
        panel_chart(&panel, 4, charts)
    }

    #[test]
    fn a_line_rises_from_the_lower_left_to_the_upper_right() {
        for charts in [Charts::Braille, Charts::Ascii] {
            let text = rising(charts);
            let rows: Vec<&str> = text.lines().collect();
            assert_eq!(rows.len(), 5, "{text}");
            let start = |row: &str| row.chars().skip(6).position(|c| c != ' ').unwrap_or(usize::MAX);
            assert!(start(rows[3]) < start(rows[2]) && start(rows[1]) < usize::MAX, "{text}");
            assert!(rows[0].starts_with("4.00") && rows[3].starts_with("0.00"), "{text}");
            assert!(text.lines().all(|line| line.chars().count() <= 80), "{text}");
        }
        assert!(rising(Charts::Ascii).is_ascii());
    }
}
