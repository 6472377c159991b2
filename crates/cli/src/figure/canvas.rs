//! Shapes on a sheet.

use super::readout::Readout;

/// A sheet with its shapes, in the order they are drawn.
#[derive(Debug, Clone)]
pub struct Drawing {
    pub width: f64,
    pub height: f64,
    /// Said to readers who cannot see it.
    pub title: String,
    pub description: String,
    /// Added one by one, so that each has a place.
    shapes: Vec<Shape>,
    /// What a pointer reads off its panels, which are numbered in this order.
    readouts: Vec<Readout>,
}

/// One shape.
#[derive(Debug, Clone)]
pub enum Shape {
    Rect {
        x: f64,
        y: f64,
        width: f64,
        height: f64,
        fill: &'static str,
        stroke: Option<&'static str>,
    },
    Line {
        from: (f64, f64),
        to: (f64, f64),
        stroke: &'static str,
        width: f64,
    },
    Polyline {
        points: Vec<(f64, f64)>,
        stroke: &'static str,
        width: f64,
    },
    /// A filled area within these corners.
    Polygon {
        points: Vec<(f64, f64)>,
        fill: &'static str,
    },
    /// A square about a point, as large however far it is zoomed.
    Dot {
        at: (f64, f64),
        size: f64,
        fill: &'static str,
        stroke: Option<&'static str>,
    },
    Text(Text),
    /// Shapes that share a title shown on hovering.
    Titled {
        title: String,
        shapes: Vec<Shape>,
    },
    /// Shapes with a part to play on a page that answers to the pointer; elsewhere they are drawn as they are.
    Part {
        part: Part,
        shapes: Vec<Shape>,
    },
}

/// What shapes are on a page that answers to the pointer.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Part {
    /// The axes of a panel, which are drawn again when it is zoomed.
    Axes(usize),
    /// What lies in a panel, and moves when it is zoomed.
    Inside(usize),
    /// A series, which can be switched off.
    Series(String),
    /// Its name in the key, which switches it.
    Key(String),
}

/// A line of text.
#[derive(Debug, Clone)]
pub struct Text {
    pub at: (f64, f64),
    pub words: String,
    pub size: f64,
    pub bold: bool,
    pub fill: &'static str,
    pub anchor: Anchor,
}

/// Which part of a text is at its point.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Anchor {
    Start,
    Middle,
    End,
}

impl Shape {
    /// Whether all its places are numbers.
    fn lies_somewhere(&self) -> bool {
        let is_place = |(x, y): &(f64, f64)| x.is_finite() && y.is_finite();
        match self {
            Self::Rect { x, y, width, height, .. } => is_place(&(*x, *y)) && is_place(&(*width, *height)),
            Self::Line { from, to, .. } => is_place(from) && is_place(to),
            Self::Polyline { points, .. } | Self::Polygon { points, .. } => points.iter().all(is_place),
            Self::Text(text) => is_place(&text.at),
            Self::Dot { at, size, .. } => is_place(at) && size.is_finite(),
            Self::Titled { shapes, .. } | Self::Part { shapes, .. } => {
                shapes.iter().all(Self::lies_somewhere)
            }
        }
    }
}

impl Drawing {
    /// An empty sheet.
    pub fn new(width: f64, height: f64, title: &str, description: &str) -> Self {
        Self {
            width,
            height,
            title: title.to_owned(),
            description: description.to_owned(),
            shapes: Vec::new(),
            readouts: Vec::new(),
        }
    }

    /// The number that the next panel gets.
    pub fn next_panel(&self) -> usize {
        self.readouts.len()
    }

    /// Adds what a pointer reads off the next panel.
    pub fn read_off(&mut self, readout: Readout) {
        self.readouts.push(readout);
    }

    /// What a pointer reads off its panels.
    pub fn readouts(&self) -> &[Readout] {
        &self.readouts
    }

    /// That of the panel that was added last.
    pub fn last_readout(&mut self) -> Option<&mut Readout> {
        self.readouts.last_mut()
    }

    /// Adds what a function draws as one part of a page that answers to the pointer.
    pub fn part(&mut self, part: Part, draw: impl FnOnce(&mut Self)) {
        let before = self.shapes.len();
        draw(self);
        let shapes = self.shapes.split_off(before);
        if !shapes.is_empty() {
            self.shapes.push(Shape::Part { part, shapes });
        }
    }

    /// Adds a shape, unless it lies nowhere: a place that is no number would spoil the whole sheet.
    pub fn add(&mut self, shape: Shape) {
        if shape.lies_somewhere() {
            self.shapes.push(shape);
        }
    }

    /// Its shapes in the order they are drawn.
    pub fn shapes(&self) -> &[Shape] {
        &self.shapes
    }

    /// Adds a straight line.
    pub fn line(&mut self, from: (f64, f64), to: (f64, f64), stroke: &'static str, width: f64) {
        self.add(Shape::Line { from, to, stroke, width });
    }

    /// Adds a line of plain text.
    pub fn text(&mut self, at: (f64, f64), text: &str, size: f64, fill: &'static str, anchor: Anchor) {
        self.add(Shape::Text(Text { at, words: text.to_owned(), size, bold: false, fill, anchor }));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_shape_that_lies_nowhere_is_left_out() {
        let mut drawing = Drawing::new(10.0, 10.0, "a", "b");
        drawing.line((0.0, f64::NAN), (1.0, 1.0), "black", 1.0);
        drawing.text((f64::INFINITY, 1.0), "a", 12.0, "black", Anchor::Start);
        let inside =
            Shape::Polyline { points: vec![(0.0, 1.0), (f64::NAN, 2.0)], stroke: "black", width: 1.0 };
        drawing.add(Shape::Titled { title: "t".to_owned(), shapes: vec![inside] });
        assert!(drawing.shapes().is_empty());
        drawing.line((0.0, 0.0), (1.0, 1.0), "black", 1.0);
        assert_eq!(drawing.shapes().len(), 1);
    }
}
