use schemars::JsonSchema;
use serde::Serialize;

use super::dates::{break_date, largest_change};
use super::dynamics::{UNIT, Weighted, inside, outside};
use super::likelihood::{Averaged, averaged, innovations, refined};
use super::memory::fractional_noise;
use crate::nulldist::BreakModel;
use crate::num::scale;

/// Where a series may come from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Story {
    /// Stationary about a mean.
    Mean,
    /// Stationary about a trend.
    Trend,
    /// A random walk.
    RandomWalk,
    /// A random walk with drift.
    RandomWalkWithDrift,
    /// Integrated twice.
    TwiceIntegrated,
    /// Stationary about a mean that shifts once.
    MeanWithLevelBreak,
    /// Stationary about a trend whose level shifts once.
    TrendWithLevelBreak,
    /// Stationary about a trend whose level and slope change once.
    TrendWithBothBreaks,
    /// Stationary about a trend whose slope changes once.
    TrendWithSlopeBreak,
    /// A random walk with one shift.
    RandomWalkWithLevelBreak,
    /// A random walk with drift and one shift.
    DriftWithLevelBreak,
    /// A random walk whose drift changes once.
    DriftWithSlopeBreak,
}

/// What kind of series a story makes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// Stationary about a mean.
    Stationary,
    /// Stationary about a trend.
    TrendStationary,
    /// Integrated once.
    UnitRoot,
    /// Integrated twice.
    TwoUnitRoots,
    /// Stationary about a mean or trend that breaks.
    Broken,
}

impl Story {
    /// What it pays: a constant, and per unit of `ln(n/200)`.
    pub fn price(self) -> [f64; 2] {
        PRICES
            .iter()
            .find(|(story, ..)| *story == self)
            .map_or([0.0; 2], |(_, price, length)| [*price, *length])
    }

    /// Its kind.
    pub fn kind(self) -> Kind {
        match self {
            Self::Mean => Kind::Stationary,
            Self::Trend => Kind::TrendStationary,
            Self::RandomWalk
            | Self::RandomWalkWithDrift
            | Self::RandomWalkWithLevelBreak
            | Self::DriftWithLevelBreak
            | Self::DriftWithSlopeBreak => Kind::UnitRoot,
            Self::TwiceIntegrated => Kind::TwoUnitRoots,
            Self::MeanWithLevelBreak
            | Self::TrendWithLevelBreak
            | Self::TrendWithBothBreaks
            | Self::TrendWithSlopeBreak => Kind::Broken,
        }
    }
}

/// A story and how probable it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StoryProbability {
    /// Which.
    pub story: Story,
    /// Its share of all.
    pub probability: f64,
    /// Observations before the break, if it has one.
    pub before: Option<usize>,
}

/// All stories.
#[derive(Debug, Clone, PartialEq)]
pub struct StoryWeights {
    /// From the most probable down.
    pub stories: Vec<StoryProbability>,
    /// Moduli of the largest root and their probabilities, in rising order, over the stories
    /// without a break.
    pub roots: Vec<(f64, f64)>,
    /// Innovations of the most probable story under the likeliest dynamics near those tried.
    pub innovations: Vec<f64>,
    /// Long memory beside them, for series of 200 to 2,000 observations.
    pub long_memory: Option<LongMemory>,
}

/// Long memory against the best story.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LongMemory {
    /// Odds against the best story, both with their prices paid.
    pub odds: f64,
    /// Order of fractional integration, averaged by likelihood.
    pub d: f64,
    /// Its spread.
    pub sd: f64,
}

/// What long memory pays, so that its odds pass 0.7 for 2.3 % of series of 200 observations that
/// are stationary about a mean, of random parameters (`kandrel-nulls memory`).
const MEMORY_PRICE: f64 = -2.6;

/// What a story pays: a constant, and per unit of `ln(n/200)`; fitted by `kandrel-nulls prices` to
/// the probability that the true kind gets on series of random parameters.
const PRICES: [(Story, f64, f64); 12] = [
    (Story::Mean, 0.00, 0.00),
    (Story::Trend, -3.89, -0.67),
    (Story::RandomWalk, -1.44, -0.46),
    (Story::RandomWalkWithDrift, -3.56, -0.58),
    (Story::TwiceIntegrated, -1.30, 0.86),
    (Story::MeanWithLevelBreak, -10.53, -3.07),
    (Story::TrendWithLevelBreak, -13.81, -2.85),
    (Story::TrendWithBothBreaks, -24.08, -8.27),
    (Story::TrendWithSlopeBreak, -11.03, -0.76),
    (Story::RandomWalkWithLevelBreak, -14.39, -4.41),
    (Story::DriftWithLevelBreak, -16.84, -5.75),
    (Story::DriftWithSlopeBreak, -2.60, 1.80),
];

/// Columns: the series, constant, clock, then steps and ramps of the break stories.
const COLUMNS: usize = 9;

/// Weighs twelve stories: each by its exact likelihood averaged over short-run dynamics, less
/// what its terms and the search for its break cost.
///
/// # Formula
/// `E = L (1 + (k-1)/(n-k)) + c + d ln(n/200)`, L the averaged restricted likelihood with k
/// columns; the probability of a story is its share of the sum of `e^E`. Twice integrated:
/// the likelihood of a random walk with drift, plus how much likelier the changes are with a
/// unit root than without; a drift that changes: how much likelier they are with a step.
///
/// # Input
/// `y` in order of time, without gaps, at least 20 values; `season` where a seasonal moving
/// average is among the dynamics, as seasonal differences leave it.
///
/// # Returns
/// `None` for a series that is too short, constant or not finite, or fits a story exactly.
///
/// # Numerics
/// About 1,000 filters of nine columns, and as many of two for the changes: linear in n.
pub fn weigh_stories(y: &[f64], season: Option<usize>) -> Option<StoryWeights> {
    let weighing = Weighing::new(y, season)?;
    let longer = (y.len() as f64 / 200.0).ln();
    let priced = weighing.evidence().map(|one| {
        let [price, by_length] = one.story.price();
        Evidence { value: one.value + price + by_length * longer, ..one }
    });
    let stories = shares(&priced)?;
    let innovations = stories.first().and_then(|one| weighing.innovations(one.story)).unwrap_or_default();
    let best = priced.iter().map(|one| one.value).fold(f64::NEG_INFINITY, f64::max);
    let long_memory = fractional_noise(y).map(|noise| LongMemory {
        odds: (noise.likelihood + MEMORY_PRICE - best).exp(),
        d: noise.d,
        sd: noise.sd,
    });
    Some(StoryWeights { stories, roots: weighing.roots(longer), innovations, long_memory })
}

/// What a series says for a story, before the story pays its price.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Evidence {
    /// Which story.
    pub story: Story,
    /// `L (1 + (k-1)/(n-k))`.
    pub value: f64,
    /// Observations before the break, if it has one.
    pub before: Option<usize>,
}

/// The evidence of every story, in the order of their prices; `None` as for
/// [`weigh_stories`].
pub fn evidence(y: &[f64], season: Option<usize>) -> Option<[Evidence; 12]> {
    Weighing::new(y, season).map(|weighing| weighing.evidence())
}

/// Columns of the stationary stories, in the order of their averages.
const INSIDE: [(Story, &[usize]); 6] = [
    (Story::Mean, &[1]),
    (Story::Trend, &[1, 2]),
    (Story::MeanWithLevelBreak, &[1, 3]),
    (Story::TrendWithLevelBreak, &[1, 2, 4]),
    (Story::TrendWithBothBreaks, &[1, 2, 5, 6]),
    (Story::TrendWithSlopeBreak, &[1, 2, 7]),
];

/// Columns of the stories with a unit root.
const OUTSIDE: [(Story, &[usize]); 4] = [
    (Story::RandomWalk, &[1]),
    (Story::RandomWalkWithDrift, &[1, 2]),
    (Story::RandomWalkWithLevelBreak, &[1, 8]),
    (Story::DriftWithLevelBreak, &[1, 2, 8]),
];

/// Around a break a series has to settle: its largest root is smaller.
const SETTLES: f64 = 0.9;

/// All likelihoods of one series.
struct Weighing {
    rows: Vec<[f64; COLUMNS]>,
    changes: Vec<[f64; 3]>,
    dates: Dates,
    inner: Vec<Weighted>,
    outer: Vec<Weighted>,
    stationary: Averaged,
    integrated: Averaged,
    changes_with_root: Averaged,
    changes_without: Averaged,
}

impl Weighing {
    fn new(y: &[f64], season: Option<usize>) -> Option<Self> {
        let n = y.len();
        if n < 20 || scale::check(y).is_err() {
            return None;
        }
        let deviations = scale::deviations(y);
        let size = (deviations.iter().map(|e| e * e).sum::<f64>() / n as f64).sqrt();
        let x: Vec<f64> = deviations.iter().map(|e| e / size).collect();
        let dates = Dates::of(&x);
        let rows = dates.rows(&x);
        let changes = dates.changes(&x);
        let (inner, outer) = (inside(season), outside(season));
        Some(Self {
            stationary: averaged(&rows, &INSIDE.map(|(_, columns)| columns), &inner),
            integrated: averaged(&rows, &OUTSIDE.map(|(_, columns)| columns), &outer),
            changes_with_root: averaged(&changes, &[&[1]], &outer),
            changes_without: averaged(&changes, &[&[1], &[1, 2]], &inner),
            rows,
            changes,
            dates,
            inner,
            outer,
        })
    }

    fn evidence(&self) -> [Evidence; 12] {
        let n = self.rows.len() as f64;
        PRICES.map(|(story, ..)| {
            let (likelihood, columns) = self.likelihood(story);
            let k = columns as f64;
            let before = self.dates.of_story(story);
            Evidence { story, value: likelihood * (1.0 + (k - 1.0) / (n - k)), before }
        })
    }

    /// The averaged likelihood and the number of columns.
    fn likelihood(&self, story: Story) -> (f64, usize) {
        if let Some(place) = INSIDE.iter().position(|(other, _)| *other == story) {
            let columns = INSIDE[place].1.len();
            // About a break, a root near one is a random walk by another name.
            let likelihood = if story.kind() == Kind::Broken {
                self.stationary.averaged_where(place, |dynamic| self.inner[dynamic].largest < SETTLES)
            } else {
                self.stationary.stories[place]
            };
            return (likelihood, columns);
        }
        if let Some(place) = OUTSIDE.iter().position(|(other, _)| *other == story) {
            return (self.integrated.stories[place], OUTSIDE[place].1.len());
        }
        // Both are told by the changes, against changes without a root and without a step.
        let drift = self.integrated.stories[1] - self.changes_without.stories[0];
        if story == Story::DriftWithSlopeBreak {
            let settled = |dynamic: usize| self.inner[dynamic].largest < SETTLES;
            return (drift + self.changes_without.averaged_where(1, settled), 3);
        }
        (drift + self.changes_with_root.stories[0], 2)
    }

    fn innovations(&self, story: Story) -> Option<Vec<f64>> {
        if let Some(place) = INSIDE.iter().position(|(other, _)| *other == story) {
            let best = self.inner.get(self.stationary.likeliest(place)?)?;
            let columns = INSIDE[place].1;
            return innovations(&self.rows, columns, &refined(&self.rows, columns, &best.mixture, None));
        }
        let root = Some(UNIT);
        if let Some(place) = OUTSIDE.iter().position(|(other, _)| *other == story) {
            let best = self.outer.get(self.integrated.likeliest(place)?)?;
            let columns = OUTSIDE[place].1;
            return innovations(&self.rows, columns, &refined(&self.rows, columns, &best.mixture, root));
        }
        if story == Story::DriftWithSlopeBreak {
            let best = self.inner.get(self.changes_without.likeliest(1)?)?;
            let columns = &[1, 2];
            return innovations(
                &self.changes,
                columns,
                &refined(&self.changes, columns, &best.mixture, None),
            );
        }
        let best = self.outer.get(self.changes_with_root.likeliest(0)?)?;
        innovations(&self.changes, &[1], &refined(&self.changes, &[1], &best.mixture, root))
    }

    /// The largest root's probabilities over the stories without a break.
    fn roots(&self, longer: f64) -> Vec<(f64, f64)> {
        let n = self.rows.len() as f64;
        let cases = [
            (Story::Mean, &self.stationary, 0, &self.inner),
            (Story::Trend, &self.stationary, 1, &self.inner),
            (Story::RandomWalk, &self.integrated, 0, &self.outer),
            (Story::RandomWalkWithDrift, &self.integrated, 1, &self.outer),
        ];
        let mut all: Vec<(f64, f64)> = Vec::new();
        for (story, averages, place, dynamics) in cases {
            let [price, by_length] = story.price();
            let columns = if matches!(story, Story::Mean | Story::RandomWalk) { 1.0 } else { 2.0 };
            let stretch = 1.0 + (columns - 1.0) / (n - columns);
            for (dynamic, value, weight) in &averages.values[place] {
                all.push((
                    dynamics[*dynamic].largest,
                    value * stretch + price + by_length * longer + weight.ln(),
                ));
            }
        }
        let most = all.iter().map(|(_, value)| *value).fold(f64::NEG_INFINITY, f64::max);
        all.sort_by(|a, b| a.0.total_cmp(&b.0));
        let total: f64 = all.iter().map(|(_, value)| (value - most).exp()).sum();
        let mut roots: Vec<(f64, f64)> = Vec::new();
        for (root, value) in all {
            let share = (value - most).exp() / total;
            match roots.last_mut() {
                Some((last, sum)) if (root - *last).abs() < 1e-9 => *sum += share,
                _ => roots.push((root, share)),
            }
        }
        roots
    }
}

fn shares(all: &[Evidence]) -> Option<Vec<StoryProbability>> {
    let most = all.iter().map(|one| one.value).fold(f64::NEG_INFINITY, f64::max);
    if !most.is_finite() {
        return None;
    }
    let total: f64 = all.iter().map(|one| (one.value - most).exp()).sum();
    let probability = |one: &Evidence| StoryProbability {
        story: one.story,
        probability: (one.value - most).exp() / total,
        before: one.before,
    };
    let mut stories: Vec<StoryProbability> = all.iter().map(probability).collect();
    stories.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    Some(stories)
}

/// Observations before the break, story by story.
struct Dates {
    mean_level: Option<usize>,
    trend_level: Option<usize>,
    trend_both: Option<usize>,
    trend_slope: Option<usize>,
    walk_level: Option<usize>,
}

impl Dates {
    fn of(x: &[f64]) -> Self {
        Self {
            mean_level: break_date(x, BreakModel::Intercept, false),
            trend_level: break_date(x, BreakModel::Intercept, true),
            trend_both: break_date(x, BreakModel::Both, true),
            trend_slope: break_date(x, BreakModel::Trend, true),
            walk_level: largest_change(x),
        }
    }

    fn of_story(&self, story: Story) -> Option<usize> {
        match story {
            Story::MeanWithLevelBreak => self.mean_level,
            Story::TrendWithLevelBreak => self.trend_level,
            Story::TrendWithBothBreaks => self.trend_both,
            Story::TrendWithSlopeBreak | Story::DriftWithSlopeBreak => self.trend_slope,
            Story::RandomWalkWithLevelBreak | Story::DriftWithLevelBreak => self.walk_level,
            Story::Mean
            | Story::Trend
            | Story::RandomWalk
            | Story::RandomWalkWithDrift
            | Story::TwiceIntegrated => None,
        }
    }

    /// The changes, a constant, and a step where the slope changes.
    fn changes(&self, x: &[f64]) -> Vec<[f64; 3]> {
        let step = |t: usize| f64::from(u8::from(self.trend_slope.is_some_and(|before| t >= before)));
        x.windows(2).zip(1..).map(|(pair, t)| [pair[1] - pair[0], 1.0, step(t)]).collect()
    }

    /// The columns; a break without a date is a column of nought, whose stories have no
    /// likelihood.
    fn rows(&self, x: &[f64]) -> Vec<[f64; COLUMNS]> {
        let n = x.len() as f64;
        let step = |before: Option<usize>, t: usize| f64::from(u8::from(before.is_some_and(|b| t >= b)));
        let ramp =
            |before: Option<usize>, t: usize| before.map_or(0.0, |b| (t + 1).saturating_sub(b) as f64 / n);
        x.iter()
            .enumerate()
            .map(|(t, value)| {
                [
                    *value,
                    1.0,
                    (t as f64 + 0.5 - 0.5 * n) / n,
                    step(self.mean_level, t),
                    step(self.trend_level, t),
                    step(self.trend_both, t),
                    ramp(self.trend_both, t),
                    ramp(self.trend_slope, t),
                    step(self.walk_level, t),
                ]
            })
            .collect()
    }
}

impl StoryWeights {
    /// The probability of a kind.
    pub fn probability(&self, kind: Kind) -> f64 {
        self.stories.iter().filter(|one| one.story.kind() == kind).map(|one| one.probability).sum()
    }

    /// The most probable kind.
    pub fn kind(&self) -> Kind {
        let kinds =
            [Kind::Stationary, Kind::TrendStationary, Kind::UnitRoot, Kind::TwoUnitRoots, Kind::Broken];
        kinds
            .into_iter()
            .max_by(|a, b| self.probability(*a).total_cmp(&self.probability(*b)))
            .unwrap_or(Kind::Stationary)
    }

    /// The most probable story of a kind.
    pub fn best_of(&self, kind: Kind) -> Option<StoryProbability> {
        self.stories.iter().find(|one| one.story.kind() == kind).copied()
    }

    /// The interval of the largest root that holds this share, as much left out at either
    /// end, in the steps of the dynamics.
    pub fn largest_root(&self, share: f64) -> (f64, f64) {
        let tail = 0.5 * (1.0 - share);
        let mut sum = 0.0;
        let (mut low, mut high) = (None, 1.0);
        for (root, probability) in &self.roots {
            sum += probability;
            if low.is_none() && sum > tail {
                low = Some(*root);
            }
            if sum >= 1.0 - tail {
                high = *root;
                break;
            }
        }
        (low.unwrap_or(0.0), high)
    }
}
