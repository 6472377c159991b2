//! Moving averages.

/// Means of every `width` neighbours, from the first such stretch to the last.
///
/// The sum moves along with the stretch and is made again after each `width` steps, so
/// that rounding cannot pile up; the cost does not grow with the width.
pub fn moving_average(values: &[f64], width: usize) -> Vec<f64> {
    let width = width.max(1);
    let Some(count) = (values.len() + 1).checked_sub(width) else {
        return Vec::new();
    };
    let mut sum = 0.0;
    (0..count)
        .map(|start| {
            if start % width == 0 {
                sum = values[start..start + width].iter().sum();
            } else {
                sum += values[start + width - 1] - values[start - 1];
            }
            sum / width as f64
        })
        .collect()
}

/// The centred moving average over one season: for an even season the mean of the two
/// that lean either way. `None` where it reaches beyond the ends or over a gap.
pub fn centred(cells: &[Option<f64>], season: usize) -> Vec<Option<f64>> {
    let half = season / 2;
    let values: Vec<f64> = cells.iter().map(|cell| cell.unwrap_or_default()).collect();
    let mut means = moving_average(&values, season);
    if season.is_multiple_of(2) {
        means = means.windows(2).map(|pair| 0.5 * (pair[0] + pair[1])).collect();
    }
    let width = 2 * half + 1;
    // Gaps up to each place, so that a stretch is known to have none.
    let mut gaps = vec![0_usize];
    gaps.extend(cells.iter().scan(0, |count, cell| {
        *count += usize::from(cell.is_none());
        Some(*count)
    }));
    (0..cells.len())
        .map(|t| {
            let start = t.checked_sub(half)?;
            let whole = gaps.get(start + width)? == gaps.get(start)?;
            means.get(start).copied().filter(|_| whole)
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn means_by_hand() {
        assert_eq!(moving_average(&[1.0, 2.0, 6.0, 4.0], 3), [3.0, 4.0]);
        assert_eq!(moving_average(&[1.0], 3), [] as [f64; 0]);
        let cells = [1.0, 3.0, 5.0, 7.0, 9.0].map(Some);
        assert_eq!(centred(&cells, 2), [None, Some(3.0), Some(5.0), Some(7.0), None]);
        assert_eq!(centred(&cells, 3), [None, Some(3.0), Some(5.0), Some(7.0), None]);
        let holed = [Some(1.0), Some(3.0), None, Some(7.0), Some(9.0), Some(2.0)];
        assert_eq!(centred(&holed, 3), [None, None, None, None, Some(6.0), None]);
    }

    #[test]
    fn long_sums_do_not_drift() {
        let values: Vec<f64> = (0..100_000).map(|t| 1e6 + f64::from(t % 365).sin()).collect();
        let means = moving_average(&values, 365);
        let last: f64 = values[100_000 - 365..].iter().map(|v| v - 1e6).sum::<f64>() / 365.0;
        assert!((means[means.len() - 1] - 1e6 - last).abs() < 1e-8);
    }
}
