//! Lists of terms, and the chain at the end of an expression, cut from their text.

/// The terms of a list, separated by commas outside of brackets and back-quotes.
pub fn terms(text: &str) -> Vec<&str> {
    let (mut depth, mut quoted, mut from) = (0_usize, false, 0);
    let mut all = Vec::new();
    for (at, mark) in text.char_indices() {
        match mark {
            '`' => quoted = !quoted,
            '(' | '[' if !quoted => depth += 1,
            ')' | ']' if !quoted => depth = depth.saturating_sub(1),
            ',' if !quoted && depth == 0 => {
                all.push(&text[from..at]);
                from = at + 1;
            }
            _ => {}
        }
    }
    all.push(&text[from..]);
    all.into_iter().map(str::trim).filter(|term| !term.is_empty()).collect()
}

/// The expression before the steps of its last chain, as typed.
pub fn without_steps(text: &str) -> &str {
    let (mut depth, mut quoted) = (0_usize, false);
    for (at, mark) in text.char_indices() {
        match mark {
            '`' => quoted = !quoted,
            '(' | '[' if !quoted => depth += 1,
            ')' | ']' if !quoted => depth = depth.saturating_sub(1),
            ':' if !quoted && depth == 0 => return &text[..at],
            _ => {}
        }
    }
    text
}

/// The steps of the last chain of an expression, as typed; none where it has no chain.
pub fn steps_of(text: &str) -> Option<&str> {
    text[without_steps(text).len()..].strip_prefix(':').map(str::trim)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn commas_outside_of_brackets_and_quotes_part_terms() {
        assert_eq!(terms("a, (b:ln,d1), `c,d`[t-1],, e"), ["a", "(b:ln,d1)", "`c,d`[t-1]", "e"]);
        assert!(terms(" , ").is_empty());
    }

    #[test]
    fn steps_are_cut_off() {
        for (text, bare) in
            [("a:ln,d1", "a"), ("(a:ln - b):d1", "(a:ln - b)"), ("`x:y`:ln", "`x:y`"), ("a - b", "a - b")]
        {
            assert_eq!(without_steps(text), bare);
        }
        assert_eq!(steps_of("(freight:ln - ice:ln):d1"), Some("d1"));
        assert_eq!(
            (steps_of("a:ln,d1"), steps_of("`x:y`"), steps_of("(a:ln - b)")),
            (Some("ln,d1"), None, None)
        );
    }
}
