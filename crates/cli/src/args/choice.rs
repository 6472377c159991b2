//! An option whose values represent values of the core, in one table: the word, what it means, the help.

use clap::builder::{PossibleValue, PossibleValuesParser, TypedValueParser};

/// The words of an option, what each means, and its help (empty where the word says it).
pub type Choices<T> = &'static [(&'static str, T, &'static str)];

/// Reads one of these words.
pub fn one_of<T: Clone + Send + Sync>(choices: Choices<T>) -> impl TypedValueParser<Value = T> {
    let words = choices.iter().map(|(word, _, help)| {
        let value = PossibleValue::new(*word);
        if help.is_empty() { value } else { value.help(*help) }
    });
    PossibleValuesParser::new(words).try_map(move |typed| {
        let known = choices.iter().find(|(word, ..)| word.eq_ignore_ascii_case(&typed));
        known.map(|(_, value, _)| value.clone()).ok_or("no such value")
    })
}

#[cfg(test)]
mod tests {
    use clap::{Arg, Command};

    use super::*;

    const SIZES: Choices<u8> = &[("small", 1, "A small one"), ("large", 9, "")];

    fn read(typed: &str) -> Result<u8, clap::Error> {
        let size = Arg::new("size").long("size").value_parser(one_of(SIZES));
        let matches = Command::new("x").arg(size).try_get_matches_from(["x", "--size", typed])?;
        Ok(*matches.get_one("size").expect("it was given"))
    }

    #[test]
    fn a_word_stands_for_its_value_and_another_names_those_there_are() {
        assert_eq!(read("small").ok(), Some(1));
        assert_eq!(read("large").ok(), Some(9));
        let refusal = read("middling").expect_err("no such size").to_string();
        assert!(refusal.contains("small, large"), "{refusal}");
    }

    #[test]
    fn the_help_says_what_each_word_means() {
        let size = Arg::new("size").long("size").value_parser(one_of(SIZES));
        let help = Command::new("x").arg(size).render_long_help().to_string();
        assert!(help.contains("- small: A small one"), "{help}");
    }
}
