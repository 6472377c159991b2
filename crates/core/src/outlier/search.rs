//! All methods of finding outliers, and their agreement.

use crate::num::scale::InvalidSeries;
use schemars::JsonSchema;
use serde::Serialize;

use super::background::Background;
use super::error::OutlierError;
use super::event::{Event, EventKind};
use super::expanding::expanding;
use super::likelihood::{Limits, likelihood_search};
use super::remainder::far_out;
use super::same_season::same_season;
use super::scarce::Suspects;
use crate::num::{normal, scale};

/// A way to find outliers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Method {
    /// Each value against all before it.
    Expanding,
    /// Each value against the same season of the other years.
    Seasonal,
    /// Remainders of a robust decomposition.
    Irregular,
    /// Likelihood ratio of single values, shifts and temporary changes.
    Likelihood,
}

impl Method {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Expanding, Self::Seasonal, Self::Irregular, Self::Likelihood];
}

/// Values needed at least.
const MIN_OBSERVATIONS_OUTLIERS: usize = 20;
/// Seasons needed at least.
const MIN_CYCLES_OUTLIERS: usize = 3;
/// A method flags a value at that much less.
const LESS: f64 = 0.25;
/// Standard errors from which the likelihood alone marks a single value of a short series, …
const CLEAR: f64 = 3.5;
/// … and in a long one those that that many of normal values would exceed.
const BY_CHANCE: f64 = 0.056;
/// A shift needs that number of standard errors more.
const SHIFT_MORE: f64 = 0.75;

/// What is asked for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct OutlierOptions {
    /// Observations in a season; 1 for none.
    pub season: usize,
    /// The ways to be gone; those that need a season are left out without one.
    pub methods: Vec<Method>,
}

/// A value that one method at least flags.
#[derive(Debug, Clone, PartialEq)]
pub struct OutlyingValue {
    /// Where.
    pub place: usize,
    /// What happened.
    pub kind: EventKind,
    /// What the value would have been.
    pub expected: f64,
    /// Score by each method that flags it, in standard deviations.
    pub scores: Vec<(Method, f64)>,
    /// Whether the methods agree enough to mark it.
    pub marked: bool,
    /// Whether one more method, or the likelihood beside those that flag it, would mark it.
    pub is_candidate: bool,
}

/// What was found.
#[derive(Debug, Clone, PartialEq)]
pub struct Outliers {
    /// The methods that were used.
    pub methods: Vec<Method>,
    /// How many of them must agree.
    pub agreeing: usize,
    /// Standard errors from which the likelihood alone marks a single value.
    pub clear: f64,
    /// And a level shift.
    pub clear_shift: f64,
    /// In order of time.
    pub outliers: Vec<OutlyingValue>,
    /// What each value would be without outliers.
    pub expected: Vec<f64>,
    /// Values at the beginning that the expanding window cannot test.
    pub unjudged: usize,
    pub(super) background: Background,
    pub(super) events: Vec<Event>,
}

impl Outliers {
    /// Those that are marked.
    pub fn marked(&self) -> impl Iterator<Item = &OutlyingValue> {
        self.outliers.iter().filter(|one| one.marked)
    }
}

/// Looks for outliers in several ways.
///
/// # Rule
/// A single value or temporary change is marked if two methods flag it (one, if only one is
/// used): beyond 3.25 standard deviations (more, if more than 120 values make false positives
/// more probable), or three interquartile ranges for the irregular component. Where the likelihood search is used it must be one of the two, as no other allows for neighbours
/// that are autocorrelated; alone it marks a single value from 0.25 more, and a level shift, which
/// no other method can detect, from another 0.75 more. A shift is taken out before the others look.
///
/// # Errors
/// [`OutlierError`].
pub fn find(y: &[f64], options: &OutlierOptions) -> Result<Outliers, OutlierError> {
    let found = detect(y, options)?;
    let Some(suspects) = Suspects::of(y, options.season, &found) else {
        return Ok(found);
    };
    let again = detect(&suspects.left_out(y), options)?;
    Ok(suspects.settle(&found, again))
}

/// Looks once, every value taken as it is.
pub(super) fn detect(y: &[f64], options: &OutlierOptions) -> Result<Outliers, OutlierError> {
    let season = options.season.max(1);
    let methods = usable(y, season, &options.methods)?;
    let uses = |method| methods.contains(&method);
    let mut background = Background::of(y, season)?;
    if !background.leaves_more_than_rounding(y) {
        return Err(OutlierError::Deterministic);
    }
    let mut events = Vec::new();
    let mut level = y.to_vec();
    if uses(Method::Likelihood) {
        events = searched(y, &background)?;
        level = without_shifts(y, &events);
        if events.iter().any(|event| event.kind == EventKind::LevelShift) {
            background = Background::of(&level, season)?;
            events = searched(y, &background)?;
            level = without_shifts(y, &events);
            background = Background::of(&level, season)?;
        }
    }
    let remainder = background.remainder(&level);
    let mut found = Detections { outliers: Vec::new() };
    let mut unjudged = 0;
    let limit = clear(y.len()) - LESS;
    if uses(Method::Expanding) {
        // Of an evolving season the middle third of its window is the same season still.
        let years = background.evolving.map(|window| window / 3);
        let judged = expanding(&level, season, years, limit);
        unjudged = judged.scores.iter().position(Option::is_some).unwrap_or(y.len());
        for (place, score) in judged.scores.iter().enumerate().filter(|(_, score)| beyond(**score, limit)) {
            let kind =
                if judged.shifts.contains(&place) { EventKind::LevelShift } else { EventKind::Additive };
            found.add(place, kind, Method::Expanding, score.unwrap_or_default());
        }
    }
    if uses(Method::Seasonal) {
        let detrended: Vec<f64> =
            level.iter().zip(&background.trend).map(|(value, trend)| value - trend).collect();
        for (place, score) in same_season(&detrended, season, limit)
            .iter()
            .enumerate()
            .filter(|(_, score)| beyond(**score, limit))
        {
            found.add(place, EventKind::Additive, Method::Seasonal, score.unwrap_or_default());
        }
    }
    if uses(Method::Irregular) {
        let (scores, odd) = far_out(&remainder);
        for place in (0..y.len()).filter(|place| odd[*place]) {
            found.add(place, EventKind::Additive, Method::Irregular, scores[place].unwrap_or_default());
        }
    }
    for event in &events {
        found.add(event.place, event.kind, Method::Likelihood, event.score);
    }
    let expected: Vec<f64> = (0..y.len()).map(|t| background.expected(t) + y[t] - level[t]).collect();
    let odd = found.judged(&expected, &level, y, &methods);
    let agreeing = agreeing(&methods);
    Ok(Outliers {
        clear: clear(y.len()),
        clear_shift: clear(y.len()) + SHIFT_MORE,
        methods,
        agreeing,
        outliers: odd,
        expected,
        unjudged,
        background,
        events,
    })
}

/// That number of methods must agree.
fn agreeing(methods: &[Method]) -> usize {
    methods.len().min(2)
}

fn beyond(score: Option<f64>, limit: f64) -> bool {
    score.is_some_and(|score| score.abs() > limit)
}

/// The methods that a series bears.
fn usable(y: &[f64], season: usize, asked: &[Method]) -> Result<Vec<Method>, OutlierError> {
    scale::check(y)?;
    let (observations, needed) = (y.len(), MIN_OBSERVATIONS_OUTLIERS);
    if observations < needed {
        return Err(OutlierError::InvalidSeries(InvalidSeries::TooShort { observations, needed }));
    }
    let needed = MIN_CYCLES_OUTLIERS * season;
    if season > 1 && observations < needed {
        return Err(OutlierError::FewSeasons { observations, needed, season });
    }
    let fits = |method: &Method| season > 1 || *method != Method::Seasonal;
    let mut methods: Vec<Method> = asked.iter().copied().filter(fits).collect();
    methods.sort_unstable();
    methods.dedup();
    if methods.is_empty() { Err(OutlierError::NoSeason) } else { Ok(methods) }
}

/// Standard errors from which one of `count` values is clearly an outlier.
fn clear(count: usize) -> f64 {
    (-normal::quantile(0.5 * BY_CHANCE / count.max(1) as f64)).max(CLEAR)
}

fn searched(y: &[f64], background: &Background) -> Result<Vec<Event>, OutlierError> {
    let adjusted: Vec<f64> = y.iter().zip(&background.season).map(|(value, season)| value - season).collect();
    likelihood_search(
        &adjusted,
        background.degrees,
        Limits { value: clear(y.len()) - LESS, shift: clear(y.len()) + SHIFT_MORE },
    )
}

/// The series with every shift of its level taken back.
fn without_shifts(y: &[f64], events: &[Event]) -> Vec<f64> {
    let mut level = y.to_vec();
    for event in events.iter().filter(|event| event.kind == EventKind::LevelShift) {
        level.iter_mut().skip(event.place).for_each(|value| *value -= event.size);
    }
    level
}

struct Detections {
    outliers: Vec<OutlyingValue>,
}

impl Detections {
    fn add(&mut self, place: usize, kind: EventKind, method: Method, score: f64) {
        match self.outliers.iter_mut().find(|one| one.place == place) {
            Some(one) => {
                one.scores.push((method, score));
                // The likelihood, which comes last, distinguishes the kinds.
                one.kind = if method == Method::Likelihood { kind } else { one.kind };
            }
            None => {
                self.outliers.push(OutlyingValue {
                    place,
                    kind,
                    expected: 0.0,
                    scores: vec![(method, score)],
                    marked: false,
                    is_candidate: false,
                });
            }
        }
    }

    fn judged(
        mut self,
        expected: &[f64],
        level: &[f64],
        y: &[f64],
        methods: &[Method],
    ) -> Vec<OutlyingValue> {
        let agreeing = agreeing(methods);
        for one in &mut self.outliers {
            let shift = one.kind == EventKind::LevelShift;
            let likelihood = one.scores.iter().find(|(method, _)| *method == Method::Likelihood);
            let clear = likelihood.is_some_and(|(_, score)| match one.kind {
                EventKind::Additive => score.abs() > clear(y.len()),
                EventKind::LevelShift => true,
                EventKind::TemporaryChange => false,
            });
            let heard = likelihood.is_some() || !methods.contains(&Method::Likelihood);
            one.marked = (heard && one.scores.len() >= agreeing) || clear;
            one.is_candidate = !one.marked && (heard || one.scores.len() >= agreeing);
            // A shift is outlying relative to the level before it.
            let before = one.place.saturating_sub(1);
            let moved = (y[one.place] - level[one.place]) - (y[before] - level[before]);
            one.expected = expected[one.place] - if shift { moved } else { 0.0 };
        }
        self.outliers.sort_by_key(|one| one.place);
        self.outliers
    }
}
