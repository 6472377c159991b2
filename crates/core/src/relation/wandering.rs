//! Whether a level is non-stationary, so that its correlations may be spurious.

use crate::corr::{AcfOptions, Finding, acf, read};
use crate::shape::trend;
use crate::unitroot::{AdfOptions, adf};

/// Whether a level trends or wanders, so that its correlation with another such level says
/// little: the ADF test with a constant does not reject a unit root at 5 %, its ACF does not
/// die out, or it has a trend at 5 %.
///
/// # References
/// Yule (1926), *JRSS* 89, 1-63; Granger and Newbold (1974), *Journal of Econometrics* 2,
/// 111-120.
pub fn wanders(y: &[f64], season: usize) -> bool {
    let lasting = findings(y, season).iter().any(|one| matches!(one, Finding::DoesNotDieOut { .. }));
    let unit_root = adf(y, &AdfOptions::default()).is_ok_and(|test| !test.rejects(0.05));
    unit_root || lasting || trend(y, season).is_some_and(|test| test.p_value <= 0.05)
}

/// Whether the changes of a series are alike a season apart: lag `season` of their ACF
/// stands above its neighbours and outside the band.
pub fn has_season(y: &[f64], season: usize) -> bool {
    let changes: Vec<f64> = y.windows(2).map(|pair| pair[1] - pair[0]).collect();
    findings(&changes, season).iter().any(|one| matches!(one, Finding::Seasonal { .. }))
}

fn findings(y: &[f64], season: usize) -> Vec<Finding> {
    let options = AcfOptions { season, ..AcfOptions::default() };
    acf(y, &options).map(|acf| read(&acf, season)).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn walks_and_trends_wander_and_noise_does_not() {
        let mut counts = [0; 3];
        for seed in 0..40 {
            let e = NormalStream::new(60, seed).take(200);
            let walk: Vec<f64> = e
                .iter()
                .scan(0.0, |level, e| {
                    *level += e;
                    Some(*level)
                })
                .collect();
            let line: Vec<f64> = e.iter().zip(0_u32..).map(|(e, t)| e + 0.05 * f64::from(t)).collect();
            for (count, y) in counts.iter_mut().zip([&walk, &line, &e]) {
                *count += usize::from(wanders(y, 1));
            }
        }
        assert!(counts[0] >= 36 && counts[1] == 40 && counts[2] <= 6, "{counts:?}");
    }

    #[test]
    fn a_season_is_seen_in_the_changes_of_a_walk() {
        let e = NormalStream::new(61, 0).take(240);
        let mut level = 0.0;
        let seasonal: Vec<f64> = e
            .iter()
            .enumerate()
            .map(|(t, e)| {
                level += e;
                level + if t % 12 < 3 { 4.0 } else { 0.0 }
            })
            .collect();
        assert!(has_season(&seasonal, 12));
        assert!(!has_season(&e, 12) && !has_season(&e, 1));
    }
}
