//! A drawing as an SVG document.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use super::canvas::{Anchor, Drawing, Part, Shape, Text};
use super::font::font;
use super::{readout, theme};
use crate::visible::visible;

/// Outlines of letters by their names.
pub type Letters = BTreeMap<String, String>;

/// Writes the document. Letters are outlines, defined once each.
pub fn write(drawing: &Drawing) -> String {
    let mut letters = Letters::new();
    let mut body = String::new();
    for shape in drawing.shapes() {
        add_shape(&mut body, shape, &mut letters, false);
    }
    let mut out = String::from("<svg xmlns=\"http://www.w3.org/2000/svg\" ");
    add_head(&mut out, drawing);
    let _ = writeln!(out, "<defs>\n{}</defs>", definitions(&letters));
    add_paper(&mut out);
    out.push_str(&body);
    out.push_str("</svg>\n");
    out
}

/// Writes the drawing for a page, which defines the letters and whose script knows the parts of a figure.
pub fn write_on_page(drawing: &Drawing, letters: &mut Letters) -> String {
    let data = readout::json(drawing.readouts());
    let quoted = data.replace('&', "&amp;").replace('<', "&lt;").replace('\'', "&#39;");
    let mut out = format!("<svg data-figure='{quoted}' ");
    add_head(&mut out, drawing);
    add_paper(&mut out);
    for shape in drawing.shapes() {
        add_shape(&mut out, shape, letters, true);
    }
    out.push_str("</svg>\n");
    out
}

/// The letters as a drawing can use them.
pub fn definitions(letters: &Letters) -> String {
    letters.iter().fold(String::new(), |mut out, (name, path)| {
        // Writing to a string cannot fail, here and below.
        let _ = writeln!(out, "<path id=\"{name}\" d=\"{path}\"/>");
        out
    })
}

fn add_head(out: &mut String, drawing: &Drawing) {
    let _ = write!(
        out,
        "width=\"{w}\" height=\"{h}\" viewBox=\"0 0 {w} {h}\" role=\"img\">\n<title>{}</title>\n<desc>{}</desc>\n",
        escape(&drawing.title),
        escape(&drawing.description),
        w = drawing.width,
        h = drawing.height,
    );
}

fn add_paper(out: &mut String) {
    let _ = writeln!(out, "<rect width=\"100%\" height=\"100%\" fill=\"{}\"/>", theme::PAPER);
}

fn add_shape(out: &mut String, shape: &Shape, letters: &mut Letters, on_page: bool) {
    let _ = match shape {
        Shape::Rect { x, y, width, height, fill, stroke } => {
            add_rect(out, "", [*x, *y, *width, *height], fill, *stroke);
            Ok(())
        }
        Shape::Dot { at, size, fill, stroke } => {
            let class = if on_page { "class=\"dot\" " } else { "" };
            let corner = (at.0 - 0.5 * size, at.1 - 0.5 * size);
            add_rect(out, class, [corner.0, corner.1, *size, *size], fill, *stroke);
            Ok(())
        }
        Shape::Line { from, to, stroke, width } => writeln!(
            out,
            "<line x1=\"{:.2}\" y1=\"{:.2}\" x2=\"{:.2}\" y2=\"{:.2}\" stroke=\"{stroke}\" stroke-width=\"{width}\"/>",
            from.0, from.1, to.0, to.1
        ),
        Shape::Polyline { points, stroke, width } => writeln!(
            out,
            "<polyline points=\"{}\" fill=\"none\" stroke=\"{stroke}\" stroke-width=\"{width}\" \
             stroke-linejoin=\"round\"/>",
            places(points)
        ),
        Shape::Polygon { points, fill } => {
            writeln!(out, "<polygon points=\"{}\" fill=\"{fill}\"/>", places(points))
        }
        Shape::Text(text) => {
            add_text(out, text, letters);
            Ok(())
        }
        Shape::Titled { title, shapes } => {
            let head = format!("<g><title>{}</title>", escape(title));
            add_group(out, &head, shapes, letters, on_page);
            Ok(())
        }
        Shape::Part { part, shapes } => {
            if on_page {
                add_group(out, &opening(part), shapes, letters, on_page);
            } else {
                for shape in shapes {
                    add_shape(out, shape, letters, on_page);
                }
            }
            Ok(())
        }
    };
}

fn add_group(out: &mut String, head: &str, shapes: &[Shape], letters: &mut Letters, on_page: bool) {
    out.push_str(head);
    for shape in shapes {
        add_shape(out, shape, letters, on_page);
    }
    out.push_str("</g>\n");
}

/// How the group of a part begins.
fn opening(part: &Part) -> String {
    match part {
        Part::Axes(panel) => format!("<g class=\"axes\" data-panel=\"{panel}\">\n"),
        Part::Inside(panel) => format!("<g class=\"inside\" data-panel=\"{panel}\">\n"),
        Part::Series(name) => format!("<g class=\"series\" data-name=\"{}\">\n", escape(name)),
        Part::Key(name) => format!("<g class=\"key\" data-name=\"{}\">\n", escape(name)),
    }
}

fn add_rect(
    out: &mut String,
    class: &str,
    [x, y, width, height]: [f64; 4],
    fill: &str,
    stroke: Option<&str>,
) {
    let edge = stroke.map(|color| format!(" stroke=\"{color}\" stroke-width=\"1.2\"")).unwrap_or_default();
    let _ = writeln!(
        out,
        "<rect {class}x=\"{x:.2}\" y=\"{y:.2}\" width=\"{width:.2}\" height=\"{height:.2}\" fill=\"{fill}\"{edge}/>"
    );
}

fn places(points: &[(f64, f64)]) -> String {
    let places: Vec<String> = points.iter().map(|(x, y)| format!("{x:.2},{y:.2}")).collect();
    places.join(" ")
}

fn add_text(out: &mut String, text: &Text, letters: &mut Letters) {
    let font = font(text.bold);
    let scale = text.size / font.units();
    let width = font.width(&text.words, text.size);
    let start = match text.anchor {
        Anchor::Start => text.at.0,
        Anchor::Middle => text.at.0 - 0.5 * width,
        Anchor::End => text.at.0 - width,
    };
    let _ = write!(
        out,
        "<g aria-label=\"{}\" fill=\"{}\" transform=\"translate({start:.2} {:.2}) scale({scale:.5} {:.5})\">",
        escape(&text.words),
        text.fill,
        text.at.1,
        -scale
    );
    let mut x = 0.0;
    for (id, advance) in font.glyphs(&text.words) {
        let name = format!("{}{}", if text.bold { 'b' } else { 'r' }, id.0);
        let path = letters.entry(name.clone()).or_insert_with(|| font.outline(id));
        if !path.is_empty() {
            let _ = write!(out, "<use href=\"#{name}\" x=\"{x}\"/>");
        }
        x += advance;
    }
    out.push_str("</g>\n");
    letters.retain(|_, path| !path.is_empty());
}

pub fn escape(text: &str) -> String {
    visible(text).replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}
