//! The tree of an expression.

use super::step::Step;

/// A part of an expression and the byte where it begins.
#[derive(Debug, Clone, PartialEq)]
pub struct Node {
    /// Where it begins in the text.
    pub at: usize,
    /// What it is.
    pub kind: NodeKind,
}

/// What a part of an expression is.
#[derive(Debug, Clone, PartialEq)]
pub enum NodeKind {
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
    /// Names of the columns it needs, each once, in the order they are.
    pub fn columns(&self) -> Vec<&str> {
        let mut names = Vec::new();
        self.collect(&mut names);
        names
    }

    /// How many parts it has.
    pub fn size(&self) -> usize {
        1 + match &self.kind {
            NodeKind::Number(_) | NodeKind::Column(_) => 0,
            NodeKind::Lag(inner, _) | NodeKind::Negative(inner) => inner.size(),
            NodeKind::Joined(_, left, right) => left.size() + right.size(),
            NodeKind::Chain(inner, steps) => inner.size() + steps.len(),
        }
    }

    fn collect<'a>(&'a self, names: &mut Vec<&'a str>) {
        let mut add = |name: &'a str| {
            if !names.contains(&name) {
                names.push(name);
            }
        };
        match &self.kind {
            NodeKind::Number(_) => {}
            NodeKind::Column(name) => add(name),
            NodeKind::Lag(inner, _) | NodeKind::Negative(inner) => inner.collect(names),
            NodeKind::Joined(_, left, right) => {
                left.collect(names);
                right.collect(names);
            }
            NodeKind::Chain(inner, steps) => {
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
            NodeKind::Number(_) | NodeKind::Column(_) => false,
            NodeKind::Lag(inner, _) | NodeKind::Negative(inner) => inner.is_smoothed(),
            NodeKind::Joined(_, left, right) => left.is_smoothed() || right.is_smoothed(),
            NodeKind::Chain(inner, steps) => inner.is_smoothed() || steps.iter().any(Step::is_smoothing),
        }
    }

    /// How many periods after its own a value needs.
    pub fn ahead(&self) -> usize {
        match &self.kind {
            NodeKind::Number(_) | NodeKind::Column(_) => 0,
            NodeKind::Lag(inner, _) | NodeKind::Negative(inner) => inner.ahead(),
            NodeKind::Joined(_, left, right) => left.ahead().max(right.ahead()),
            NodeKind::Chain(inner, steps) => {
                steps.iter().fold(inner.ahead(), |ahead, step| ahead.saturating_add(step.ahead()))
            }
        }
    }

    /// How many periods before its own a value needs.
    pub fn reach(&self) -> usize {
        match &self.kind {
            NodeKind::Number(_) | NodeKind::Column(_) => 0,
            NodeKind::Lag(inner, lag) => inner.reach().saturating_add(*lag),
            NodeKind::Negative(inner) => inner.reach(),
            NodeKind::Joined(_, left, right) => left.reach().max(right.reach()),
            NodeKind::Chain(inner, steps) => {
                steps.iter().fold(inner.reach(), |reach, step| reach.saturating_add(step.reach()))
            }
        }
    }
}
