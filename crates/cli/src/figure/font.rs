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

/// Words, or as much of them as has room.
pub fn shortened(words: &str, room: f64, size: f64, bold: bool) -> String {
    if font(bold).width(words, size) <= room {
        return words.to_owned();
    }
    // Names in files may be very long, and widths increase with the letters.
    let ends: Vec<usize> = words.char_indices().map(|(end, _)| end).collect();
    let with_mark = |end: &usize| format!("{}…", &words[..*end]);
    let fitting = ends.partition_point(|end| font(bold).width(&with_mark(end), size) <= room);
    fitting.checked_sub(1).and_then(|last| ends.get(last)).map(with_mark).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_shortened_to_the_room_there_is() {
        let width = |words: &str| font(false).width(words, 13.0);
        for room in [0.0, 5.0, 20.0, 40.0, 90.0, 400.0] {
            let kept = shortened("a break after 2008-09", room, 13.0, false);
            assert!(width(&kept) <= room, "{kept:?} in {room}");
            assert_eq!(kept.contains('…'), room < 120.0 && !kept.is_empty(), "{kept:?} in {room}");
        }
        assert_eq!(shortened("äöü", width("ä…") + 0.1, 13.0, false), "ä…");
    }

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
