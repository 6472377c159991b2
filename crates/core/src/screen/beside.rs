use crate::unitroot::story::Story;
use crate::unitroot::verdict::{Assessment, Class, Treatment};

/// Seasons with more places are left to seasonal orders.
const MOST_PLACES: usize = 60;

/// What the verdict calls fixed, and stands beside a model as a regressor.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Beside {
    /// A linear trend.
    Trend,
    /// A level shift from this place on.
    Step(usize),
    /// A trend that bends after this place.
    Bend(usize),
    /// The places of the season.
    Seasons,
}

impl Beside {
    /// What goes with the verdict where a model has these differences.
    pub(super) fn of(assessment: &Assessment, differences: usize, season: usize) -> Vec<Self> {
        let verdict = &assessment.verdict;
        let mut all = Vec::new();
        if differences == 0 && verdict.class == Class::TrendStationary {
            all.push(Self::Trend);
        }
        if let (Class::BrokenTrend, 0, Some(place)) = (verdict.class, differences, assessment.break_at) {
            all.extend(match assessment.stories.stories.first().map(|top| top.story) {
                Some(Story::MeanWithLevelBreak) => vec![Self::Step(place + 1)],
                Some(Story::TrendWithLevelBreak) => vec![Self::Trend, Self::Step(place + 1)],
                Some(Story::TrendWithSlopeBreak) => vec![Self::Trend, Self::Bend(place)],
                Some(Story::TrendWithBothBreaks) => {
                    vec![Self::Trend, Self::Step(place + 1), Self::Bend(place)]
                }
                _ => Vec::new(),
            });
        }
        let stays = verdict.seasonal_integration.unwrap_or(0) == 0
            && assessment.season.treatment == Treatment::Pattern;
        if stays && (2..=MOST_PLACES).contains(&season) {
            all.push(Self::Seasons);
        }
        all
    }

    /// Its columns over `n` periods.
    pub(super) fn columns(self, n: usize, season: usize) -> Vec<Vec<f64>> {
        let one = |of: &dyn Fn(usize) -> f64| vec![(0..n).map(of).collect()];
        match self {
            Self::Trend => one(&|t| t as f64),
            Self::Step(first) => one(&|t| f64::from(u8::from(t >= first))),
            Self::Bend(last) => one(&|t| t.saturating_sub(last) as f64),
            // One in its own place, minus one in the first: the level keeps its meaning.
            Self::Seasons => (1..season)
                .map(|place| {
                    let own = |t: usize| match t % season {
                        own if own == place => 1.0,
                        0 => -1.0,
                        _ => 0.0,
                    };
                    (0..n).map(own).collect()
                })
                .collect(),
        }
    }
}
