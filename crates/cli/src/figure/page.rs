//! A web page with figures and tables that answer to the pointer: it needs no other file and asks for none.

use std::fmt::Write as _;

use super::canvas::Drawing;
use super::svg::{self, Letters};
use super::theme;

const STYLE: &str = include_str!("page/page.css");
const FIGURES: &str = include_str!("page/figure.js");
const TABLES: &str = include_str!("page/table.js");

/// Nothing may be fetched, whatever a name in the data says.
const POLICY: &str = "default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'; \
    base-uri 'none'; form-action 'none'";

/// A page under way.
#[derive(Default)]
pub struct Page {
    body: String,
    /// Those of all its figures, defined once.
    letters: Letters,
}

impl Page {
    /// Adds a piece of HTML.
    pub fn add(&mut self, html: &str) {
        self.body.push_str(html);
    }

    /// Adds a figure.
    pub fn figure(&mut self, drawing: &Drawing) {
        let svg = svg::write_on_page(drawing, &mut self.letters);
        // Writing to a string cannot fail, here and below.
        let _ = write!(self.body, "<figure>\n{svg}</figure>\n");
    }

    /// The whole page: its title (escaped), and styles beside those of figures and tables.
    pub fn finish(self, title: &str, style: &str) -> String {
        let letters = svg::definitions(&self.letters);
        format!(
            "<!doctype html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n\
             <meta http-equiv=\"Content-Security-Policy\" content=\"{POLICY}\">\n\
             <meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n<title>{title}</title>\n\
             <style>\n{STYLE}{style}{}</style>\n</head>\n<body>\n\
             <svg width=\"0\" height=\"0\" style=\"position: absolute\" aria-hidden=\"true\"><defs>\n{letters}</defs></svg>\n\
             {}<script>\n{FIGURES}</script>\n<script>\n{TABLES}</script>\n</body>\n</html>\n",
            dark(),
            self.body
        )
    }
}

/// The palette of figures for readers who prefer a dark page.
fn dark() -> String {
    let mut out = String::from("@media screen and (prefers-color-scheme: dark) {\n");
    for (light, dark) in theme::DARK {
        for what in ["fill", "stroke"] {
            let _ = writeln!(out, "  figure [{what}=\"{light}\"] {{ {what}: {dark}; }}");
        }
    }
    out.push_str("}\n");
    out
}
