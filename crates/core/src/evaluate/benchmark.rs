//! Forecasts that need no model and that every model should beat.

/// A benchmark forecast.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Benchmark {
    /// The last value.
    Naive,
    /// The last value of the same position in the seasonal cycle.
    SeasonalNaive,
    /// The last value and the mean change so far.
    Drift,
}

impl Benchmark {
    /// As it is called.
    pub fn name(self) -> &'static str {
        match self {
            Self::Naive => "naive",
            Self::SeasonalNaive => "seasonal naive",
            Self::Drift => "drift",
        }
    }

    /// Those that make sense with a season.
    pub fn usual(season: usize) -> Vec<Self> {
        if season > 1 {
            vec![Self::Naive, Self::SeasonalNaive, Self::Drift]
        } else {
            vec![Self::Naive, Self::Drift]
        }
    }

    /// Forecasts behind the cells, the last of which is known; none where the rule has none.
    pub fn ahead(self, cells: &[Option<f64>], season: usize, ahead: usize) -> Vec<Option<f64>> {
        let known = |place: Option<usize>| place.and_then(|t| Some((t, (*cells.get(t)?)?)));
        let first = known(cells.iter().position(Option::is_some));
        let last = known(cells.iter().rposition(Option::is_some));
        let of = |h: usize| -> Option<f64> {
            let ((first, start), (last, end)) = (first?, last?);
            match self {
                Self::Naive => Some(end),
                Self::Drift => {
                    let steps = (last - first) as f64;
                    (last > first).then(|| end + h as f64 * (end - start) / steps)
                }
                Self::SeasonalNaive => {
                    let place = (last + h) % season.max(1);
                    let same = (0..=last).rev().filter(|t| t % season.max(1) == place);
                    same.map(|t| cells.get(t).copied().flatten()).find_map(|cell| cell)
                }
            }
        };
        (1..=ahead).map(of).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rules_by_hand() {
        let cells = [Some(1.0), Some(5.0), None, Some(7.0)];
        assert_eq!(Benchmark::Naive.ahead(&cells, 2, 2), [Some(7.0), Some(7.0)]);
        assert_eq!(Benchmark::Drift.ahead(&cells, 2, 2), [Some(9.0), Some(11.0)]);
        // The position of the gap takes the year before.
        assert_eq!(Benchmark::SeasonalNaive.ahead(&cells, 2, 3), [Some(1.0), Some(7.0), Some(1.0)]);
        assert_eq!(Benchmark::Naive.ahead(&[None], 1, 1), [None]);
        assert_eq!(Benchmark::Drift.ahead(&[Some(1.0)], 1, 1), [None]);
    }
}
