//! Words as a shell takes them.

/// A word that a shell reads as it is meant: in quotes if it needs them.
pub fn shell_word(text: &str) -> String {
    let plain = |c: char| c.is_alphanumeric() || matches!(c, '_' | ':' | ',' | '.' | '-' | '/' | '=');
    if !text.is_empty() && text.chars().all(plain) {
        text.to_owned()
    } else {
        format!("'{}'", text.replace('\'', "'\\''"))
    }
}

/// The words of a line, as a shell cuts it.
pub fn shell_words(line: &str) -> Vec<String> {
    let (mut words, mut word, mut is_quoted) = (Vec::new(), None::<String>, false);
    let mut letters = line.chars();
    while let Some(letter) = letters.next() {
        match letter {
            '\'' => {
                is_quoted = !is_quoted;
                word.get_or_insert_default();
            }
            '\\' if !is_quoted => word.get_or_insert_default().extend(letters.next()),
            blank if blank.is_whitespace() && !is_quoted => words.extend(word.take()),
            other => word.get_or_insert_default().push(other),
        }
    }
    words.extend(word);
    words
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_quoted_only_where_needed() {
        assert_eq!(shell_word("freight:ln,d1"), "freight:ln,d1");
        assert_eq!(shell_word("tug hours"), "'tug hours'");
        assert_eq!(shell_word("it's"), "'it'\\''s'");
    }

    #[test]
    fn a_line_is_cut_into_the_words_it_was_made_of() {
        let words = ["fit", "my data.csv", "it's", "", "--model=(0,1,1)", "a\\b", "`tug hours`:ln"];
        let line: Vec<String> = words.iter().map(|word| shell_word(word)).collect();
        assert_eq!(shell_words(&line.join(" ")), words);
    }
}
