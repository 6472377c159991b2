//! Named expressions put in the place of their names.

use super::node::{Kind, Node, Operator};
use super::step::Step;

/// Puts named expressions in the place of their names.
///
/// A column of the frame that has the same name is hidden. Steps that name a
/// column (`per=`, `real=`) may name an expression too.
pub fn with_names(node: &Node, names: &[(String, Node)]) -> Node {
    let inner = |node: &Node| Box::new(with_names(node, names));
    let kind = match &node.kind {
        Kind::Number(value) => Kind::Number(*value),
        Kind::Column(name) => match find(names, name) {
            Some(named) => named.kind.clone(),
            None => Kind::Column(name.clone()),
        },
        Kind::Lag(of, lag) => Kind::Lag(inner(of), *lag),
        Kind::Negative(of) => Kind::Negative(inner(of)),
        Kind::Joined(operator, left, right) => Kind::Joined(*operator, inner(left), inner(right)),
        Kind::Chain(of, steps) => return chain(with_names(of, names), steps, names),
    };
    Node { at: node.at, kind }
}

fn find<'a>(names: &'a [(String, Node)], name: &str) -> Option<&'a Node> {
    names.iter().find(|(known, _)| known == name).map(|(_, node)| node)
}

/// A chain whose steps by a named expression become arithmetic.
fn chain(start: Node, steps: &[Step], names: &[(String, Node)]) -> Node {
    let at = start.at;
    steps.iter().fold(start, |so_far, step| {
        let named = step.column().and_then(|name| find(names, name));
        let kind = match (step, named) {
            (Step::Real(_), Some(index)) => {
                let hundred = Node { at, kind: Kind::Number(100.0) };
                let share = Node { at, kind: joined(Operator::Over, so_far, index.clone()) };
                joined(Operator::Times, hundred, share)
            }
            (_, Some(other)) => joined(Operator::Over, so_far, other.clone()),
            (step, None) => match so_far.kind {
                Kind::Chain(of, mut earlier) => {
                    earlier.push(step.clone());
                    Kind::Chain(of, earlier)
                }
                kind => Kind::Chain(Box::new(Node { at, kind }), vec![step.clone()]),
            },
        };
        Node { at, kind }
    })
}

fn joined(operator: Operator, left: Node, right: Node) -> Kind {
    Kind::Joined(operator, Box::new(left), Box::new(right))
}
