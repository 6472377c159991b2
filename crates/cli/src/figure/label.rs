//! Where the name of a mark covers the fewest lines.

use super::axis::Scale;
use crate::document::Line;

/// Height of a name.
const HEIGHT: f64 = 16.0;
/// How far a name may reach beyond the last period.
const BEYOND: f64 = 12.0;
/// Between a mark and its name.
const AWAY: f64 = 9.0;

/// A rectangle on the sheet.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Room {
    pub left: f64,
    pub top: f64,
    pub right: f64,
    pub bottom: f64,
}

/// Of the places right, left, above and below a mark the one that the fewest pieces of line cross, inside the panel.
pub fn free_box((x, y): (f64, f64), wide: f64, lines: &[Line], along: Scale, up: Scale) -> Room {
    let at = |left: f64, top: f64| Room { left, top, right: left + wide, bottom: top + HEIGHT };
    let (middle, half) = (y - 0.5 * HEIGHT, 0.5 * wide);
    let places = [
        at(x + AWAY, middle),
        at(x - AWAY - wide, middle),
        at(x - half, y - AWAY - HEIGHT),
        at(x - half, y + AWAY),
    ];
    let ends = |scale: Scale| {
        let (a, b) = (scale.at(scale.low), scale.at(scale.high));
        (a.min(b), a.max(b))
    };
    let ((left, right), (top, bottom)) = (ends(along), ends(up));
    let is_inside = |room: &&Room| {
        room.left >= left - 1.0 && room.right <= right + BEYOND && room.top >= top && room.bottom <= bottom
    };
    let crossed = |room: &&Room| crossings(**room, lines, along, up);
    // Of equals the first: to the right of the mark.
    let beside = if places[0].right <= right + BEYOND { places[0] } else { places[1] };
    places.iter().filter(is_inside).min_by_key(crossed).copied().unwrap_or(beside)
}

/// How many pieces of line go through a rectangle.
fn crossings(room: Room, lines: &[Line], along: Scale, up: Scale) -> usize {
    let placed = |(x, y): &(f64, f64)| (along.at(*x), up.at(*y));
    let of_piece = |piece: &Vec<(f64, f64)>| {
        let from = piece.partition_point(|point| placed(point).0 < room.left).saturating_sub(1);
        piece
            .get(from..)
            .unwrap_or_default()
            .windows(2)
            .map(|pair| (placed(&pair[0]), placed(&pair[1])))
            .take_while(|(start, _)| start.0 <= room.right)
            .filter(|(start, end)| goes_through(*start, *end, room))
            .count()
    };
    lines.iter().flat_map(|line| &line.pieces).map(of_piece).sum()
}

/// Whether a straight piece has a point inside a rectangle.
fn goes_through(start: (f64, f64), end: (f64, f64), room: Room) -> bool {
    let width = end.0 - start.0;
    let at = |x: f64| if width > 0.0 { start.1 + (end.1 - start.1) * (x - start.0) / width } else { start.1 };
    let (from, to) = (start.0.max(room.left), end.0.min(room.right));
    if from > to {
        return false;
    }
    let (a, b) = if width > 0.0 { (at(from), at(to)) } else { (start.1, end.1) };
    a.max(b) >= room.top && a.min(b) <= room.bottom
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::document::Ink;

    const ALONG: Scale = Scale { low: 0.0, high: 100.0, at_low: 0.0, at_high: 1000.0 };
    const UP: Scale = Scale { low: 0.0, high: 100.0, at_low: 500.0, at_high: 0.0 };

    fn line(points: &[(f64, f64)]) -> Line {
        Line::with_gaps("x", Ink::Series(0), points.iter().map(|point| Some(*point)))
    }

    fn near(a: f64, b: f64) -> bool {
        (a - b).abs() < 1e-9
    }

    #[test]
    fn a_name_is_right_of_its_mark_where_nothing_is_there() {
        let room = free_box((500.0, 250.0), 60.0, &[], ALONG, UP);
        assert!(near(room.left, 509.0) && near(room.top, 242.0), "{room:?}");
    }

    #[test]
    fn a_name_leaves_the_line_that_it_belongs_to() {
        // A level line to the right of the mark: the name goes left of it.
        let level = line(&[(50.0, 50.0), (100.0, 50.0)]);
        assert!(near(free_box((500.0, 250.0), 60.0, &[level], ALONG, UP).right, 491.0));
        // A level line through it: above; a steep spike from below, then beside it.
        let through = line(&[(0.0, 50.0), (50.0, 50.0), (100.0, 50.0)]);
        assert!(near(free_box((500.0, 250.0), 60.0, &[through], ALONG, UP).bottom, 241.0));
        let spike = line(&[(45.0, 0.0), (50.0, 50.0), (55.0, 0.0)]);
        let room = free_box((500.0, 250.0), 60.0, &[spike], ALONG, UP);
        assert!(room.bottom <= 241.0 || room.left >= 509.0, "{room:?}");
    }

    #[test]
    fn a_name_stays_on_its_panel() {
        let room = free_box((995.0, 2.0), 60.0, &[], ALONG, UP);
        assert!(room.right <= 1012.0, "{room:?}");
    }
}
