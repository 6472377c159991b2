//! An SVG document as a PNG picture.

use resvg::tiny_skia::{Pixmap, Transform};
use resvg::usvg::{Options, Tree};

use crate::error::CliError;

/// Renders the document at its own size.
pub fn render(svg: &str) -> Result<Vec<u8>, CliError> {
    let failed = |reason: String| CliError::computation(format!("the figure cannot be drawn: {reason}"));
    let tree = Tree::from_str(svg, &Options::default()).map_err(|e| failed(e.to_string()))?;
    let size = tree.size().to_int_size();
    let mut picture =
        Pixmap::new(size.width(), size.height()).ok_or_else(|| failed("no room for it".to_owned()))?;
    resvg::render(&tree, Transform::identity(), &mut picture.as_mut());
    picture.encode_png().map_err(|e| failed(e.to_string()))
}
