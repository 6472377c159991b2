//! The orders of a seasonal model in the notation of the literature.

use std::fmt;

use thiserror::Error;

/// Orders of a seasonal model, `(p,d,q)(P,D,Q)s`, and what is included with it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Default)]
pub struct Model {
    /// p.
    pub ar: usize,
    /// d.
    pub differences: usize,
    /// q.
    pub ma: usize,
    /// P.
    pub seasonal_ar: usize,
    /// D.
    pub seasonal_differences: usize,
    /// Q.
    pub seasonal_ma: usize,
    /// s; 1 without seasonal terms.
    pub season: usize,
    /// A mean or a drift.
    pub level: Level,
}

/// What the differenced series is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Default)]
pub enum Level {
    /// Zero.
    #[default]
    None,
    /// The mean of the series, which is not differenced.
    Mean,
    /// A slope per period, of a series that is differenced once.
    Drift,
}

/// Why a text names no model.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum ModelError {
    /// It has another form.
    #[error("a model is written (p,d,q) or (p,d,q)(P,D,Q)s, optionally followed by +mean, +drift or +none")]
    Form,
    /// Seasonal orders without a season.
    #[error("seasonal orders are followed by the seasonal period, at least 2")]
    Season,
    /// An order beyond what can be estimated.
    #[error("an order of {0} is more than {most}", most = MOST)]
    Order(usize),
    /// Differenced too often.
    #[error("{0} differences are too many: at most two, and one seasonal difference")]
    Differences(usize),
    /// A mean of what is differenced, or a drift of what is not differenced once.
    #[error("a mean belongs to a series that is not differenced, a drift to one that is differenced once")]
    Level,
}

/// The largest order.
const MOST: usize = 30;

impl Level {
    /// Its column over that number of periods.
    pub(super) fn column(self, length: usize) -> Option<Vec<f64>> {
        match self {
            Self::None => None,
            Self::Mean => Some(vec![1.0; length]),
            Self::Drift => Some((0..length).map(|t| t as f64).collect()),
        }
    }
}

impl Model {
    /// Reads the notation of the literature, as [`WrittenModel::parse`] does; seasonal orders need their season.
    ///
    /// # Errors
    /// [`ModelError`].
    pub fn parse(text: &str) -> Result<Self, ModelError> {
        WrittenModel::parse(text)?.with_season(1)
    }

    /// d + D.
    pub fn times_differenced(&self) -> usize {
        self.differences + self.seasonal_differences
    }

    /// Values lost to differences.
    pub fn lost(&self) -> usize {
        self.differences + self.season * self.seasonal_differences
    }

    /// p + q + P + Q.
    pub fn coefficients(&self) -> usize {
        self.ar + self.ma + self.seasonal_ar + self.seasonal_ma
    }

    /// The series after its differences.
    pub fn differenced(&self, y: &[f64]) -> Vec<f64> {
        Self::at_lags(y, &self.lags().collect::<Vec<_>>())
    }

    /// Lags of its differences, in the order they are taken.
    pub(super) fn lags(&self) -> impl Iterator<Item = usize> + use<> {
        std::iter::repeat_n(1, self.differences)
            .chain(std::iter::repeat_n(self.season, self.seasonal_differences))
    }

    /// A series after differences at these lags.
    pub(super) fn at_lags(y: &[f64], lags: &[usize]) -> Vec<f64> {
        let mut w = y.to_vec();
        for lag in lags {
            w = w.iter().skip(*lag).zip(&w).map(|(now, then)| now - then).collect();
        }
        w
    }
}

/// A model as it is written, whose season may be left to the data.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct WrittenModel {
    model: Model,
    is_season_open: bool,
}

impl From<Model> for WrittenModel {
    fn from(model: Model) -> Self {
        Self { model, is_season_open: false }
    }
}

impl WrittenModel {
    /// p + q + P + Q.
    pub fn coefficients(self) -> usize {
        self.model.coefficients()
    }

    /// Reads `(0,1,1)(0,1,1)12+drift` and the other spellings of it: `SARIMA(0,1,1)(0,1,1)12`, `(0,1,1)x(0,1,1)12`,
    /// `(0,1,1)(0,1,1)[12]`, `(0,1,1)(0,1,1)` with the season of the data, `0,1,1`, `AR(1)`, `MA(2)`, `ARMA(1,1)`, in any
    /// case and with blanks. Without a word behind it a series that is not differenced has a mean, any other none.
    ///
    /// # Errors
    /// [`ModelError`].
    pub fn parse(text: &str) -> Result<Self, ModelError> {
        let plain: String = text.chars().filter(|c| !c.is_whitespace()).collect::<String>().to_lowercase();
        let (written, level) = match plain.rsplit_once('+') {
            Some((orders, word)) => (orders, Some(word)),
            None => (plain.as_str(), None),
        };
        let (short, rest) = first_orders(written)?;
        let mut model =
            Model { ar: short[0], differences: short[1], ma: short[2], season: 1, ..Model::default() };
        let mut is_season_open = false;
        if !rest.is_empty() {
            let (seasonal, season) = triple(rest.trim_start_matches(['x', '×', '*']))?;
            let season = season.strip_prefix('[').and_then(|own| own.strip_suffix(']')).unwrap_or(season);
            is_season_open = season.is_empty() && seasonal != [0; 3];
            if seasonal != [0; 3] {
                // A season that is open counts as the shortest until it is known.
                let season = if is_season_open { "2" } else { season };
                model.season = season.parse().ok().filter(|s| *s > 1).ok_or(ModelError::Season)?;
            }
            [model.seasonal_ar, model.seasonal_differences, model.seasonal_ma] = seasonal;
        }
        model.level = level_of(&model, level)?;
        within_limits(&model)?;
        Ok(Self { model, is_season_open })
    }

    /// The model on data of a season; 1 for none.
    ///
    /// # Errors
    /// [`ModelError::Season`] where it leaves its season open and the data have none.
    pub fn with_season(self, season: usize) -> Result<Model, ModelError> {
        match (self.is_season_open, season) {
            (false, _) => Ok(self.model),
            (true, 2..) => Ok(Model { season, ..self.model }),
            (true, _) => Err(ModelError::Season),
        }
    }
}

fn level_of(model: &Model, word: Option<&str>) -> Result<Level, ModelError> {
    match word {
        None if model.times_differenced() == 0 => Ok(Level::Mean),
        None | Some("none") => Ok(Level::None),
        Some("mean") => Ok(Level::Mean),
        Some("drift") => Ok(Level::Drift),
        Some(_) => Err(ModelError::Form),
    }
}

/// What can be estimated.
fn within_limits(model: &Model) -> Result<(), ModelError> {
    let orders = [model.ar, model.ma, model.seasonal_ar, model.seasonal_ma];
    if let Some(order) = orders.into_iter().find(|order| *order > MOST) {
        return Err(ModelError::Order(order));
    }
    let times = model.times_differenced();
    if model.differences > 2 || model.seasonal_differences > 1 && times > 2 {
        return Err(ModelError::Differences(times));
    }
    match model.level {
        Level::Mean if times != 0 => Err(ModelError::Level),
        Level::Drift if times != 1 => Err(ModelError::Level),
        _ => Ok(()),
    }
}

/// p, d and q, and what follows: in brackets, after the name of the model, or bare.
fn first_orders(text: &str) -> Result<([usize; 3], &str), ModelError> {
    let single = |rest: &str| -> Option<usize> { rest.strip_suffix(')')?.parse().ok() };
    for name in ["sarima", "arima"] {
        if let Some(rest) = text.strip_prefix(name) {
            return triple(rest);
        }
    }
    if let Some(rest) = text.strip_prefix("arma(") {
        let (p, q) = rest.strip_suffix(')').and_then(|own| own.split_once(',')).ok_or(ModelError::Form)?;
        let number = |text: &str| text.parse().map_err(|_| ModelError::Form);
        return Ok(([number(p)?, 0, number(q)?], ""));
    }
    if let Some(rest) = text.strip_prefix("ar(") {
        return Ok(([single(rest).ok_or(ModelError::Form)?, 0, 0], ""));
    }
    if let Some(rest) = text.strip_prefix("ma(") {
        return Ok(([0, 0, single(rest).ok_or(ModelError::Form)?], ""));
    }
    if text.starts_with('(') { triple(text) } else { three(text).map(|orders| (orders, "")) }
}

/// Three numbers in brackets, and what follows.
fn triple(text: &str) -> Result<([usize; 3], &str), ModelError> {
    let inner = text.strip_prefix('(').ok_or(ModelError::Form)?;
    let (inside, rest) = inner.split_once(')').ok_or(ModelError::Form)?;
    Ok((three(inside)?, rest))
}

fn three(text: &str) -> Result<[usize; 3], ModelError> {
    let numbers: Vec<usize> =
        text.split(',').map(str::parse).collect::<Result<_, _>>().map_err(|_| ModelError::Form)?;
    numbers.try_into().map_err(|_| ModelError::Form)
}

impl fmt::Display for Model {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(out, "({},{},{})", self.ar, self.differences, self.ma)?;
        if self.season > 1 {
            let Self { seasonal_ar, seasonal_differences, seasonal_ma, season, .. } = self;
            write!(out, "({seasonal_ar},{seasonal_differences},{seasonal_ma}){season}")?;
        }
        match self.level {
            Level::Drift => write!(out, "+drift"),
            Level::None if self.times_differenced() == 0 => write!(out, "+none"),
            Level::None | Level::Mean => Ok(()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_spellings_of_a_model_are_one_model() {
        for text in [
            "(0,1,1)(0,1,1)12",
            "SARIMA(0,1,1)(0,1,1)12",
            "(0,1,1)x(0,1,1)12",
            "( 0, 1, 1 ) × (0,1,1) [12]",
            "ARIMA (0,1,1)(0,1,1)[12]",
            "(0,1,1)(0,1,1)",
        ] {
            let model = WrittenModel::parse(text).expect(text).with_season(12).expect("a season");
            assert_eq!(model.to_string(), "(0,1,1)(0,1,1)12", "{text}");
        }
        for (text, back) in [
            ("0,1,1", "(0,1,1)"),
            ("arima(0, 1, 1)", "(0,1,1)"),
            ("AR(1)", "(1,0,0)"),
            ("MA(2)", "(0,0,2)"),
            ("ARMA(1,1)", "(1,0,1)"),
            ("ARIMA(0,1,1)+drift", "(0,1,1)+drift"),
            ("ar(2)+none", "(2,0,0)+none"),
        ] {
            assert_eq!(Model::parse(text).expect(text).to_string(), back, "{text}");
        }
        // A season that is left out is that of the data, and annual data have none.
        assert_eq!(
            WrittenModel::parse("(0,1,1)(0,1,1)").expect("open").with_season(1),
            Err(ModelError::Season)
        );
        assert_eq!(Model::parse("(1,0,0)(1,0,0)12").expect("named").season, 12);
        for text in ["AR(1,1)", "ARMA(1)", "0,1", "arima", "(0,1,1)y(0,1,1)12", "(0,1,1)(0,1,1)[12", "ma()"] {
            assert!(Model::parse(text).is_err(), "{text}");
        }
    }

    #[test]
    fn notation_is_read_and_written() {
        for (text, back) in [
            ("(0,1,1)(0,1,1)12", "(0,1,1)(0,1,1)12"),
            (" ( 2, 0 ,1 ) ", "(2,0,1)"),
            ("(1,0,0)+none", "(1,0,0)+none"),
            ("(1,0,0)+mean", "(1,0,0)"),
            ("(0,1,1)+drift", "(0,1,1)+drift"),
            ("(0,0,0)(0,1,1)4+drift", "(0,0,0)(0,1,1)4+drift"),
            ("(1,1,0)(0,0,0)12", "(1,1,0)"),
        ] {
            let model = Model::parse(text).unwrap_or_else(|error| panic!("{text}: {error}"));
            assert_eq!(model.to_string(), back);
            assert_eq!(Model::parse(back), Ok(model));
        }
    }

    #[test]
    fn what_is_no_model_is_refused_with_the_reason() {
        let error = |text| Model::parse(text).expect_err(text);
        for text in ["", "1,0", "(1,0)", "(1,0,0", "(1,0,0)(0,1,1", "(a,0,0)", "(1,0,0)+trend", "(1,0,-1)"] {
            assert_eq!(error(text), ModelError::Form, "{text}");
        }
        assert_eq!(error("(1,0,0)(1,0,0)"), ModelError::Season);
        assert_eq!(error("(31,0,0)"), ModelError::Order(31));
        assert_eq!(error("(0,3,0)"), ModelError::Differences(3));
        assert_eq!(error("(0,1,0)(0,2,0)4"), ModelError::Differences(3));
        assert_eq!(Model::parse("(1,2,1)(0,1,1)12").map(|model| model.times_differenced()), Ok(3));
        assert_eq!(error("(0,1,0)+mean"), ModelError::Level);
        assert_eq!(error("(0,0,1)+drift"), ModelError::Level);
        assert_eq!(error("(0,2,1)+drift"), ModelError::Level);
    }

    #[test]
    fn differences_by_hand() {
        let model = Model::parse("(0,1,0)(0,1,0)2").expect("a model");
        // y: changes over two 3, 5, 7 (steps 1, 2, 3, 4): their change 2, 2.
        assert_eq!(model.differenced(&[0.0, 1.0, 3.0, 6.0, 10.0]), [2.0, 2.0]);
        assert_eq!(model.lost(), 3);
    }
}
