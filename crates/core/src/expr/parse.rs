//! The parser of expressions.

use super::error::ParseError;
use super::node::{Node, NodeKind, Operator};
use super::step::{Step, Takes, spec_of};
use super::token::{Token, Word, tokens};

/// Brackets within brackets beyond which a text is no expression of a person's.
const DEEPEST: usize = 60;

/// Words and marks beyond which a text is none either: every joint is a step into the tree.
const LONGEST: usize = 2_000;

/// An expression: a column, or columns joined, with their steps.
#[derive(Debug, Clone, PartialEq)]
pub struct Expression {
    /// As typed.
    pub text: String,
    /// What it says.
    pub node: Node,
}

impl Expression {
    /// The steps of the chains at its end, in their order.
    fn final_steps(&self) -> Vec<&Step> {
        let (mut node, mut steps) = (&self.node, Vec::new());
        while let NodeKind::Chain(inner, own) = &node.kind {
            steps.splice(0..0, own);
            node = inner;
        }
        steps
    }

    /// Whether its steps make it a difference or a growth rate.
    pub fn is_change(&self) -> bool {
        self.final_steps().into_iter().any(|step| step.change_lag().is_some())
    }

    /// The number of periods of a change over several periods that is no difference of other changes: consecutive values
    /// overlap.
    pub fn overlap(&self) -> Option<usize> {
        let lags: Vec<usize> = self.final_steps().into_iter().filter_map(Step::change_lag).collect();
        match lags[..] {
            [lag] if lag > 1 => Some(lag),
            _ => None,
        }
    }
}

/// Reads an expression.
///
/// `+ - * / ^` bind as usual (`-a^2` is `-(a^2)`, `a^b^c` is `a^(b^c)`); `[t-1]`
/// and a chain `:step,step` bind to what precedes them.
///
/// # Errors
/// [`ParseError`] with the place.
pub fn parse(text: &str) -> Result<Expression, ParseError> {
    let tokens = tokens(text)?;
    if let Some(beyond) = tokens.get(LONGEST) {
        return Err(ParseError::TooLong { at: beyond.at });
    }
    let mut reader = Reader { text, tokens: &tokens, next: 0, depth: 0 };
    let node = reader.sum()?;
    match reader.peek() {
        None => Ok(Expression { text: text.trim().to_owned(), node }),
        Some(token) => Err(reader.unexpected(token)),
    }
}

struct Reader<'a> {
    text: &'a str,
    tokens: &'a [Token],
    next: usize,
    depth: usize,
}

impl<'a> Reader<'a> {
    fn peek(&self) -> Option<&'a Token> {
        self.tokens.get(self.next)
    }

    fn mark(&self) -> Option<char> {
        match self.peek()?.word {
            Word::Mark(mark) => Some(mark),
            _ => None,
        }
    }

    /// Takes the mark if it comes next.
    fn takes(&mut self, wanted: char) -> bool {
        let there = self.mark() == Some(wanted);
        self.next += usize::from(there);
        there
    }

    /// Where the next word begins; the end of the text if there is none.
    fn here(&self) -> usize {
        self.peek().map_or(self.text.len(), |token| token.at)
    }

    fn unexpected(&self, token: &Token) -> ParseError {
        ParseError::Unexpected { at: token.at, what: self.text[token.at..token.end].to_owned() }
    }

    fn sum(&mut self) -> Result<Node, ParseError> {
        let mut left = self.product()?;
        while let Some(operator) = self.operator(&[('+', Operator::Plus), ('-', Operator::Minus)]) {
            left = joined(operator, left, self.product()?);
        }
        Ok(left)
    }

    fn product(&mut self) -> Result<Node, ParseError> {
        let mut left = self.signed()?;
        while let Some(operator) = self.operator(&[('*', Operator::Times), ('/', Operator::Over)]) {
            left = joined(operator, left, self.signed()?);
        }
        Ok(left)
    }

    fn operator(&mut self, among: &[(char, Operator)]) -> Option<Operator> {
        let mark = self.mark()?;
        let found = among.iter().find(|(known, _)| *known == mark)?;
        self.next += 1;
        Some(found.1)
    }

    fn signed(&mut self) -> Result<Node, ParseError> {
        let at = self.here();
        if self.takes('-') {
            let inner = self.deeper(at, Self::signed)?;
            return Ok(Node { at, kind: NodeKind::Negative(Box::new(inner)) });
        }
        let base = self.with_endings()?;
        if self.takes('^') {
            let exponent = self.deeper(at, Self::signed)?;
            return Ok(joined(Operator::Power, base, exponent));
        }
        Ok(base)
    }

    /// Runs a reading one level deeper.
    fn deeper(
        &mut self,
        at: usize,
        read: impl FnOnce(&mut Self) -> Result<Node, ParseError>,
    ) -> Result<Node, ParseError> {
        if self.depth == DEEPEST {
            return Err(ParseError::TooDeep { at });
        }
        self.depth += 1;
        let node = read(self);
        self.depth -= 1;
        node
    }

    /// A column, a number or a bracket, with lags and chains behind it.
    fn with_endings(&mut self) -> Result<Node, ParseError> {
        let mut node = self.single()?;
        loop {
            let at = node.at;
            if self.mark() == Some('[') {
                let lag = self.lag()?;
                node = Node { at, kind: NodeKind::Lag(Box::new(node), lag) };
            } else if self.takes(':') {
                let steps = self.chain()?;
                node = Node { at, kind: NodeKind::Chain(Box::new(node), steps) };
            } else {
                return Ok(node);
            }
        }
    }

    fn single(&mut self) -> Result<Node, ParseError> {
        let at = self.here();
        let token = self.peek().ok_or(ParseError::NothingThere { at })?;
        self.next += 1;
        match &token.word {
            Word::Number(value) => Ok(Node { at, kind: NodeKind::Number(*value) }),
            Word::Name(name) | Word::Quoted(name) if !name.trim().is_empty() => {
                Ok(Node { at, kind: NodeKind::Column(name.trim().to_owned()) })
            }
            Word::Mark('(') => {
                let inner = self.deeper(at, Self::sum)?;
                if self.takes(')') { Ok(inner) } else { Err(ParseError::OpenBracket { at }) }
            }
            _ => Err(ParseError::NothingThere { at }),
        }
    }

    /// `[t-K]`, of whole K above zero.
    fn lag(&mut self) -> Result<usize, ParseError> {
        let at = self.here();
        let words: Vec<&Word> = self.tokens.iter().skip(self.next).take(5).map(|token| &token.word).collect();
        let [Word::Mark('['), Word::Name(t), Word::Mark('-'), Word::Number(lag), Word::Mark(']')] =
            words.as_slice()
        else {
            return Err(ParseError::NoLag { at });
        };
        let whole = *lag >= 1.0 && *lag <= 1e6 && (lag.round() - lag).abs() < f64::EPSILON;
        if t != "t" || !whole {
            return Err(ParseError::NoLag { at });
        }
        self.next += 5;
        // Between 1 and a million, and whole.
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
        let lag = lag.round() as usize;
        Ok(lag)
    }

    fn chain(&mut self) -> Result<Vec<Step>, ParseError> {
        let mut steps = vec![self.step()?];
        while self.takes(',') {
            steps.push(self.step()?);
        }
        Ok(steps)
    }

    fn step(&mut self) -> Result<Step, ParseError> {
        let at = self.here();
        let unknown = |name: &str| ParseError::UnknownStep { at, name: name.to_owned() };
        let Some(Token { word: Word::Name(name), .. }) = self.peek() else {
            let what = self.peek().map_or("", |token| &self.text[token.at..token.end]);
            return Err(unknown(what));
        };
        self.next += 1;
        let spec = spec_of(name);
        let value = if self.takes('=') { Some(self.value(spec.map(|spec| spec.takes))) } else { None };
        let typed = self.text[at..self.tokens.get(self.next - 1).map_or(at, |token| token.end)].to_owned();
        Step::read(name, value.as_deref()).ok_or_else(|| match spec {
            Some(spec) => ParseError::StepValue { at, name: typed, form: spec.form },
            None => unknown(&typed),
        })
    }

    /// What follows the equals sign: a name, a signed number, or the words of a
    /// period without blanks between them.
    fn value(&mut self, takes: Option<Takes>) -> String {
        let start = self.here();
        let mut end = start;
        while let Some(token) = self.peek() {
            let glued = token.at == end;
            let belongs = match (&token.word, takes) {
                (Word::Quoted(name), Some(Takes::Column)) if end == start => {
                    self.next += 1;
                    return name.trim().to_owned();
                }
                (Word::Name(_), Some(Takes::Column)) => end == start,
                (Word::Number(_) | Word::Name(_), _) => glued,
                (Word::Mark('-'), Some(Takes::Period)) => glued && end > start,
                (Word::Mark('-'), _) => end == start,
                _ => false,
            };
            if !belongs {
                break;
            }
            end = token.end;
            self.next += 1;
        }
        self.text[start..end].to_owned()
    }
}

fn joined(operator: Operator, left: Node, right: Node) -> Node {
    Node { at: left.at, kind: NodeKind::Joined(operator, Box::new(left), Box::new(right)) }
}

/// The text of an expression with further steps.
pub fn with_steps(expression: &Expression, steps: &[String]) -> String {
    let text = &expression.text;
    if steps.is_empty() {
        return text.clone();
    }
    let more = steps.join(",");
    match expression.node.kind {
        NodeKind::Chain(..) => format!("{text},{more}"),
        NodeKind::Column(_) | NodeKind::Lag(..) => format!("{text}:{more}"),
        _ => format!("({text}):{more}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::boxcox::LambdaRule;

    fn kind(text: &str) -> NodeKind {
        parse(text).expect("an expression").node.kind
    }

    #[test]
    fn a_column_and_its_chain() {
        let NodeKind::Chain(column, steps) = kind("freight:ln, d1,d12") else { panic!("no chain") };
        assert_eq!(column.kind, NodeKind::Column("freight".into()));
        assert_eq!(steps, [Step::Ln, Step::Difference(1), Step::Difference(12)]);
        let NodeKind::Chain(_, steps) = kind("freight:d,pct,growth") else { panic!("no chain") };
        assert_eq!(steps, [Step::Difference(1), Step::Percent(1), Step::Growth(1)], "of one period");
        assert!(parse("freight:avg").is_err() && parse("freight:d0").is_err());
        assert_eq!(kind(" waiting "), NodeKind::Column("waiting".into()));
        assert_eq!(kind("`tug hours`"), NodeKind::Column("tug hours".into()));
    }

    #[test]
    fn every_step_with_a_value_is_read() {
        let steps = |text: &str| match kind(text) {
            NodeKind::Chain(_, steps) => steps,
            other => panic!("{other:?}"),
        };
        assert_eq!(steps("x:boxcox=-0.5"), [Step::BoxCox(-0.5)]);
        let open = [LambdaRule::Likelihood, LambdaRule::Guerrero].map(Step::ChooseBoxCox);
        assert_eq!(steps("x:boxcox,boxcox=guerrero"), open);
        assert_eq!(steps("x:per=heads,ln"), [Step::Per("heads".into()), Step::Ln]);
        assert_eq!(steps("x:real=`price index`"), [Step::Real("price index".into())]);
        for period in ["2004", "2004-09", "2004-Q3", "2004-09-30"] {
            assert_eq!(steps(&format!("x:index={period},ln")), [Step::Index(period.into()), Step::Ln]);
        }
        assert_eq!(steps("x:detrend,detrend=2"), [Step::Detrend(1), Step::Detrend(2)]);
    }

    #[test]
    fn operators_bind_as_usual() {
        let shape = |text: &str| shape(&parse(text).expect("an expression").node);
        assert_eq!(shape("a + b * c"), "(a+(b*c))");
        assert_eq!(shape("a - b - c"), "((a-b)-c)");
        assert_eq!(shape("a ^ b ^ 2"), "(a^(b^2))");
        assert_eq!(shape("-a^2"), "-(a^2)");
        assert_eq!(shape("(a-b)[t-4]"), "(a-b)@4");
        assert_eq!(shape("a:ln - b[t-1]:d1"), "(a:1-b@1:1)");
        assert_eq!(shape("2e3*a"), "(2000*a)");
    }

    fn shape(node: &Node) -> String {
        match &node.kind {
            NodeKind::Number(value) => value.to_string(),
            NodeKind::Column(name) => name.clone(),
            NodeKind::Lag(inner, lag) => format!("{}@{lag}", shape(inner)),
            NodeKind::Negative(inner) => format!("-{}", shape(inner)),
            NodeKind::Chain(inner, steps) => format!("{}:{}", shape(inner), steps.len()),
            NodeKind::Joined(operator, left, right) => {
                let mark = match operator {
                    Operator::Plus => '+',
                    Operator::Minus => '-',
                    Operator::Times => '*',
                    Operator::Over => '/',
                    Operator::Power => '^',
                };
                format!("({}{mark}{})", shape(left), shape(right))
            }
        }
    }

    #[test]
    fn errors_point_at_their_place() {
        let at = |text: &str| parse(text).map_err(|error| error.at());
        assert_eq!(parse("freight:ln,dd1"), Err(ParseError::UnknownStep { at: 11, name: "dd1".into() }));
        assert_eq!(at("freight:d0"), Err(8));
        assert_eq!(at("`freight"), Err(0));
        assert_eq!(at("`a b` d1"), Err(6));
        assert_eq!(parse(":ln"), Err(ParseError::NothingThere { at: 0 }));
        assert_eq!(at("freight:"), Err(8));
        assert_eq!(parse("(a - b"), Err(ParseError::OpenBracket { at: 0 }));
        assert_eq!(parse("a[t+1]"), Err(ParseError::NoLag { at: 1 }));
        assert_eq!(at("a[t-0]"), Err(1));
        assert_eq!(parse("a +"), Err(ParseError::NothingThere { at: 3 }));
        assert_eq!(parse("a ; b"), Err(ParseError::Unexpected { at: 2, what: ";".into() }));
        assert!(matches!(parse("a:boxcox=x"), Err(ParseError::StepValue { at: 2, form: "boxcox", .. })));
        assert!(matches!(parse("a:per"), Err(ParseError::StepValue { form: "per=COLUMN", .. })));
        assert!(matches!(parse(&"(".repeat(500)), Err(ParseError::TooDeep { .. })));
        assert!(matches!(parse(&"-".repeat(500)), Err(ParseError::TooDeep { .. })));
    }

    #[test]
    fn columns_and_reach_are_those_of_all_parts() {
        let read = parse("(a - b)[t-4]:d12 + a:per=c,trail3").expect("an expression");
        assert_eq!(read.node.columns(), ["a", "b", "c"]);
        assert_eq!(read.node.reach(), 16);
    }

    #[test]
    fn further_steps_join_where_they_belong() {
        let with = |text: &str| with_steps(&parse(text).expect("an expression"), &["d1".to_owned()]);
        assert_eq!(with("a"), "a:d1");
        assert_eq!(with("a:ln"), "a:ln,d1");
        assert_eq!(with("a - b"), "(a - b):d1");
        assert_eq!(with("`a b`"), "`a b`:d1");
    }
}
