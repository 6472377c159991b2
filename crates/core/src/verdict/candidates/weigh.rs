//! The candidate models weighed by exact likelihood, averaged over short-run dynamics.

use super::dates::{break_date, largest_change};
use super::dynamics::{UNIT, Weighted, inside, outside};
use super::likelihood::{Averaged, averaged, innovations, refined};
use super::memory::fractional_noise;
use super::table::{CandidateModel, DateRule, Definition, Judged, ModelClass, TABLE};
use super::tails::heavy_tails;
use crate::arma::Mixture;
use crate::nulldist::BreakModel;
use crate::num::scale;

/// A candidate model and how probable it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CandidateProbability {
    /// Which.
    pub model: CandidateModel,
    /// Its share of all.
    pub probability: f64,
    /// Observations before the break, if it has one.
    pub before: Option<usize>,
}

/// All candidate models.
#[derive(Debug, Clone, PartialEq)]
pub struct CandidateWeights {
    /// From the most probable down.
    pub candidates: Vec<CandidateProbability>,
    /// Moduli of the largest root and their probabilities, in rising order, over the models
    /// without a break.
    pub roots: Vec<(f64, f64)>,
    /// Innovations of the most probable model under the most probable dynamics near those tried.
    pub innovations: Vec<f64>,
    /// Long memory with them, for series of 200 to 2,000 observations.
    pub long_memory: Option<LongMemory>,
    /// A cycle of the most probable model.
    pub cycle: Option<Cycle>,
}

/// A cycle: complex roots of the short-run dynamics.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cycle {
    /// Its period, in observations: the mean over the dynamics with one.
    pub period: f64,
    /// The probability of complex roots with a modulus of 0.65 or more.
    pub probability: f64,
}

/// Long memory against the best model.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LongMemory {
    /// Odds against the best model, both with their prior odds.
    pub odds: f64,
    /// Order of fractional integration, averaged by likelihood.
    pub d: f64,
    /// Its spread.
    pub sd: f64,
}

/// What long memory pays, so that its odds pass 0.7 for 2.3 % of series of 200 observations that
/// are stationary about a mean, of random parameters (`kandrel-nulls memory`).
const MEMORY_PRICE: f64 = -2.6;

/// Prior odds were fitted to series of this length and more; a shorter one takes those of this length.
const SHORTEST_PRICED: usize = 50;

/// Columns: the series, constant, clock, then steps and ramps of the models with a break.
const COLUMNS: usize = 9;

/// Weighs twelve candidate models: each by its exact likelihood averaged over short-run dynamics, with
/// prior odds for its terms and the search for its break.
///
/// # Formula
/// `E = (L + T) (1 + (k-1)/(n-k)) + c + d ln(n/200)`, L the averaged restricted likelihood with k
/// columns, T what its innovations gain by heavy tails; the probability of a kind is the share of its models in the sum of `e^E`;
/// within it each has its share at the odds within the kind. Twice integrated:
/// the likelihood of a random walk with drift, plus how much more probable the changes are with a
/// unit root than without; a drift that changes: how much more probable they are with a step.
///
/// # Input
/// `y` in order of time, without gaps, at least 20 values; `season` where a seasonal moving
/// average is among the dynamics, as seasonal differences leave it.
///
/// # Returns
/// `None` for a series that is too short, constant or not finite, or fits a model exactly.
///
/// # Numerics
/// About 1,000 filters of nine columns, and as many of two for the changes: linear in n.
pub fn weigh_candidates(y: &[f64], season: Option<usize>) -> Option<CandidateWeights> {
    let weighing = Weighing::new(y, season)?;
    let longer = (y.len().max(SHORTEST_PRICED) as f64 / 200.0).ln();
    let evidence = weighing.evidence();
    let with = |odds: fn(CandidateModel) -> [f64; 2]| {
        evidence.map(|one| {
            let [constant, by_length] = odds(one.model);
            Evidence { value: one.value + constant + by_length * longer, ..one }
        })
    };
    let priced = with(CandidateModel::prior_log_odds);
    let candidates = shares_in_kinds(&shares(&priced)?, &with(CandidateModel::log_odds_in_kind));
    let innovations =
        candidates.first().and_then(|one| weighing.innovations(one.model, true)).unwrap_or_default();
    // Fractional noise has normal errors.
    let best = priced.iter().map(|one| one.value - one.tails).fold(f64::NEG_INFINITY, f64::max);
    let long_memory = fractional_noise(y).map(|noise| LongMemory {
        odds: (noise.likelihood + MEMORY_PRICE - best).exp(),
        d: noise.d,
        sd: noise.sd,
    });
    let cycle = candidates.first().and_then(|one| weighing.cycle(one.model));
    let roots = weighing.roots(longer);
    Some(CandidateWeights { candidates, roots, innovations, long_memory, cycle })
}

/// The evidence for a model before its prior odds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Evidence {
    /// Which model.
    pub model: CandidateModel,
    /// `(L + T) (1 + (k-1)/(n-k))`.
    pub value: f64,
    /// What of it is due to heavy tails.
    pub tails: f64,
    /// Observations before the break, if it has one.
    pub before: Option<usize>,
}

/// The evidence of every model, in the order of the table; `None` as for
/// [`weigh_candidates`].
pub fn evidence(y: &[f64], season: Option<usize>) -> Option<[Evidence; 12]> {
    Weighing::new(y, season).map(|weighing| weighing.evidence())
}

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
            stationary: averaged(&rows, &columns_of(Judged::Stationary), &inner),
            integrated: averaged(&rows, &columns_of(Judged::Integrated), &outer),
            changes_with_root: averaged(&changes, &[vec![1]], &outer),
            changes_without: averaged(&changes, &[vec![1], vec![1, 2]], &inner),
            rows,
            changes,
            dates,
            inner,
            outer,
        })
    }

    fn evidence(&self) -> [Evidence; 12] {
        let n = self.rows.len() as f64;
        TABLE.map(|definition| {
            let k = definition.columns.len() as f64;
            let before = definition.date.and_then(|rule| self.dates.by(rule));
            let tails = self.innovations(definition.model, false).map_or(0.0, |e| heavy_tails(&e));
            let stretch = 1.0 + (k - 1.0) / (n - k);
            let (value, tails) = ((self.likelihood(&definition) + tails) * stretch, tails * stretch);
            Evidence { model: definition.model, value, tails, before }
        })
    }

    /// The averaged likelihood.
    fn likelihood(&self, definition: &Definition) -> f64 {
        let settled = |dynamic: usize| self.inner[dynamic].largest < SETTLES;
        let place = place_of(definition.model);
        match definition.judged {
            // About a break, a root near one is a random walk by another name.
            Judged::Stationary if definition.kind == ModelClass::Broken => {
                self.stationary.averaged_where(place, settled)
            }
            Judged::Stationary => self.stationary.models[place],
            Judged::Integrated => self.integrated.models[place],
            // Both are told by the changes, against changes without a root and without a step.
            Judged::ByStepInChanges => self.drift() + self.changes_without.averaged_where(1, settled),
            Judged::ByRootInChanges => self.drift() + self.changes_with_root.models[0],
        }
    }

    /// The likelihood of a random walk with drift less that of its changes.
    fn drift(&self) -> f64 {
        let place = place_of(CandidateModel::RandomWalkWithDrift);
        self.integrated.models[place] - self.changes_without.models[0]
    }

    /// The likelihoods that a model is judged by, their dynamics, and its place among them.
    fn basis(&self, model: CandidateModel) -> (&Averaged, &[Weighted], usize) {
        match model.definition().judged {
            Judged::Stationary => (&self.stationary, &self.inner, place_of(model)),
            Judged::Integrated => (&self.integrated, &self.outer, place_of(model)),
            Judged::ByStepInChanges => (&self.changes_without, &self.inner, 1),
            Judged::ByRootInChanges => (&self.changes_with_root, &self.outer, 0),
        }
    }

    /// The innovations of a model under the most probable of the dynamics that were tried, or of those near it.
    fn innovations(&self, model: CandidateModel, is_refined: bool) -> Option<Vec<f64>> {
        let definition = model.definition();
        let (averages, dynamics, place) = self.basis(model);
        let start = &dynamics.get(averages.most_probable(place)?)?.mixture;
        let root = matches!(definition.judged, Judged::Integrated | Judged::ByRootInChanges).then_some(UNIT);
        match definition.judged {
            Judged::Stationary | Judged::Integrated => {
                of_rows(&self.rows, &definition.places(), start, root, is_refined)
            }
            Judged::ByStepInChanges => of_rows(&self.changes, &[1, 2], start, root, is_refined),
            Judged::ByRootInChanges => of_rows(&self.changes, &[1], start, root, is_refined),
        }
    }

    /// The cycle of a model, over the dynamics that it was judged with.
    fn cycle(&self, model: CandidateModel) -> Option<Cycle> {
        let (averages, dynamics, place) = self.basis(model);
        let values = averages.values.get(place)?;
        let most = values.iter().map(|(_, value, _)| *value).fold(f64::NEG_INFINITY, f64::max);
        let (mut all, mut cyclical, mut periods) = (0.0, 0.0, 0.0);
        for (dynamic, value, weight) in values {
            let share = weight * (value - most).exp();
            all += share;
            if let Some(period) = dynamics.get(*dynamic)?.cycle {
                cyclical += share;
                periods += share * period;
            }
        }
        let cycle = Cycle { period: periods / cyclical, probability: cyclical / all };
        cycle.period.is_finite().then_some(cycle)
    }

    /// The largest root's probabilities over the models without a break.
    fn roots(&self, longer: f64) -> Vec<(f64, f64)> {
        let n = self.rows.len() as f64;
        let mut all: Vec<(f64, f64)> = Vec::new();
        for definition in TABLE.iter().filter(|definition| definition.date.is_none()) {
            let (averages, dynamics) = match definition.judged {
                Judged::Stationary => (&self.stationary, &self.inner),
                Judged::Integrated => (&self.integrated, &self.outer),
                Judged::ByRootInChanges | Judged::ByStepInChanges => continue,
            };
            let [prior, by_length] = definition.prior;
            let columns = definition.columns.len() as f64;
            let stretch = 1.0 + (columns - 1.0) / (n - columns);
            for (dynamic, value, weight) in &averages.values[place_of(definition.model)] {
                all.push((
                    dynamics[*dynamic].largest,
                    value * stretch + prior + by_length * longer + weight.ln(),
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

fn of_rows<const C: usize>(
    rows: &[[f64; C]],
    columns: &[usize],
    start: &Mixture,
    root: Option<f64>,
    is_refined: bool,
) -> Option<Vec<f64>> {
    if is_refined {
        return innovations(rows, columns, &refined(rows, columns, start, root));
    }
    innovations(rows, columns, start)
}

/// The columns of the models that are compared in one way, in the order of the table.
fn columns_of(judged: Judged) -> Vec<Vec<usize>> {
    TABLE.iter().filter(|definition| definition.judged == judged).map(Definition::places).collect()
}

/// The place of a model among those that are compared in the same way.
fn place_of(model: CandidateModel) -> usize {
    let own = model.definition().judged;
    let same = TABLE.iter().filter(|definition| definition.judged == own);
    same.take_while(|definition| definition.model != model).count()
}

/// The share of each model in the sum of `e^E`.
fn shares(all: &[Evidence]) -> Option<Vec<CandidateProbability>> {
    let most = all.iter().map(|one| one.value).fold(f64::NEG_INFINITY, f64::max);
    if !most.is_finite() {
        return None;
    }
    let total: f64 = all.iter().map(|one| (one.value - most).exp()).sum();
    let probability = |one: &Evidence| CandidateProbability {
        model: one.model,
        probability: (one.value - most).exp() / total,
        before: one.before,
    };
    let mut candidates: Vec<CandidateProbability> = all.iter().map(probability).collect();
    candidates.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    Some(candidates)
}

/// The probability of every kind as it is, shared among its models by their own evidence.
fn shares_in_kinds(all: &[CandidateProbability], evidence: &[Evidence]) -> Vec<CandidateProbability> {
    let mut shared: Vec<CandidateProbability> = Vec::with_capacity(all.len());
    for kind in ModelClass::ALL {
        let total: f64 = all.iter().filter(|one| one.model.kind() == kind).map(|one| one.probability).sum();
        let own: Vec<Evidence> = evidence.iter().filter(|one| one.model.kind() == kind).copied().collect();
        let within = shares(&own).unwrap_or_default().into_iter();
        shared.extend(within.map(|one| CandidateProbability { probability: total * one.probability, ..one }));
    }
    shared.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    shared
}

/// Observations before the break, by each rule.
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

    fn by(&self, rule: DateRule) -> Option<usize> {
        match rule {
            DateRule::MeanLevel => self.mean_level,
            DateRule::TrendLevel => self.trend_level,
            DateRule::TrendBoth => self.trend_both,
            DateRule::TrendSlope => self.trend_slope,
            DateRule::LargestChange => self.walk_level,
        }
    }

    /// The changes, a constant, and a step where the slope changes.
    fn changes(&self, x: &[f64]) -> Vec<[f64; 3]> {
        let step = |t: usize| f64::from(u8::from(self.trend_slope.is_some_and(|before| t >= before)));
        x.windows(2).zip(1..).map(|(pair, t)| [pair[1] - pair[0], 1.0, step(t)]).collect()
    }

    /// The columns; a break without a date is a column of zeros, whose models have no
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

impl CandidateWeights {
    /// Gives the models of each number of differences, 0 to 2, this probability together: that of a posterior which compares
    /// differences with the seasonality. Models keep their proportions among those of as many differences.
    pub fn with_differences(&mut self, wanted: [f64; 3]) {
        let mut own = [0.0_f64; 3];
        for one in &self.candidates {
            own[one.model.kind().integration().min(2)] += one.probability;
        }
        // Differences that no model here has cannot take theirs.
        let possible: f64 =
            wanted.iter().zip(own).filter(|(_, own)| *own > 0.0).map(|(wanted, _)| wanted).sum();
        if possible <= 0.0 {
            return;
        }
        for one in &mut self.candidates {
            let d = one.model.kind().integration().min(2);
            one.probability *= if own[d] > 0.0 { wanted[d] / (own[d] * possible) } else { 0.0 };
        }
        self.candidates.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    }

    /// The probability of a kind.
    pub fn probability(&self, kind: ModelClass) -> f64 {
        self.candidates.iter().filter(|one| one.model.kind() == kind).map(|one| one.probability).sum()
    }

    /// The most probable kind.
    pub fn kind(&self) -> ModelClass {
        ModelClass::ALL
            .into_iter()
            .max_by(|a, b| self.probability(*a).total_cmp(&self.probability(*b)))
            .unwrap_or(ModelClass::Stationary)
    }

    /// The most probable model of a kind.
    pub fn best_of(&self, kind: ModelClass) -> Option<CandidateProbability> {
        self.candidates.iter().find(|one| one.model.kind() == kind).copied()
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

#[cfg(test)]
mod tests;
