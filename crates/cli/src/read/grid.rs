//! Rows of cells as text, in one buffer: a million rows cost little more than
//! their letters.

/// Rows of cells.
#[derive(Debug, Default)]
pub struct Grid {
    text: String,
    /// Where each cell ends, counted from the start of its row's text.
    ends: Vec<u32>,
    rows: Vec<Place>,
}

/// Where a row's text and cells begin.
#[derive(Debug, Clone, Copy)]
struct Place {
    line: u64,
    text: usize,
    cells: usize,
    width: u32,
}

/// One row and the line (or the row of the sheet) it begins on.
#[derive(Debug, Clone, Copy)]
pub struct Row<'a> {
    pub line: u64,
    text: &'a str,
    ends: &'a [u32],
}

impl Grid {
    /// An empty grid with room for so many bytes of text.
    pub fn with_room(bytes: usize) -> Self {
        Self { text: String::with_capacity(bytes), ..Self::default() }
    }

    /// Adds a row, unless every cell is empty.
    pub fn push<'a>(&mut self, line: u64, cells: impl Iterator<Item = &'a str>) {
        let (text, first) = (self.text.len(), self.ends.len());
        for cell in cells {
            self.text.push_str(cell);
            self.ends.push(u32::try_from(self.text.len() - text).unwrap_or(u32::MAX));
        }
        if self.text.len() == text {
            self.ends.truncate(first);
            return;
        }
        let width = u32::try_from(self.ends.len() - first).unwrap_or(u32::MAX);
        self.rows.push(Place { line, text, cells: first, width });
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
        Row { line: at.line, text: self.text.get(at.text..).unwrap_or_default(), ends }
    }
}

impl<'a> Row<'a> {
    /// Number of cells.
    pub fn len(&self) -> usize {
        self.ends.len()
    }

    /// A cell by its place, from 0; empty beyond the last.
    pub fn cell(&self, place: usize) -> &'a str {
        let end = |place: usize| self.ends.get(place).and_then(|end| usize::try_from(*end).ok());
        let start = place.checked_sub(1).map_or(Some(0), end);
        start.zip(end(place)).and_then(|(start, end)| self.text.get(start..end)).unwrap_or("")
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
}
