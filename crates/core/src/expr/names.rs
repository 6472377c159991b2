//! Named expressions put in the place of their names.

use super::node::{Node, NodeKind, Operator};
use super::step::Step;

/// Puts named expressions in the place of their names.
///
/// A column of the frame that has the same name is hidden. Steps that name a
/// column (`per=`, `real=`) may name an expression too.
pub fn with_names(node: &Node, names: &[(String, Node)]) -> Node {
    let inner = |node: &Node| Box::new(with_names(node, names));
    let kind = match &node.kind {
        NodeKind::Number(value) => NodeKind::Number(*value),
        NodeKind::Column(name) => match find(names, name) {
            Some(named) => named.kind.clone(),
            None => NodeKind::Column(name.clone()),
        },
        NodeKind::Lag(of, lag) => NodeKind::Lag(inner(of), *lag),
        NodeKind::Negative(of) => NodeKind::Negative(inner(of)),
        NodeKind::Joined(operator, left, right) => NodeKind::Joined(*operator, inner(left), inner(right)),
        NodeKind::Chain(of, steps) => return chain(with_names(of, names), steps, names),
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
                let hundred = Node { at, kind: NodeKind::Number(100.0) };
                let share = Node { at, kind: joined(Operator::Over, so_far, index.clone()) };
                joined(Operator::Times, hundred, share)
            }
            (_, Some(other)) => joined(Operator::Over, so_far, other.clone()),
            (step, None) => match so_far.kind {
                NodeKind::Chain(of, mut earlier) => {
                    earlier.push(step.clone());
                    NodeKind::Chain(of, earlier)
                }
                kind => NodeKind::Chain(Box::new(Node { at, kind }), vec![step.clone()]),
            },
        };
        Node { at, kind }
    })
}

fn joined(operator: Operator, left: Node, right: Node) -> NodeKind {
    NodeKind::Joined(operator, Box::new(left), Box::new(right))
}
