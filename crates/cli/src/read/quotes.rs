//! Stray quotes in delimited text, which would make lines of data vanish inside a cell.

use std::borrow::Cow;

use ::csv::StringRecord;

use super::edges;
use crate::error::CliError;

/// Where a scan of delimited text is.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Place {
    FieldStart,
    Plain,
    Quoted,
    /// Behind a quote inside a quoted field: its end, or the first of two.
    AfterQuote,
}

/// How many records a text has: lines that are not empty, those inside quotes belonging to the one before.
///
/// # Errors
/// It ends inside a quoted field.
pub fn records(source: &str, text: &[u8], delimiter: u8) -> Result<usize, CliError> {
    let (mut place, mut line, mut opened) = (Place::FieldStart, 1, 1);
    let (mut count, mut is_empty) = (0, true);
    for byte in text {
        let ends_field = *byte == delimiter || *byte == b'\n' || *byte == b'\r';
        place = match place {
            Place::FieldStart if *byte == b'"' => {
                opened = line;
                Place::Quoted
            }
            Place::Quoted if *byte == b'"' => Place::AfterQuote,
            Place::AfterQuote if *byte == b'"' => Place::Quoted,
            Place::Quoted => Place::Quoted,
            _ if ends_field => Place::FieldStart,
            _ => Place::Plain,
        };
        let is_end = matches!(*byte, b'\n' | b'\r') && place != Place::Quoted;
        count += usize::from(is_end && !is_empty);
        is_empty = is_end || (is_empty && matches!(*byte, b'\n' | b'\r'));
        line += usize::from(*byte == b'\n');
    }
    if place != Place::Quoted {
        return Ok(count + usize::from(!is_empty));
    }
    Err(CliError::data(format!("{source}, line {opened}: a quote is opened and never closed"))
        .advise("take the quote out, or close it: all lines behind it would be one cell"))
}

/// Text without the blanks between a delimiter and the quotes of a field, which would make the quotes part of it.
pub fn without_blanks_outside(text: &str, delimiter: u8) -> Cow<'_, str> {
    let mark = char::from(delimiter);
    if !has_blanks_outside(text, mark) {
        return Cow::Borrowed(text);
    }
    let mut out = String::with_capacity(text.len());
    let mut place = Place::FieldStart;
    // Blanks whose fate the next letter decides.
    let mut blanks = String::new();
    for letter in text.chars() {
        let ends_field = letter == mark || letter == '\n' || letter == '\r';
        let waits = matches!(place, Place::FieldStart | Place::AfterQuote);
        if waits && !ends_field && is_blank(letter) {
            blanks.push(letter);
            continue;
        }
        let next = match place {
            Place::FieldStart if letter == '"' => Place::Quoted,
            Place::Quoted if letter == '"' => Place::AfterQuote,
            Place::AfterQuote if letter == '"' && blanks.is_empty() => Place::Quoted,
            Place::Quoted => Place::Quoted,
            _ if ends_field => Place::FieldStart,
            _ => Place::Plain,
        };
        let is_outside = (place == Place::FieldStart && next == Place::Quoted)
            || (place == Place::AfterQuote && next == Place::FieldStart);
        if !is_outside {
            out.push_str(&blanks);
        }
        blanks.clear();
        out.push(letter);
        place = next;
    }
    Cow::Owned(out)
}

fn is_blank(letter: char) -> bool {
    letter == ' ' || letter == '\t'
}

/// Whether a quote stands behind a blank behind a delimiter or a new line, or before one before them.
fn has_blanks_outside(text: &str, mark: char) -> bool {
    let is_end = |letter: char| letter == mark || letter == '\n' || letter == '\r';
    text.match_indices('"').any(|(at, _)| {
        let (before, after) = (&text[..at], &text[at + 1..]);
        let blank_before = before.ends_with(is_blank) && !before.ends_with(mark);
        let blank_after = after.starts_with(is_blank) && !after.starts_with(mark);
        let bare = |letter: char| is_blank(letter) && letter != mark;
        let starts = blank_before && before.trim_end_matches(bare).chars().next_back().is_none_or(is_end);
        let ends = blank_after && after.trim_start_matches(bare).chars().next().is_none_or(is_end);
        starts || ends
    })
}

/// Lines of data inside quoted fields.
pub struct Swallowed {
    delimiter: u8,
    /// Numbers of fields in records that hold no line break.
    usual: Vec<usize>,
    /// Line of the record, and what a line inside it would be by itself.
    found: Vec<(u64, Inside)>,
}

/// A line inside a quoted field, as it would be without the quotes.
struct Inside {
    fields: usize,
    /// Whether it ends inside the quotes, and holds a number.
    is_whole_with_number: bool,
    /// Whether its first field is a number or a period.
    begins_with_data: bool,
}

impl Swallowed {
    pub fn new(delimiter: u8) -> Self {
        Self { delimiter, usual: Vec::new(), found: Vec::new() }
    }

    /// Notes a record that begins in a line.
    pub fn look_at(&mut self, line: u64, record: &StringRecord) {
        let mut is_whole = true;
        for (place, field) in record.iter().enumerate().filter(|(_, field)| field.contains('\n')) {
            is_whole = false;
            let behind = record.len() - place - 1;
            let lines: Vec<&str> = field.lines().collect();
            for (number, text) in lines.iter().enumerate().skip(1) {
                let is_last = number + 1 == lines.len();
                self.found.push((line, self.inside(text, is_last.then_some(behind))));
            }
        }
        if is_whole && self.usual.len() < USUAL {
            self.usual.push(record.len());
        }
    }

    /// What a line would be by itself: `behind` are the fields of the record behind the quotes, which belong to its last line.
    fn inside(&self, text: &str, behind: Option<usize>) -> Inside {
        let fields: Vec<&str> =
            text.split(char::from(self.delimiter)).map(|field| field.trim().trim_matches('"')).collect();
        let is_number = |field: &&str| edges::is_number(&field.replace(' ', "."));
        Inside {
            fields: fields.len() + behind.unwrap_or(0),
            is_whole_with_number: behind.is_none() && fields.iter().any(is_number),
            begins_with_data: fields.first().is_some_and(|first| edges::is_data(first)),
        }
    }

    /// Refuses a file in which a field holds a line like the others.
    pub fn check(&self, source: &str) -> Result<(), CliError> {
        let usual = super::table::usual(&self.usual);
        let is_like_others = |one: &Inside| {
            one.fields == usual && usual > 1 && (one.is_whole_with_number || one.begins_with_data)
        };
        match self.found.iter().find(|(_, one)| is_like_others(one)) {
            None => Ok(()),
            Some((line, _)) => Err(CliError::data(format!(
                "{source}: lines of data stand inside a cell that begins with a quote near line {line}"
            ))
            .advise("take the stray quote out, or double it if it belongs to the cell")),
        }
    }
}

/// Records from which the usual number of fields is taken.
const USUAL: usize = 1000;

#[cfg(test)]
mod tests {
    use ::csv::ReaderBuilder;
    use proptest::prelude::*;

    use super::records;
    use crate::read::Budget;
    use crate::read::csv::{CsvOptions, parse};

    fn refusal(text: &str) -> Option<String> {
        parse("a.csv", &text.into(), &CsvOptions::default(), &Budget::new(None))
            .err()
            .map(|error| error.to_string())
    }

    proptest! {
        /// Whatever the quotes, as many records are read as there are lines that are not inside quotes.
        #[test]
        fn no_line_is_lost_on_the_way(text in "[a1,\" \n\r]{0,40}") {
            let mut reader =
                ReaderBuilder::new().flexible(true).has_headers(false).from_reader(text.as_bytes());
            if let Ok(expected) = records("a.csv", text.as_bytes(), b',') {
                prop_assert_eq!(reader.records().count(), expected, "{:?}", text);
            }
        }
    }

    fn rows(stray: &[usize]) -> String {
        let row = |t: usize| {
            let quote = if stray.contains(&t) { "\"" } else { "" };
            format!("{},{quote}gauge {t},{t}.5\n", 1000 + t)
        };
        format!("year,note,x\n{}", (0..60).map(row).collect::<String>())
    }

    #[test]
    fn a_quote_that_is_never_closed_is_refused_with_its_line() {
        let text = refusal(&rows(&[40])).expect("a refusal");
        assert!(text.contains("a.csv, line 42: a quote is opened and never closed"), "{text}");
    }

    #[test]
    fn a_stray_quote_that_swallows_one_line_is_refused() {
        let with_quoted_next = rows(&[20]).replace("1021,gauge 21,", "1021,\"gauge 21\",");
        let text = refusal(&with_quoted_next).expect("a refusal");
        assert!(text.contains("lines of data stand inside a cell") && text.contains("line 22"), "{text}");
        let next_in_quotes = rows(&[20, 21]);
        assert!(refusal(&next_in_quotes).is_some());
    }

    #[test]
    fn two_stray_quotes_that_swallow_lines_are_refused() {
        let text = refusal(&rows(&[20, 30])).expect("a refusal");
        assert!(text.contains("lines of data stand inside a cell"), "{text}");
    }

    #[test]
    fn blanks_outside_quotes_are_no_part_of_a_field() {
        for (text, expected) in [
            ("a, \"b, c\" ,d\n", "a,\"b, c\",d\n"),
            (" \"a\",b\n", "\"a\",b\n"),
            ("a,\" b \"\n", "a,\" b \"\n"),
            ("a, \"b \"\" c\"\t\n", "a,\"b \"\" c\"\n"),
            ("a,5\" pipe, b\n", "a,5\" pipe, b\n"),
            ("a, \"x\" y,\"z\" \n", "a,\"x\" y,\"z\"\n"),
        ] {
            assert_eq!(super::without_blanks_outside(text, b','), expected, "{text}");
        }
        // Where tabs are delimiters they are no blanks.
        assert_eq!(super::without_blanks_outside("a\t\"b\"\t\"c\"", b'\t'), "a\t\"b\"\t\"c\"");
    }

    #[test]
    fn cells_of_several_lines_and_doubled_quotes_are_read() {
        let several =
            "note,year,x\n\"a\nb\",2001,1\n\"first, 2\nthird, 4\",2002,2\n\"2003 was\n bad\",2003,2\n";
        assert_eq!(refusal(several), None);
        let text = "year,\"load\n(tons)\nper day\",note\n2001,1.5,\"the \"\"old\"\" quay\"\n2002,2.5,\"first\nsecond, third\nfourth\"\n2003,2,a\n";
        assert_eq!(refusal(text), None);
    }
}
