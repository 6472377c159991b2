//! The likelihood with a level shift, an outlier or a change in slope, averaged over all dates.

use std::collections::HashMap;
use std::ops::Range;
use std::sync::{Arc, LazyLock, Mutex};

use rayon::prelude::*;

use super::dynamics::Dynamics;
use super::evidence::{Sample, concentrated, log_sum, process};
use super::prior::{Orders, no_slope};
use super::seasonal::SeasonalFactor;
use crate::arima::{Coefficients, Precision};
use crate::num::sum::dot;

/// What happens once in a series.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BreakType {
    /// The level shifts for good.
    LevelShift,
    /// One observation is outlying.
    Outlier,
    /// The slope of the trend changes.
    SlopeChange,
    /// The seasonal pattern changes.
    PatternChange,
}

impl BreakType {
    /// Those of one column, with the standard deviations of their sizes in units of the innovations'.
    const OF_ONE_COLUMN: [(BreakType, f64); 3] =
        [(Self::LevelShift, 6.0), (Self::Outlier, 8.0), (Self::SlopeChange, 3.0)];

    /// The prior probability.
    pub fn prior(self) -> f64 {
        match self {
            Self::LevelShift | Self::Outlier => 0.05,
            Self::SlopeChange | Self::PatternChange => 0.02,
        }
    }

    /// Whether a model of these differences is tried with it.
    fn is_tried(self, orders: Orders) -> bool {
        let once = orders.d < 2 && orders.seasonal < 2 && orders.further() < 2;
        once && (self != Self::SlopeChange || orders.has_slope())
    }
}

/// The evidence for one break in one model.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BreakEvidence {
    /// Of which type.
    pub kind: BreakType,
    /// The logarithm of the likelihood, averaged over dates, dynamics, factors and slopes; the prior of the type is in it.
    pub log_evidence: f64,
    /// The most probable date: the place in the series of the first observation that it changes.
    pub at: usize,
}

impl BreakEvidence {
    /// The regressor of the break in the series itself, for a series of this length.
    pub fn column(&self, count: usize) -> Vec<f64> {
        let since = |t: usize| (t + 1).saturating_sub(self.at) as f64;
        let of = |t: usize| match self.kind {
            BreakType::LevelShift | BreakType::PatternChange => f64::from(u8::from(t >= self.at)),
            BreakType::Outlier => f64::from(u8::from(t == self.at)),
            BreakType::SlopeChange => since(t) / count as f64,
        };
        (0..count).map(of).collect()
    }
}

/// Means of v that are averaged over, with their weights: a coarser list than without a break.
const SLOPE: [(f64, f64); 2] = [(2.0, 0.6), (32.0, 0.4)];

/// The evidence for each break in a model.
///
/// # Formula
/// For the column a of a break at date τ, with prior variance b² of its size: `Q - (a'Σ⁻¹v)²/(a'Σ⁻¹a + 1/b²)` and
/// `ln|Σ| + ln(1 + b² a'Σ⁻¹a)`. One product `Σ⁻¹ v` gives `a'Σ⁻¹v` for every date by running sums; `a'Σ⁻¹a` changes
/// little from one date to the next and is interpolated between dates a season apart, nearer ones at both ends. A change
/// in slope is tried at such dates only.
pub fn breaks(
    sample: &Sample,
    orders: Orders,
    dynamics: &[Dynamics],
    factors: &[SeasonalFactor],
) -> Vec<BreakEvidence> {
    let core: Vec<(Coefficients, f64)> = dynamics
        .iter()
        .filter(|one| one.is_core)
        .flat_map(|one| {
            let core = factors.iter().filter(|factor| factor.is_core);
            core.map(|factor| (process(orders, one, factor), one.weight * factor.weight))
        })
        .collect();
    let total: f64 = core.iter().map(|(_, weight)| weight).sum();
    let kinds: Vec<_> =
        BreakType::OF_ONE_COLUMN.into_iter().filter(|(kind, _)| kind.is_tried(orders)).collect();
    let dates: Vec<Vec<usize>> = kinds.iter().map(|(kind, _)| dates(sample, *kind)).collect();
    let key = ([orders.d, orders.seasonal], sample.season, sample.ones().len());
    let squares = SQUARES.of(key, || {
        let of =
            |(process, _): &(Coefficients, f64)| squares(sample, orders, process, &kinds).unwrap_or_default();
        core.par_iter().map(of).collect()
    });
    let by_point: Vec<Vec<Vec<f64>>> = core
        .par_iter()
        .zip(squares.as_slice())
        .filter_map(|((process, weight), squares)| {
            let at = AtPoint::new(sample, orders, process)?;
            let own = (weight / total).ln();
            Some(
                kinds
                    .iter()
                    .zip(&dates)
                    .zip(squares)
                    .map(|(((kind, sd), dates), squares)| at.by_date(*kind, *sd, own, (dates, squares)))
                    .collect(),
            )
        })
        .collect();
    let one = |(which, (kind, _)): (usize, &(BreakType, f64))| {
        let of_date = |place: usize| log_sum(by_point.iter().map(|point| point[which][place]));
        let dates = &dates[which];
        let all: Vec<f64> = (0..dates.len()).map(of_date).collect();
        let best = (0..all.len()).max_by(|a, b| all[*a].total_cmp(&all[*b]))?;
        let log_evidence = kind.prior().ln() + log_sum(all.iter().copied()) - (dates.len() as f64).ln();
        Some(BreakEvidence { kind: *kind, log_evidence, at: sample.season + dates[best] })
    };
    kinds.iter().enumerate().filter_map(one).collect()
}

/// Places of v at which a break may begin.
fn dates(sample: &Sample, kind: BreakType) -> Vec<usize> {
    match kind {
        // Its column changes little from one date to the next.
        BreakType::SlopeChange => nodes_of(sample, kind),
        _ => range(sample).collect(),
    }
}

/// The dates at which `a' Σ⁻¹ a` is computed.
fn nodes_of(sample: &Sample, kind: BreakType) -> Vec<usize> {
    nodes(sample, if kind == BreakType::SlopeChange { 2 } else { 1 })
}

fn range(sample: &Sample) -> Range<usize> {
    1..sample.ones().len().saturating_sub(3).max(1)
}

/// In a long series of short seasons nodes are farther apart than a season: about this number is enough.
const MOST_NODES: usize = 40;

/// Places a given number to a season, and four to a season near both ends.
fn nodes(sample: &Sample, to_a_season: usize) -> Vec<usize> {
    let (dates, season) = (range(sample), sample.season);
    let (near, far) = ((season / 4).max(1), (season / to_a_season).max(dates.len() / MOST_NODES).max(1));
    let inside = dates.start + season..dates.end.saturating_sub(season);
    let mut nodes = Vec::new();
    let mut t = dates.start;
    while t < dates.end {
        nodes.push(t);
        t += if inside.contains(&t) { far.min((inside.end - t).max(near)) } else { near };
    }
    nodes.extend(dates.last());
    nodes.dedup();
    nodes
}

/// The products of one point with the columns of every date.
struct AtPoint<'a> {
    sample: &'a Sample,
    orders: Orders,
    precision: Precision<'a>,
    square: f64,
    with_series: Sums,
    /// With the column of ones, and its own square, where v has a mean.
    with_ones: Option<(Sums, f64)>,
}

impl<'a> AtPoint<'a> {
    fn new(sample: &'a Sample, orders: Orders, process: &'a Coefficients) -> Option<Self> {
        let x = &sample.differenced[orders.further()];
        let precision = Precision::new(process, x.len(), sample.season)?;
        let of_x = precision.times(x);
        let with_ones = orders.has_slope().then(|| {
            let of_ones = precision.times(sample.ones());
            let own = of_ones.iter().sum();
            (Sums::new(of_ones, sample.season), own)
        });
        let square = dot(x, &of_x);
        let with_series = Sums::new(undifferenced(of_x, orders), sample.season);
        Some(Self { sample, orders, precision, square, with_series, with_ones })
    }

    /// The logarithm of the likelihood for each date.
    fn by_date(
        &self,
        kind: BreakType,
        sd: f64,
        weight: f64,
        (dates, squares): (&[usize], &[f64]),
    ) -> Vec<f64> {
        let own = interpolated(squares, &nodes_of(self.sample, kind), dates);
        let zero = no_slope(self.orders);
        let start = self.sample.starts()[0];
        // Where v is differenced its first value is independent; its prior is the same for all dates.
        let fixed = if self.orders.has_slope() { 0.0 } else { start * start / 17.0 };
        let logs =
            self.precision.log_determinant() + if self.orders.has_slope() { 0.0 } else { 17.0_f64.ln() };
        let prior = 1.0 / (sd * sd);
        let slopes: Vec<(f64, f64)> = match &self.with_ones {
            None => vec![(f64::NAN, 1.0)],
            Some(_) => std::iter::once((f64::NAN, zero))
                .chain(SLOPE.iter().map(|(sd, weight)| (*sd, (1.0 - zero) * weight)))
                .collect(),
        };
        let at = |(date, own): (usize, f64)| {
            let cross = self.with_series.with(kind, date);
            log_sum(slopes.iter().map(|(slope, share)| {
                let (mut square, mut cross, mut own, mut logs) = (self.square + fixed, cross, own, logs);
                if let (Some((sums, ones)), true) = (&self.with_ones, slope.is_finite()) {
                    let (of_series, of_break) = (self.with_series.all(), sums.with(kind, date));
                    let held = ones + 1.0 / (slope * slope);
                    square -= of_series * of_series / held;
                    cross -= of_break * of_series / held;
                    own -= of_break * of_break / held;
                    logs += (slope * slope * held).ln();
                }
                let held = own.max(0.0) + prior;
                let square = square - cross * cross / held;
                share.ln() + weight + concentrated(square, logs + (held / prior).ln(), self.sample)
            }))
        };
        dates.iter().copied().zip(own).map(at).collect()
    }
}

/// `a' Σ⁻¹ a` at the nodes for every type of break.
fn squares(
    sample: &Sample,
    orders: Orders,
    process: &Coefficients,
    kinds: &[(BreakType, f64)],
) -> Option<Vec<Vec<f64>>> {
    let (season, count) = (sample.season, sample.ones().len());
    let precision = Precision::new(process, count - orders.further(), season)?;
    let square = |kind: BreakType, date: usize| {
        let v: Vec<f64> = (0..count).map(|t| effect(kind, date, t, season)).collect();
        match orders.further() {
            0 => precision.square(&v),
            _ => precision.square(&v.windows(2).map(|pair| pair[1] - pair[0]).collect::<Vec<_>>()),
        }
    };
    let of = |(kind, _): &(BreakType, f64)| {
        nodes_of(sample, *kind).into_iter().map(|date| square(*kind, date)).collect()
    };
    Some(kinds.iter().map(of).collect())
}

/// Values between nodes, on the line that joins them.
fn interpolated(at_nodes: &[f64], nodes: &[usize], dates: &[usize]) -> Vec<f64> {
    let mut node = 0;
    let of = |date: &usize| {
        while node + 2 < nodes.len() && nodes[node + 1] <= *date {
            node += 1;
        }
        let (left, right) = (nodes.get(node)?, nodes.get(node + 1).unwrap_or(nodes.get(node)?));
        let share = (date - left) as f64 / (right - left).max(1) as f64;
        Some((1.0 - share) * at_nodes.get(node)? + share * at_nodes.get(node + 1).unwrap_or(&0.0))
    };
    dates.iter().map_while(of).collect()
}

/// The squares of models, periods and lengths met before: they do not depend on the series.
struct Squares(LazyLock<Mutex<HashMap<SquaresKey, Arc<SquaresByPoint>>>>);

/// d and D, the seasonal period, the number of seasonal differences.
type SquaresKey = ([usize; 2], usize, usize);
/// By point, type of break and node.
type SquaresByPoint = Vec<Vec<Vec<f64>>>;

static SQUARES: Squares = Squares(LazyLock::new(Mutex::default));
/// The number of entries kept.
const KEPT: usize = 256;

impl Squares {
    fn of(&self, key: SquaresKey, make: impl FnOnce() -> SquaresByPoint) -> Arc<SquaresByPoint> {
        let known = self.0.lock().ok().and_then(|all| all.get(&key).cloned());
        known.unwrap_or_else(|| {
            let made = Arc::new(make());
            if let Ok(mut all) = self.0.lock() {
                if all.len() >= KEPT {
                    all.clear();
                }
                all.insert(key, Arc::clone(&made));
            }
            made
        })
    }
}

/// What a break adds to the seasonal difference at place t.
fn effect(kind: BreakType, date: usize, t: usize, season: usize) -> f64 {
    match (kind, t.checked_sub(date)) {
        (_, None) | (BreakType::PatternChange, _) => 0.0,
        (BreakType::LevelShift, Some(since)) => f64::from(u8::from(since < season)),
        (BreakType::Outlier, Some(0)) => 1.0,
        (BreakType::Outlier, Some(since)) => -f64::from(u8::from(since == season)),
        (BreakType::SlopeChange, Some(since)) => (since + 1).min(season) as f64 / season as f64,
    }
}

/// From the products with differences to those with the values.
fn undifferenced(of_x: Vec<f64>, orders: Orders) -> Vec<f64> {
    if orders.further() == 0 {
        return of_x;
    }
    let last = of_x.len();
    let at = |t: Option<usize>| t.and_then(|t| of_x.get(t)).copied().unwrap_or(0.0);
    (0..=last).map(|t| at(t.checked_sub(1)) - at(Some(t))).collect()
}

/// Running sums that give the product with any break's column.
struct Sums {
    season: usize,
    values: Vec<f64>,
    /// Sums of the values before each place, and of the values times their places.
    before: Vec<f64>,
    weighted: Vec<f64>,
}

impl Sums {
    fn new(values: Vec<f64>, season: usize) -> Self {
        let (mut before, mut weighted) = (vec![0.0], vec![0.0]);
        let (mut sum, mut moment) = (0.0, 0.0);
        for (t, value) in values.iter().enumerate() {
            sum += value;
            moment += t as f64 * value;
            before.push(sum);
            weighted.push(moment);
        }
        Self { season, values, before, weighted }
    }

    fn all(&self) -> f64 {
        self.before[self.values.len()]
    }

    /// The product with the column of a break that begins at a place.
    fn with(&self, kind: BreakType, date: usize) -> f64 {
        let end = (date + self.season).min(self.values.len());
        let inside = self.before[end] - self.before[date];
        match kind {
            BreakType::LevelShift => inside,
            BreakType::Outlier => {
                self.values[date] - self.values.get(date + self.season).copied().unwrap_or(0.0)
            }
            BreakType::PatternChange => 0.0,
            BreakType::SlopeChange => {
                let moments = self.weighted[end] - self.weighted[date];
                (moments - (date as f64 - 1.0) * inside) / self.season as f64 + self.all() - self.before[end]
            }
        }
    }
}
