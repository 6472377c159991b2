//! Expressions in the form of functions, which many know, and what they are here.

use kandrel_core::expr;

use super::with_steps;

/// Functions and the steps that they are.
const FUNCTIONS: &[(&[&str], &[&str])] = &[
    (&["log", "ln", "loge"], &["ln"]),
    (&["d", "diff", "difference", "delta"], &["d1"]),
    (&["dlog", "dln"], &["ln", "d1"]),
    (&["exp"], &["exp"]),
    (&["sqrt"], &["sqrt"]),
    (&["abs"], &["abs"]),
];

/// Words for steps that are none, and the step.
const STEPS: &[(&str, &str)] =
    &[("log", "ln"), ("diff", "d1"), ("difference", "d1"), ("dlog", "ln,d1"), ("pctchange", "pct1")];

/// The expression to type in place of one with functions: `freight:ln,d1` for `d(log(freight))`; none where it has none, or
/// something else is wrong with it.
pub fn without_functions(text: &str) -> Option<String> {
    let written = steps_renamed(&translated(text)?);
    (written != text && expr::parse(&written).is_ok()).then_some(written)
}

/// The text with every call of a function in this notation.
fn translated(text: &str) -> Option<String> {
    let mut out = String::new();
    let mut rest = text;
    while let Some(open) = rest.find('(') {
        let before = &rest[..open];
        let start = before
            .rfind(|c: char| !(c.is_alphanumeric() || c == '_'))
            .map_or(0, |place| place + before[place..].chars().next().map_or(1, char::len_utf8));
        let (lead, name) = before.split_at(start);
        let (inside, after) = enclosed(&rest[open..])?;
        let here =
            if name.is_empty() { ["(", &translated(inside)?, ")"].concat() } else { call(name, inside)? };
        out.push_str(lead);
        out.push_str(&here);
        rest = after;
    }
    Some(out + rest)
}

/// What a text that begins with a bracket has in it, and what follows.
fn enclosed(text: &str) -> Option<(&str, &str)> {
    let mut depth = 0_usize;
    for (place, letter) in text.char_indices() {
        match letter {
            '(' => depth += 1,
            ')' => depth -= 1,
            _ => {}
        }
        if depth == 0 {
            return Some((text.get(1..place)?, text.get(place + 1..)?));
        }
    }
    None
}

/// One call in this notation: a function, a lag, or a series with its lag in brackets.
fn call(name: &str, inside: &str) -> Option<String> {
    if let Ok(shift) = inside.trim().parse::<i64>() {
        return lagged(name, shift.checked_neg()?);
    }
    if name.eq_ignore_ascii_case("lag") {
        let (series, count) = inside.rsplit_once(',').unwrap_or((inside, "1"));
        let count: i64 = count.trim().parse().ok()?;
        return lagged(&in_brackets(&translated(series.trim())?), count);
    }
    let function = name.to_lowercase();
    let (_, steps) = FUNCTIONS.iter().find(|(names, _)| names.contains(&function.as_str()))?;
    let (series, times) =
        match inside.rsplit_once(',').map(|(series, times)| (series, times.trim().parse::<u32>())) {
            Some((series, Ok(times))) => (series, Some(times)),
            _ => (inside, None),
        };
    let steps: Vec<String> = match times {
        // A difference at a lag, as its second argument says.
        Some(lag) if **steps == ["d1"] => vec![format!("d{lag}")],
        Some(_) => return None,
        None => steps.iter().map(|step| (*step).to_owned()).collect(),
    };
    Some(with_steps(&steps_renamed(&translated(series.trim())?), &steps))
}

/// A lag; there are no leads.
fn lagged(series: &str, count: i64) -> Option<String> {
    (count > 0).then(|| format!("{series}[t-{count}]"))
}

/// In brackets where it is more than a name.
fn in_brackets(series: &str) -> String {
    let plain = series.chars().all(|c| c.is_alphanumeric() || c == '_');
    if plain { series.to_owned() } else { format!("({series})") }
}

/// The text with the words for steps that are none replaced.
fn steps_renamed(text: &str) -> String {
    let mut out = String::new();
    let mut word = String::new();
    let mut in_chain = false;
    for letter in text.chars().chain(std::iter::once(' ')) {
        if letter.is_alphanumeric() || letter == '_' {
            word.push(letter);
            continue;
        }
        let renamed = STEPS.iter().find(|(own, _)| in_chain && word.eq_ignore_ascii_case(own));
        out.push_str(renamed.map_or(word.as_str(), |(_, step)| step));
        in_chain = letter == ':' || in_chain && letter == ',';
        word.clear();
        out.push(letter);
    }
    out.pop();
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn functions_become_steps_and_lags() {
        for (text, here) in [
            ("log(x)", "x:ln"),
            ("ln( x )", "x:ln"),
            ("LOG(x)", "x:ln"),
            ("diff(x)", "x:d1"),
            ("diff(x, 12)", "x:d12"),
            ("d(log(x))", "x:ln,d1"),
            ("dlog(x)", "x:ln,d1"),
            ("x(-1)", "x[t-1]"),
            ("lag(x, 1)", "x[t-1]"),
            ("lag(x)", "x[t-1]"),
            ("lag(log(x), 2)", "(x:ln)[t-2]"),
            ("x:log", "x:ln"),
            ("x:diff", "x:d1"),
            ("x:log,diff", "x:ln,d1"),
            ("log(a) - log(b)", "a:ln - b:ln"),
            ("log(a / b)", "(a / b):ln"),
            ("2 * (log(a) - b)", "2 * (a:ln - b)"),
        ] {
            assert_eq!(without_functions(text).as_deref(), Some(here), "{text}");
        }
    }

    #[test]
    fn what_is_no_function_gets_no_hint() {
        for text in [
            "x",
            "x:ln",
            "x +",
            "log(x",
            "f(x)",
            "log()",
            "log(x, y)",
            "lag(x, y)",
            "x)(",
            "x(2)",
            "lag(x, -1)",
            "(a + b)",
        ] {
            assert_eq!(without_functions(text), None, "{text}");
        }
    }
}
