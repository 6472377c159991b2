//! Columns and expressions, as they are typed, and what is wrong with them.

use kandrel_core::expr::{self, ParseError, STEPS};

use super::function_forms::without_functions;
use super::nearest;
use crate::error::CliError;

/// A column as an expression: in back-quotes if its name needs them.
pub fn column(name: &str) -> String {
    let starts = name.chars().next().is_some_and(|c| c.is_alphabetic() || c == '_');
    let plain = starts && name.chars().all(|c| c.is_alphanumeric() || c == '_');
    if plain { name.to_owned() } else { format!("`{}`", name.replace('`', "``")) }
}

/// The expression of a series with further steps.
pub fn with_steps<S: AsRef<str>>(expression: &str, steps: &[S]) -> String {
    let steps: Vec<String> = steps.iter().map(|step| step.as_ref().to_owned()).collect();
    let text = expr::parse(expression).map(|parsed| expr::with_steps(&parsed, &steps));
    text.unwrap_or_else(|_| expression.to_owned())
}

/// An expression beyond this length is not shown whole.
const LONGEST: usize = 300;

/// An expression error with a caret under the place.
pub fn expression_error(text: &str, error: &ParseError) -> CliError {
    if text.len() > LONGEST {
        let place: String = text.get(error.at()..).unwrap_or_default().chars().take(40).collect();
        return CliError::call(format!("the series {text:?}: {error}")).advise(format!("at {place:?}"));
    }
    let before = text.get(..error.at()).unwrap_or(text);
    let caret = format!("{}^", " ".repeat(before.chars().count()));
    let message = CliError::call(format!("the series {text:?}: {error}")).advise(text).advise(caret);
    if let Some(here) = without_functions(text) {
        return message.advise(format!("write it as {here}"));
    }
    let ParseError::UnknownStep { name, .. } = error else {
        return message.advise(
            "write a column, columns joined by + - * / ^, a lag x[t-1], or a column and its steps: freight:ln,d1",
        );
    };
    let stem = |form: &str| form.split(['=', 'K']).next().unwrap_or(form).to_owned();
    let stems: Vec<String> = STEPS.iter().map(|step| stem(step.form)).collect();
    let forms: Vec<&str> = STEPS.iter().map(|step| step.form).collect();
    // A step's number and value do not count towards its likeness.
    let typed = name.split('=').next().unwrap_or(name).trim_end_matches(|c: char| c.is_ascii_digit());
    let near = nearest(typed, &stems).and_then(|near| stems.iter().position(|known| *known == near));
    let message = match near.and_then(|place| STEPS.get(place)) {
        Some(step) => message.advise(format!("did you mean {}: {}?", step.form, step.summary)),
        None => message,
    };
    message.advise(format!("steps are {}", forms.join(" ")))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn further_steps_join_the_chain_and_unusual_names_get_quotes() {
        assert_eq!(with_steps("freight:ln", &["d1"]), "freight:ln,d1");
        assert_eq!(with_steps("a - b", &["d1"]), "(a - b):d1");
        assert_eq!(with_steps(&column("tug hours"), &["d1"]), "`tug hours`:d1");
        for name in ["a`b", "`", "``a", "2`nd - `x`"] {
            let parsed = expr::parse(&column(name)).expect("a column");
            assert_eq!(parsed.node.columns(), [name]);
        }
        assert_eq!((column("claims"), column("2nd")), ("claims".to_owned(), "`2nd`".to_owned()));
    }
}
