//! Rows of cells as text, in one buffer: a million rows cost little more than
//! their letters. Where a file's own bytes can serve as that buffer, they do.

use std::sync::Arc;

/// Rows of cells.
#[derive(Debug, Default)]
pub struct Grid {
    bytes: Arc<Vec<u8>>,
    /// Bytes between one cell and the next: a delimiter, or none.
    between: usize,
    /// Where each cell ends, counted from the start of its row.
    ends: Vec<u32>,
    rows: Vec<Place>,
}

/// Where a row's text and cells begin.
#[derive(Debug, Clone, Copy)]
struct Place {
    text: usize,
    cells: usize,
    line: u32,
    width: u32,
}

/// One row and the line (or the row of the sheet) it begins on.
#[derive(Debug, Clone, Copy)]
pub struct Row<'a> {
    pub line: u64,
    text: &'a [u8],
    ends: &'a [u32],
    between: usize,
}

impl Grid {
    /// An empty grid with room for that number of bytes of text.
    pub fn with_room(bytes: usize) -> Self {
        Self { bytes: Arc::new(Vec::with_capacity(bytes)), ..Self::default() }
    }

    /// Lines of valid UTF-8 from a byte on, cut at every delimiter, without a copy; that many cells at most.
    pub fn of_lines(bytes: Arc<Vec<u8>>, start: usize, delimiter: u8, cells: usize) -> Self {
        let mut grid = Self { between: 1, ends: Vec::with_capacity(cells), ..Self::default() };
        let body = bytes.get(start..).unwrap_or_default();
        let (mut line, mut from, mut first) = (1, 0, 0);
        for at in memchr::memchr2_iter(delimiter, b'\n', body).chain([body.len()]) {
            let ends_line = body.get(at) != Some(&delimiter);
            let end = if ends_line && at > from && body.get(at - 1) == Some(&b'\r') { at - 1 } else { at };
            grid.ends.push(u32::try_from(end - from).unwrap_or(u32::MAX));
            if !ends_line {
                continue;
            }
            let text = body.get(from..end).unwrap_or_default();
            if text.iter().all(|byte| *byte == delimiter || byte.is_ascii_whitespace()) {
                grid.ends.truncate(first);
            } else {
                let width = u32::try_from(grid.ends.len() - first).unwrap_or(u32::MAX);
                grid.rows.push(Place { text: start + from, cells: first, line, width });
                first = grid.ends.len();
            }
            line = line.saturating_add(1);
            from = at + 1;
        }
        grid.bytes = bytes;
        grid
    }

    /// Adds a row, unless every cell is empty.
    pub fn push<'a>(&mut self, line: u64, cells: impl Iterator<Item = &'a str>) {
        let Some(bytes) = Arc::get_mut(&mut self.bytes) else {
            // Rows of a file's own bytes are never added to.
            return;
        };
        let (text, first) = (bytes.len(), self.ends.len());
        for cell in cells {
            bytes.extend_from_slice(cell.as_bytes());
            self.ends.push(u32::try_from(bytes.len() - text).unwrap_or(u32::MAX));
        }
        if bytes.len() == text {
            self.ends.truncate(first);
            return;
        }
        let width = u32::try_from(self.ends.len() - first).unwrap_or(u32::MAX);
        let line = u32::try_from(line).unwrap_or(u32::MAX);
        self.rows.push(Place { text, cells: first, line, width });
    }

    /// Number of rows.
    pub fn len(&self) -> usize {
        self.rows.len()
    }

    /// Whether there are no rows.
    pub fn is_empty(&self) -> bool {
        self.rows.is_empty()
    }

    /// A row by its place, from 0.
    pub fn row(&self, place: usize) -> Option<Row<'_>> {
        self.rows.get(place).map(|at| self.at(*at))
    }

    /// All rows in order.
    pub fn rows(&self) -> impl Iterator<Item = Row<'_>> + Clone {
        self.rows.iter().map(|at| self.at(*at))
    }

    /// Leaves out the first rows.
    pub fn pass_over(&mut self, count: usize) {
        self.rows.drain(..count.min(self.rows.len()));
    }

    /// Leaves out the last rows.
    pub fn drop_last(&mut self, count: usize) {
        self.rows.truncate(self.rows.len().saturating_sub(count));
    }

    fn at(&self, at: Place) -> Row<'_> {
        let width = usize::try_from(at.width).unwrap_or(0);
        let ends = self.ends.get(at.cells..at.cells + width).unwrap_or_default();
        let text = self.bytes.get(at.text..).unwrap_or_default();
        Row { line: u64::from(at.line), text, ends, between: self.between }
    }
}

impl<'a> Row<'a> {
    /// Number of cells.
    pub fn len(&self) -> usize {
        self.ends.len()
    }

    /// A cell by its place, from 0, without blanks around it; empty beyond the last.
    pub fn cell(&self, place: usize) -> &'a str {
        let end = |place: usize| self.ends.get(place).and_then(|end| usize::try_from(*end).ok());
        let start = place.checked_sub(1).map_or(Some(0), |before| Some(end(before)? + self.between));
        let bytes = start.zip(end(place)).and_then(|(start, end)| self.text.get(start..end));
        // The whole text is valid, and so are pieces between its delimiters.
        bytes.and_then(|bytes| std::str::from_utf8(bytes).ok()).unwrap_or("").trim()
    }

    /// All cells in order.
    pub fn cells(&self) -> impl Iterator<Item = &'a str> + use<'a> {
        let row = *self;
        (0..row.len()).map(move |place| row.cell(place))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn cells_come_back_as_they_went_in_and_blank_rows_do_not() {
        let mut grid = Grid::default();
        grid.push(1, ["a", "", "ç"].into_iter());
        grid.push(2, ["", ""].into_iter());
        grid.push(3, ["d"].into_iter());
        let rows: Vec<(u64, Vec<&str>)> = grid.rows().map(|row| (row.line, row.cells().collect())).collect();
        assert_eq!(rows, [(1, vec!["a", "", "ç"]), (3, vec!["d"])]);
        assert_eq!(grid.row(0).map(|row| (row.cell(2), row.cell(3))), Some(("ç", "")));
        grid.pass_over(1);
        assert_eq!((grid.len(), grid.row(0).map(|row| row.line)), (1, Some(3)));
    }

    #[test]
    fn lines_are_cut_where_they_lie() {
        let bytes = Arc::new("xxa;ü ;\r\n;;\r\n \n\n1;2;3\n4".as_bytes().to_vec());
        let grid = Grid::of_lines(bytes, 2, b';', 12);
        let rows: Vec<(u64, Vec<&str>)> = grid.rows().map(|row| (row.line, row.cells().collect())).collect();
        assert_eq!(rows, [(1, vec!["a", "ü", ""]), (5, vec!["1", "2", "3"]), (6, vec!["4"])]);
        assert!(Grid::of_lines(Arc::new(Vec::new()), 0, b',', 1).is_empty());
    }
}
