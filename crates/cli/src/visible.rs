//! Foreign text made harmless: what would steer a terminal or turn the direction of text is shown as an escape.

/// Text whose control characters are written out: those of C0 and C1, line ends, and those that turn the direction.
pub fn visible(text: &str) -> String {
    if !text.contains(steers) {
        return text.to_owned();
    }
    let mut out = String::with_capacity(text.len() + 8);
    for letter in text.chars() {
        match letter {
            '\n' => out.push_str("\\n"),
            '\r' => out.push_str("\\r"),
            '\t' => out.push_str("\\t"),
            other if steers(other) => out.extend(other.escape_unicode()),
            other => out.push(other),
        }
    }
    out
}

/// A name in one line: runs of blanks and line ends are one blank, and the rest is visible.
pub fn visible_name(text: &str) -> String {
    if !text.contains(steers) {
        return text.to_owned();
    }
    visible(
        &text
            .split(['\n', '\r', '\t'])
            .map(str::trim)
            .filter(|part| !part.is_empty())
            .collect::<Vec<_>>()
            .join(" "),
    )
}

fn steers(letter: char) -> bool {
    letter.is_control()
        || matches!(letter, '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{2028}'..='\u{202e}' | '\u{2066}'..='\u{2069}')
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_steers_is_written_out_and_all_else_stays() {
        for (text, expected) in [
            ("tug hours, Δ λ ° 日本 ‘é’", "tug hours, Δ λ ° 日本 ‘é’"),
            ("a\u{1b}]52;c;aGk=\u{7}", "a\\u{1b}]52;c;aGk=\\u{7}"),
            ("a\nkandrel: b\r", "a\\nkandrel: b\\r"),
            ("a\u{202e}b\u{9b}31m\u{7f}\t", "a\\u{202e}b\\u{9b}31m\\u{7f}\\t"),
        ] {
            assert_eq!(visible(text), expected);
            assert_eq!(visible(&visible(text)), expected, "once is enough");
        }
        assert_eq!(visible_name("load\n (tons)\r\nper day"), "load (tons) per day");
        assert_eq!(visible_name("a\u{1b}b"), "a\\u{1b}b");
    }
}
