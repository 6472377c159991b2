//! Outliers against the same months, quarters or weekdays of other years.

use super::expanding::student_score;

/// Each value against the other years at its place of the season.
///
/// # Formula
/// With m values at a place: `(z - z̄)/(s √(1 + 1/(m-1)))`, mean and standard deviation being
/// those of the other years, z the value less the trend; turned from a Student variable with
/// m - 2 degrees of freedom into a normal score. None at places with fewer than four values.
pub(super) fn same_season(detrended: &[f64], season: usize) -> Vec<Option<f64>> {
    let mut scores = vec![None; detrended.len()];
    for place in 0..season {
        let own: Vec<usize> = (place..detrended.len()).step_by(season).collect();
        let m = own.len() as f64;
        if own.len() < 4 {
            continue;
        }
        let mean = own.iter().map(|t| detrended[*t]).sum::<f64>() / m;
        let squares: f64 = own.iter().map(|t| (detrended[*t] - mean).powi(2)).sum();
        for t in own {
            let gap = detrended[t] - mean;
            let others = squares - gap * gap * m / (m - 1.0);
            let sd = (others.max(0.0) / (m - 2.0)).sqrt();
            // The gap to the others' own mean is wider by m / (m - 1).
            let t_value = gap * m / (m - 1.0) / (sd * (m / (m - 1.0)).sqrt());
            scores[t] = if sd > 1e-12 * squares.sqrt() { student_score(t_value, m - 2.0) } else { None };
        }
    }
    scores
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn scores_are_those_of_the_others_mean_and_spread() {
        let values = [1.0, 10.0, 2.0, 11.0, 3.0, 12.0, 9.0, 11.5, 2.5, 10.5];
        let scores = same_season(&values, 2);
        // Against 1, 2, 3, 2.5: mean 2.125, sd 0.8539; t = 6.875 / (0.8539 √1.25) = 7.201, 3 d.f.
        let others = [1.0, 2.0, 3.0, 2.5];
        let mean = others.iter().sum::<f64>() / 4.0;
        let sd = (others.iter().map(|v: &f64| (v - mean).powi(2)).sum::<f64>() / 3.0).sqrt();
        let expected = student_score((9.0 - mean) / (sd * 1.25_f64.sqrt()), 3.0);
        assert!((scores[6].expect("judged") - expected.expect("degrees")).abs() < 1e-9);
        assert_eq!(same_season(&values[..6], 2), [None; 6]);
    }
}
