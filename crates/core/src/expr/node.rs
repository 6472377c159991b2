//! The tree of an expression.

use super::step::Step;

/// A part of an expression and the byte where it begins.
#[derive(Debug, Clone, PartialEq)]
pub struct Node {
    /// Where it begins in the text.
    pub at: usize,
    /// What it is.
    pub kind: Kind,
}

/// What a part of an expression is.
#[derive(Debug, Clone, PartialEq)]
pub enum Kind {
    /// A number.
    Number(f64),
    /// A column, by name.
    Column(String),
    /// The value this many periods before.
    Lag(Box<Node>, usize),
    /// With the other sign.
    Negative(Box<Node>),
    /// Two parts joined.
    Joined(Operator, Box<Node>, Box<Node>),
    /// Steps, from left to right.
    Chain(Box<Node>, Vec<Step>),
}

/// How two parts are joined.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Operator {
    /// `+`
    Plus,
    /// `-`
    Minus,
    /// `*`
    Times,
    /// `/`
    Over,
    /// `^`
    Power,
}

impl Node {
    /// Names of the columns it needs, each once, in the order they stand.
    pub fn columns(&self) -> Vec<&str> {
        let mut names = Vec::new();
        self.collect(&mut names);
        names
    }

    fn collect<'a>(&'a self, names: &mut Vec<&'a str>) {
        let mut add = |name: &'a str| {
            if !names.contains(&name) {
                names.push(name);
            }
        };
        match &self.kind {
            Kind::Number(_) => {}
            Kind::Column(name) => add(name),
            Kind::Lag(inner, _) | Kind::Negative(inner) => inner.collect(names),
            Kind::Joined(_, left, right) => {
                left.collect(names);
                right.collect(names);
            }
            Kind::Chain(inner, steps) => {
                inner.collect(names);
                for step in steps {
                    if let Some(name) = step.column()
                        && !names.contains(&name)
                    {
                        names.push(name);
                    }
                }
            }
        }
    }

    /// Whether a moving average is part of it.
    pub fn is_smoothed(&self) -> bool {
        match &self.kind {
            Kind::Number(_) | Kind::Column(_) => false,
            Kind::Lag(inner, _) | Kind::Negative(inner) => inner.is_smoothed(),
            Kind::Joined(_, left, right) => left.is_smoothed() || right.is_smoothed(),
            Kind::Chain(inner, steps) => inner.is_smoothed() || steps.iter().any(Step::is_smoothing),
        }
    }

    /// How many periods after its own a value needs.
    pub fn ahead(&self) -> usize {
        match &self.kind {
            Kind::Number(_) | Kind::Column(_) => 0,
            Kind::Lag(inner, _) | Kind::Negative(inner) => inner.ahead(),
            Kind::Joined(_, left, right) => left.ahead().max(right.ahead()),
            Kind::Chain(inner, steps) => {
                steps.iter().fold(inner.ahead(), |ahead, step| ahead.saturating_add(step.ahead()))
            }
        }
    }

    /// How many periods before its own a value needs.
    pub fn reach(&self) -> usize {
        match &self.kind {
            Kind::Number(_) | Kind::Column(_) => 0,
            Kind::Lag(inner, lag) => inner.reach().saturating_add(*lag),
            Kind::Negative(inner) => inner.reach(),
            Kind::Joined(_, left, right) => left.reach().max(right.reach()),
            Kind::Chain(inner, steps) => {
                steps.iter().fold(inner.reach(), |reach, step| reach.saturating_add(step.reach()))
            }
        }
    }
}
