/// Symmetric matrices, by rows: of all whole periods, and of the last where it is incomplete.
pub(super) struct Pairs {
    pub size: usize,
    whole: Vec<f64>,
    last: Vec<f64>,
}

impl Pairs {
    pub fn new(size: usize) -> Self {
        Self { size, whole: vec![0.0; size * size], last: vec![0.0; size * size] }
    }

    /// Whole and last.
    pub fn both(&self, i: usize, j: usize) -> [f64; 2] {
        let at = i * self.size + j;
        [self.whole[at], self.last[at]]
    }

    pub fn add(&mut self, i: usize, j: usize, [whole, last]: [f64; 2]) {
        let at = i * self.size + j;
        self.whole[at] += whole;
        self.last[at] += last;
    }
}
