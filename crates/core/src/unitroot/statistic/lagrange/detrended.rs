//! A series detrended under the null, with its breaks.

/// A series less its trend and breaks, estimated from its changes.
pub(super) struct Detrended {
    /// How many stretches there are.
    count: usize,
    /// Where each stretch begins: zero and the breaks.
    pub starts: [usize; 3],
    /// Mean change of each stretch.
    pub means: [f64; 3],
    /// `S̃` at the start of each.
    pub levels: [f64; 3],
}

impl Detrended {
    pub fn new(x: &[f64], before: &[usize], slope: bool) -> Self {
        let count = (1 + before.len()).min(3);
        let mut starts = [0; 3];
        starts[1..count].copy_from_slice(&before[..count - 1]);
        let mut rises = [0.0; 3];
        let mut lengths = [0.0; 3];
        for place in 0..count {
            let last = starts[..count].get(place + 1).map_or(x.len(), |next| *next) - 1;
            rises[place] = x[last] - x[starts[place]];
            lengths[place] = (last - starts[place]) as f64;
        }
        let overall = rises.iter().sum::<f64>() / lengths.iter().sum::<f64>();
        let mut means = [overall; 3];
        let mut levels = [0.0; 3];
        for place in 0..count {
            if slope {
                means[place] = rises[place] / lengths[place];
            }
            if place > 0 {
                levels[place] = levels[place - 1] + rises[place - 1] - means[place - 1] * lengths[place - 1];
            }
        }
        Self { count, starts, means, levels }
    }

    /// Where a stretch of a series of n ends.
    pub fn end(&self, place: usize, n: usize) -> usize {
        if place + 1 < self.count { self.starts[place + 1] } else { n }
    }

    fn stretch(&self, t: usize) -> usize {
        self.starts[..self.count].iter().rposition(|start| *start <= t).unwrap_or(0)
    }

    /// `S̃_t` of this stretch.
    pub fn sum_in(&self, place: usize, x: &[f64], t: usize) -> f64 {
        let start = self.starts[place];
        self.levels[place] + x[t] - x[start] - self.means[place] * (t - start) as f64
    }

    /// `S̃_t`.
    pub fn sum(&self, x: &[f64], t: usize) -> f64 {
        self.sum_in(self.stretch(t), x, t)
    }

    /// `ΔS̃_t`, for t of at least 1.
    pub fn change(&self, x: &[f64], t: usize) -> f64 {
        let place = self.stretch(t);
        if t == self.starts[place] { 0.0 } else { x[t] - x[t - 1] - self.means[place] }
    }
}
