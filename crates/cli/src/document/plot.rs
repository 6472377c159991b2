//! A plot before it is drawn: panels of lines or boxes with their axes.

use kandrel_core::time::Period;

/// Panels side by side and below each other.
#[derive(Debug, Clone)]
pub struct Plot {
    pub title: String,
    pub subtitle: String,
    /// What the marks mean, if they need saying.
    pub foot: String,
    /// Panels in a row.
    pub columns: usize,
    pub panels: Vec<Panel>,
}

/// One pair of axes and what is drawn in it.
#[derive(Debug, Clone, Default)]
pub struct Panel {
    pub title: String,
    /// What the title's expression means.
    pub about: String,
    pub along: Along,
    /// Name of the axis along the bottom.
    pub axis: String,
    pub lines: Vec<Line>,
    pub boxes: Vec<BoxMark>,
    /// Scattered points.
    pub dots: Vec<(f64, f64)>,
    /// Places and heights of bars from zero.
    pub bars: Vec<(f64, f64)>,
    /// Strips between two lines, the widest first.
    pub intervals: Vec<Interval>,
    /// Half the width of a band around zero.
    pub band: Option<f64>,
    /// Values that are pointed out.
    pub marks: Vec<Mark>,
    /// Shaded cells in place of axes.
    pub heat: Option<Heat>,
}

/// Shares between zero and one in rows and columns.
#[derive(Debug, Clone)]
pub struct Heat {
    pub rows: Vec<String>,
    pub columns: Vec<String>,
    /// Row by row.
    pub shares: Vec<Vec<Option<f64>>>,
}

/// A strip that holds what may be.
#[derive(Debug, Clone)]
pub struct Interval {
    pub name: String,
    /// Place, lower end, upper end, in order of places.
    pub ends: Vec<(f64, f64, f64)>,
}

/// A value that is pointed out.
#[derive(Debug, Clone)]
pub struct Mark {
    pub at: f64,
    pub value: f64,
    pub name: String,
    /// Filled, or an outline only.
    pub filled: bool,
}

/// What the bottom axis shows.
#[derive(Debug, Clone)]
pub enum Along {
    /// Place t is the middle of period t.
    Periods(Vec<Period>),
    /// Place k is the left edge of the strip of name k.
    Strips(Vec<String>),
    /// Place k is name k.
    Points(Vec<String>),
    /// Places are values between these two.
    Values(f64, f64),
}

impl Default for Along {
    fn default() -> Self {
        Self::Points(Vec::new())
    }
}

/// A line, in pieces where it has gaps.
#[derive(Debug, Clone)]
pub struct Line {
    pub name: String,
    pub ink: Ink,
    pub pieces: Vec<Vec<(f64, f64)>>,
}

/// What a line's colour says.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Ink {
    /// Which series it is.
    Series(usize),
    /// How new it is, from 0 to 1.
    Age(f64),
    /// A mean.
    Mean,
}

/// A box with whiskers.
#[derive(Debug, Clone)]
pub struct BoxMark {
    pub at: f64,
    pub name: String,
    /// Lower whisker, lower quartile, median, upper quartile, upper whisker.
    pub values: [f64; 5],
    /// Values beyond the whiskers and their periods.
    pub beyond: Vec<(f64, String)>,
}

impl Line {
    /// A line through the known ones of evenly spaced values.
    pub fn with_gaps(name: &str, ink: Ink, points: impl Iterator<Item = Option<(f64, f64)>>) -> Self {
        let mut pieces = vec![Vec::new()];
        for point in points {
            match (point, pieces.last_mut()) {
                (Some(point), Some(piece)) => piece.push(point),
                (None, Some(piece)) if !piece.is_empty() => pieces.push(Vec::new()),
                _ => {}
            }
        }
        pieces.retain(|piece| !piece.is_empty());
        Self { name: name.to_owned(), ink, pieces }
    }

    /// All its points.
    pub fn points(&self) -> impl Iterator<Item = (f64, f64)> {
        self.pieces.iter().flatten().copied()
    }
}

impl Plot {
    /// With the first line of each panel only, as a terminal shows one line at a time.
    #[must_use]
    pub fn of_first_lines(mut self) -> Self {
        self.panels.iter_mut().for_each(|panel| panel.lines.truncate(1));
        self
    }
}

impl Panel {
    /// The lowest and highest value in it.
    pub fn reach(&self) -> (f64, f64) {
        let lines = self.lines.iter().flat_map(Line::points).map(|(_, value)| value);
        let boxes = self
            .boxes
            .iter()
            .flat_map(|mark| mark.values.into_iter().chain(mark.beyond.iter().map(|(value, _)| *value)));
        let dots = self.dots.iter().map(|(_, value)| *value);
        let bars = self.bars.iter().flat_map(|(_, height)| [0.0, *height]);
        let band = self.band.iter().flat_map(|band| [-band, *band]);
        let strips =
            self.intervals.iter().flat_map(|one| one.ends.iter().flat_map(|(_, low, high)| [*low, *high]));
        let ends = (f64::INFINITY, f64::NEG_INFINITY);
        lines
            .chain(strips)
            .chain(boxes)
            .chain(bars)
            .chain(dots)
            .chain(self.marks.iter().map(|mark| mark.value))
            .chain(band)
            .fold(ends, |(low, high), value| (low.min(value), high.max(value)))
    }

    /// The places from the left end to the right end.
    pub fn extent(&self) -> (f64, f64) {
        match &self.along {
            Along::Periods(periods) => (0.0, periods.len().saturating_sub(1).max(1) as f64),
            Along::Strips(names) => (0.0, names.len() as f64),
            Along::Points(names) => (0.0, names.len().saturating_sub(1).max(1) as f64),
            Along::Values(low, high) => (*low, *high),
        }
    }
}
