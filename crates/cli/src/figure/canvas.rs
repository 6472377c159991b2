//! Shapes on a sheet.

/// A sheet with its shapes, in the order they are drawn.
#[derive(Debug, Clone)]
pub struct Drawing {
    pub width: f64,
    pub height: f64,
    /// Said to readers who cannot see it.
    pub title: String,
    pub description: String,
    pub shapes: Vec<Shape>,
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
    Text(Text),
    /// Shapes that share a title shown on hovering.
    Titled {
        title: String,
        shapes: Vec<Shape>,
    },
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

impl Drawing {
    /// An empty sheet.
    pub fn new(width: f64, height: f64, title: &str, description: &str) -> Self {
        Self {
            width,
            height,
            title: title.to_owned(),
            description: description.to_owned(),
            shapes: Vec::new(),
        }
    }

    /// Adds a shape.
    pub fn add(&mut self, shape: Shape) {
        self.shapes.push(shape);
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
