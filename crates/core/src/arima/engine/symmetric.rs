//! Symmetric matrices of products over whole and incomplete periods.

/// Symmetric matrices, by rows: of all whole periods, and of the last where it is incomplete.
pub(in crate::arima) struct SymmetricBlocks {
    size: usize,
    whole: Vec<f64>,
    last: Vec<f64>,
}

impl SymmetricBlocks {
    pub fn new(size: usize) -> Self {
        Self { size, whole: vec![0.0; size * size], last: vec![0.0; size * size] }
    }

    /// Whole and last.
    pub fn both(&self, i: usize, j: usize) -> [f64; 2] {
        let at = i * self.size + j;
        [self.whole[at], self.last[at]]
    }

    /// The slopes with respect to the products of one column with another, where these are the
    /// slopes of a form that counts each pair in one order only.
    pub fn slopes(&self, i: usize, j: usize) -> [f64; 2] {
        let [[whole, last], [other_whole, other_last]] = [self.both(i, j), self.both(j, i)];
        [whole + other_whole, last + other_last]
    }

    pub fn add(&mut self, i: usize, j: usize, [whole, last]: [f64; 2]) {
        let at = i * self.size + j;
        self.whole[at] += whole;
        self.last[at] += last;
    }

    /// Of two columns whose order does not matter.
    pub fn add_both(&mut self, i: usize, j: usize, both: [f64; 2]) {
        self.add(i, j, both);
        if i != j {
            self.add(j, i, both);
        }
    }
}
