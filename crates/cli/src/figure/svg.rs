//! A drawing as an SVG document.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use super::canvas::{Anchor, Drawing, Shape, Text};
use super::font::font;
use super::theme;
use crate::visible::visible;

/// Writes the document. Letters are outlines, defined once each.
pub fn write(drawing: &Drawing) -> String {
    let mut letters = BTreeMap::new();
    let mut body = String::new();
    for shape in drawing.shapes() {
        add_shape(&mut body, shape, &mut letters);
    }
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{w}\" height=\"{h}\" viewBox=\"0 0 {w} {h}\" role=\"img\">\n\
         <title>{}</title>\n<desc>{}</desc>\n<defs>\n",
        escape(&drawing.title),
        escape(&drawing.description),
        w = drawing.width,
        h = drawing.height,
    );
    for (name, path) in letters {
        // Writing to a string cannot fail, here and below.
        let _ = writeln!(out, "<path id=\"{name}\" d=\"{path}\"/>");
    }
    let _ = writeln!(out, "</defs>\n<rect width=\"100%\" height=\"100%\" fill=\"{}\"/>", theme::PAPER);
    out.push_str(&body);
    out.push_str("</svg>\n");
    out
}

fn add_shape(out: &mut String, shape: &Shape, letters: &mut BTreeMap<String, String>) {
    let _ = match shape {
        Shape::Rect { x, y, width, height, fill, stroke } => {
            let edge =
                stroke.map(|color| format!(" stroke=\"{color}\" stroke-width=\"1.2\"")).unwrap_or_default();
            writeln!(
                out,
                "<rect x=\"{x:.2}\" y=\"{y:.2}\" width=\"{width:.2}\" height=\"{height:.2}\" fill=\"{fill}\"{edge}/>"
            )
        }
        Shape::Line { from, to, stroke, width } => writeln!(
            out,
            "<line x1=\"{:.2}\" y1=\"{:.2}\" x2=\"{:.2}\" y2=\"{:.2}\" stroke=\"{stroke}\" stroke-width=\"{width}\"/>",
            from.0, from.1, to.0, to.1
        ),
        Shape::Polyline { points, stroke, width } => {
            let places: Vec<String> = points.iter().map(|(x, y)| format!("{x:.2},{y:.2}")).collect();
            writeln!(
                out,
                "<polyline points=\"{}\" fill=\"none\" stroke=\"{stroke}\" stroke-width=\"{width}\" \
                 stroke-linejoin=\"round\"/>",
                places.join(" ")
            )
        }
        Shape::Polygon { points, fill } => {
            let corner = |(x, y): &(f64, f64)| format!("{x:.2},{y:.2}");
            let corners: Vec<String> = points.iter().map(corner).collect();
            writeln!(out, "<polygon points=\"{}\" fill=\"{fill}\"/>", corners.join(" "))
        }
        Shape::Text(text) => {
            add_text(out, text, letters);
            Ok(())
        }
        Shape::Titled { title, shapes } => {
            let _ = write!(out, "<g><title>{}</title>", escape(title));
            for shape in shapes {
                add_shape(out, shape, letters);
            }
            writeln!(out, "</g>")
        }
    };
}

fn add_text(out: &mut String, text: &Text, letters: &mut BTreeMap<String, String>) {
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

fn escape(text: &str) -> String {
    visible(text).replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}
