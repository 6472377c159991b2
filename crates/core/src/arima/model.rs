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
    /// Reads the notation of the literature: `(0,1,1)(0,1,1)12+drift`. Without a word behind it a
    /// series that is not differenced has a mean, any other none.
    ///
    /// # Errors
    /// [`ModelError`].
    pub fn parse(text: &str) -> Result<Self, ModelError> {
        let plain: String = text.chars().filter(|c| !c.is_whitespace()).collect();
        let (orders, level) = match plain.rsplit_once('+') {
            Some((orders, word)) => (orders, Some(word)),
            None => (plain.as_str(), None),
        };
        let (short, rest) = triple(orders)?;
        let mut model =
            Self { ar: short[0], differences: short[1], ma: short[2], season: 1, ..Self::default() };
        if !rest.is_empty() {
            let (seasonal, season) = triple(rest)?;
            model.season = season.parse().ok().filter(|s| *s > 1).ok_or(ModelError::Season)?;
            [model.seasonal_ar, model.seasonal_differences, model.seasonal_ma] = seasonal;
            if seasonal == [0; 3] {
                model.season = 1;
            }
        }
        let orders = [model.ar, model.ma, model.seasonal_ar, model.seasonal_ma];
        if let Some(order) = orders.into_iter().find(|order| *order > MOST) {
            return Err(ModelError::Order(order));
        }
        if model.differences > 2
            || model.seasonal_differences > 1 && model.differences + model.seasonal_differences > 2
        {
            return Err(ModelError::Differences(model.times_differenced()));
        }
        model.level = match level {
            None if model.times_differenced() == 0 => Level::Mean,
            None | Some("none") => Level::None,
            Some("mean") => Level::Mean,
            Some("drift") => Level::Drift,
            Some(_) => return Err(ModelError::Form),
        };
        let wanted = match model.level {
            Level::None => true,
            Level::Mean => model.times_differenced() == 0,
            Level::Drift => model.times_differenced() == 1,
        };
        if wanted { Ok(model) } else { Err(ModelError::Level) }
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

/// Three numbers in brackets, and what follows.
fn triple(text: &str) -> Result<([usize; 3], &str), ModelError> {
    let inner = text.strip_prefix('(').ok_or(ModelError::Form)?;
    let (inside, rest) = inner.split_once(')').ok_or(ModelError::Form)?;
    let numbers: Vec<usize> =
        inside.split(',').map(str::parse).collect::<Result<_, _>>().map_err(|_| ModelError::Form)?;
    numbers.try_into().map(|three| (three, rest)).map_err(|_| ModelError::Form)
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
        for text in ["", "1,0,0", "(1,0)", "(1,0,0", "(1,0,0)(0,1,1", "(a,0,0)", "(1,0,0)+trend", "(1,0,-1)"]
        {
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
