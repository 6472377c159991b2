//! Outlines and widths of the letters of the font that the program carries.

use std::fmt::Write as _;
use std::sync::OnceLock;

use ttf_parser::{Face, GlyphId, OutlineBuilder};

/// One weight of the font.
pub struct Font {
    face: Option<Face<'static>>,
}

/// The regular or the bold weight.
pub fn font(bold: bool) -> &'static Font {
    static REGULAR: OnceLock<Font> = OnceLock::new();
    static BOLD: OnceLock<Font> = OnceLock::new();
    let load = |bytes: &'static [u8]| Font { face: Face::parse(bytes, 0).ok() };
    if bold {
        BOLD.get_or_init(|| load(dejavu::sans::bold()))
    } else {
        REGULAR.get_or_init(|| load(dejavu::sans::regular()))
    }
}

impl Font {
    /// Units of the outlines per size of the letters.
    pub fn units(&self) -> f64 {
        self.face.as_ref().map_or(1.0, |face| f64::from(face.units_per_em()))
    }

    /// The letters of a text, each with its advance in units. A character the
    /// font lacks shows as its empty box.
    pub fn glyphs(&self, text: &str) -> Vec<(GlyphId, f64)> {
        let Some(face) = &self.face else {
            return Vec::new();
        };
        let glyph = |c| face.glyph_index(c).unwrap_or(GlyphId(0));
        text.chars().map(glyph).map(|id| (id, f64::from(face.glyph_hor_advance(id).unwrap_or(0)))).collect()
    }

    /// Width of a text.
    pub fn width(&self, text: &str, size: f64) -> f64 {
        self.glyphs(text).iter().map(|(_, advance)| advance).sum::<f64>() * size / self.units()
    }

    /// The outline of a letter as an SVG path in units, y upwards.
    pub fn outline(&self, id: GlyphId) -> String {
        let mut path = Path(String::new());
        if let Some(face) = &self.face {
            face.outline_glyph(id, &mut path);
        }
        path.0
    }
}

struct Path(String);

// Writing to a string cannot fail.
impl OutlineBuilder for Path {
    fn move_to(&mut self, x: f32, y: f32) {
        let _ = write!(self.0, "M{x} {y}");
    }

    fn line_to(&mut self, x: f32, y: f32) {
        let _ = write!(self.0, "L{x} {y}");
    }

    fn quad_to(&mut self, x1: f32, y1: f32, x: f32, y: f32) {
        let _ = write!(self.0, "Q{x1} {y1} {x} {y}");
    }

    fn curve_to(&mut self, x1: f32, y1: f32, x2: f32, y2: f32, x: f32, y: f32) {
        let _ = write!(self.0, "C{x1} {y1} {x2} {y2} {x} {y}");
    }

    fn close(&mut self) {
        self.0.push('Z');
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_font_knows_the_letters_that_figures_need() {
        for bold in [false, true] {
            for (letter, (id, advance)) in "ΔλφηAz09²−%±ä".chars().zip(font(bold).glyphs("ΔλφηAz09²−%±ä"))
            {
                assert!(id.0 != 0 && advance > 0.0, "{letter}");
            }
        }
        assert!(font(true).width("freight", 10.0) > font(false).width("freight", 10.0));
    }
}
