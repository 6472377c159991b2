//! Figures: one drawing, written as SVG or turned into PNG.
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
mod panel;
pub(crate) mod plot;
mod png;
pub(crate) mod residuals;
pub(crate) mod stationarity;
mod svg;
mod theme;

use std::path::Path;

use crate::error::CliError;
pub(crate) use canvas::Drawing;
pub(crate) use panel::Sheet;

/// The form of a figure's file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Form {
    Svg,
    Png,
}

/// A drawing as SVG.
pub fn svg(drawing: &Drawing) -> String {
    svg::write(drawing)
}

impl Form {
    /// By the file's ending.
    pub fn of_path(path: &Path) -> Result<Self, CliError> {
        let ending = path.extension().map(|ending| ending.to_string_lossy().to_lowercase());
        match ending.as_deref() {
            Some("svg") => Ok(Self::Svg),
            Some("png") => Ok(Self::Png),
            _ => Err(CliError::call(format!(
                "--figure {}: the ending is neither .svg nor .png",
                path.display()
            ))
            .advise("name a file that ends in .svg or .png")),
        }
    }

    /// The file's contents.
    pub fn draw(self, drawing: &Drawing) -> Result<Vec<u8>, CliError> {
        let text = svg::write(drawing);
        match self {
            Self::Svg => Ok(text.into_bytes()),
            Self::Png => png::render(&text),
        }
    }
}

#[cfg(test)]
mod tests;
