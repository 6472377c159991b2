//! Figures: one drawing, written as SVG, put on a page or turned into PNG.
//!
//! A figure is composed of shapes in a [`canvas::Drawing`]; letters are drawn
//! as outlines of a font that the program carries, so that a figure looks the
//! same everywhere and needs no fonts of the system.

pub(crate) mod acf;
mod axis;
mod canvas;
pub(crate) mod cross;
mod font;
mod label;
mod lags;
pub(crate) mod matrix;
mod page;
mod panel;
pub(crate) mod plot;
mod png;
mod readout;
pub(crate) mod residuals;
pub(crate) mod stationarity;
mod svg;
mod theme;

use std::path::Path;

use crate::error::CliError;
pub(crate) use canvas::Drawing;
pub(crate) use page::Page;
pub(crate) use panel::Sheet;

/// The form of a figure's file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Form {
    Svg,
    Png,
    /// A page whose figure answers to the pointer.
    Html,
}

impl Form {
    /// The ending of its files.
    pub fn ending(self) -> &'static str {
        match self {
            Self::Svg => "svg",
            Self::Png => "png",
            Self::Html => "html",
        }
    }

    /// By the file's ending.
    pub fn of_path(path: &Path) -> Result<Self, CliError> {
        let ending = path.extension().map(|ending| ending.to_string_lossy().to_lowercase());
        match ending.as_deref() {
            Some("svg") => Ok(Self::Svg),
            Some("png") => Ok(Self::Png),
            Some("html" | "htm") => Ok(Self::Html),
            _ => Err(CliError::call(format!(
                "--figure {}: the ending is none of .svg, .png and .html",
                path.display()
            ))
            .advise("name a file that ends in .svg, .png or .html")),
        }
    }

    /// The file's contents.
    pub fn draw(self, drawing: &Drawing) -> Result<Vec<u8>, CliError> {
        match self {
            Self::Svg => Ok(svg::write(drawing).into_bytes()),
            Self::Png => png::render(&svg::write(drawing)),
            Self::Html => {
                let mut page = Page::default();
                page.figure(drawing);
                Ok(page.finish(&svg::escape(&drawing.title), "").into_bytes())
            }
        }
    }
}

#[cfg(test)]
mod tests;
