//! The joint normal distribution of the next values.

/// The next values of a series, jointly normal.
///
/// # Formula
/// `x_h = mean_h + Σ_k responses_{h,k} z_k` with independent standard normal z.
#[derive(Debug, Clone, PartialEq)]
pub struct Joint {
    /// Expected values, one a step ahead.
    pub mean: Vec<f64>,
    /// Responses to the innovations, one row a step ahead; missing ends are zero.
    pub responses: Vec<Vec<f64>>,
}

impl Joint {
    /// Steps ahead.
    pub fn ahead(&self) -> usize {
        self.mean.len()
    }

    /// Variance of step h (0-based).
    pub fn variance(&self, h: usize) -> f64 {
        self.responses.get(h).map_or(0.0, |row| row.iter().map(|response| response * response).sum())
    }

    /// Undoes a difference at a lag: `x_h = z_h + x_{h-lag}`, with the last `lag` values before the
    /// first step in order of time.
    pub(crate) fn summed(&mut self, lag: usize, history: &[f64]) {
        for h in 0..self.ahead() {
            match h.checked_sub(lag) {
                None => self.mean[h] += history.get(h).copied().unwrap_or_default(),
                Some(before) => {
                    self.mean[h] += self.mean[before];
                    let earlier = self.responses[before].clone();
                    add(&mut self.responses[h], 1.0, &earlier);
                }
            }
        }
    }

    /// Undoes a sum: `x_h = z_h - z_{h-1}`, with the last value before the first step.
    pub(super) fn changed(&mut self, last: f64) {
        for h in (0..self.ahead()).rev() {
            if h == 0 {
                self.mean[h] -= last;
            } else {
                self.mean[h] -= self.mean[h - 1];
                let earlier = self.responses[h - 1].clone();
                add(&mut self.responses[h], -1.0, &earlier);
            }
        }
    }

    /// Step h times `scale` plus `shift`.
    pub(super) fn moved(&mut self, h: usize, scale: f64, shift: f64) {
        self.mean[h] = self.mean[h] * scale + shift;
        self.responses[h].iter_mut().for_each(|response| *response *= scale);
    }
}

/// `to += share * from`, longer if need be.
fn add(to: &mut Vec<f64>, share: f64, from: &[f64]) {
    if to.len() < from.len() {
        to.resize(from.len(), 0.0);
    }
    for (value, other) in to.iter_mut().zip(from) {
        *value += share * other;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn two() -> Joint {
        Joint { mean: vec![1.0, 2.0], responses: vec![vec![1.0], vec![0.5, 2.0]] }
    }

    #[test]
    fn a_difference_and_a_sum_are_undone_by_hand() {
        let mut joint = two();
        joint.summed(1, &[10.0]);
        assert_eq!(joint.mean, [11.0, 13.0]);
        assert_eq!(joint.responses, [vec![1.0], vec![1.5, 2.0]]);
        assert!((joint.variance(1) - 6.25).abs() < 1e-15);
        joint.changed(10.0);
        assert_eq!(joint, two());
    }

    #[test]
    fn a_seasonal_difference_looks_back_on_the_history_first() {
        let mut joint = Joint { mean: vec![1.0; 3], responses: vec![vec![1.0], vec![0.0, 1.0], vec![]] };
        joint.summed(2, &[5.0, 6.0]);
        assert_eq!(joint.mean, [6.0, 7.0, 7.0]);
        assert_eq!(joint.responses[2], [1.0]);
    }
}
