//! The whitening scalars written out for each period.

use super::seasonal::Seasonal;

/// The numbers that whiten a seasonal process, written out for each period.
pub(in crate::arima) struct WhiteningSchedule {
    /// Places kept for the weights of each period.
    pub stride: usize,
    /// The first periods, which are whitened as they are.
    pub raw: usize,
    /// The weights with which each period looks back, of the one before first.
    pub behind: Vec<f64>,
    /// Those with which later ones look back on it, of the next first.
    pub ahead: Vec<f64>,
    /// One over the variance.
    pub shares: Vec<f64>,
}

impl WhiteningSchedule {
    pub fn new(seasonal: &Seasonal<f64>, periods: usize) -> Self {
        let (stride, settled) = (seasonal.stride(), seasonal.settled().min(periods.saturating_sub(1)));
        let mut behind = Vec::with_capacity(periods * stride);
        let early = seasonal.all_weights();
        behind.extend_from_slice(&early[..(settled + 1) * stride]);
        for _ in settled + 1..periods {
            behind.extend_from_within(behind.len() - stride..);
        }
        let mut ahead = vec![0.0; periods * stride];
        for j in 1..=stride {
            let later = behind.iter().skip(j * stride + j - 1).step_by(stride.max(1));
            for (weight, own) in ahead.iter_mut().skip(j - 1).step_by(stride.max(1)).zip(later) {
                *weight = *own;
            }
        }
        let mut shares: Vec<f64> = (0..=settled).map(|step| 1.0 / seasonal.variance(step)).collect();
        shares.resize(periods, shares.last().copied().unwrap_or(1.0));
        Self { stride, raw: seasonal.raw, behind, ahead, shares }
    }

    #[inline]
    pub fn behind(&self, period: usize) -> &[f64] {
        &self.behind[period * self.stride..][..self.stride.min(period)]
    }

    /// As many as there are later periods at most.
    #[inline]
    pub fn ahead(&self, period: usize) -> &[f64] {
        let later = self.shares.len() - period - 1;
        &self.ahead[period * self.stride..][..self.stride.min(later)]
    }
}
