//! The options that say where the data are and which part of them is used.

use clap::{Args, ValueEnum};
use kandrel_core::series::Fill;

use crate::read::{CsvOptions, DateOrder, Decimal, Every, LongOptions, Memory, ReadOptions, TimeOptions};

/// Where the data are and which part is used.
#[derive(Args, Clone)]
pub struct DataArgs {
    /// Delimited text, XLSX, XLS, ODS or JSON with names; `-` for standard input; demo:NAME
    pub file: String,
    /// Time column (found by itself if not named)
    #[arg(long, value_name = "COLUMN", help_heading = "Data")]
    pub time: Option<String>,
    /// Period of the first row, where no column holds periods
    #[arg(long, value_name = "PERIOD", conflicts_with = "time", help_heading = "Data")]
    pub start: Option<String>,
    /// The distance between rows, where no column holds periods
    #[arg(long, value_name = "UNIT", conflicts_with = "time", help_heading = "Data")]
    pub every: Option<Every>,
    /// Whether 03/04/2004 begins with the day or the month (from the column if not given)
    #[arg(long, value_name = "ORDER", help_heading = "Data")]
    pub dates: Option<DateOrder>,
    /// Periods to use, either end open: 2004-01..2019-12, 2004.., ..2019
    #[arg(long, value_name = "FROM..TO", help_heading = "Data")]
    pub sample: Option<String>,
    /// Seasonal period (default: from the frequency; 1 for none)
    #[arg(long, value_name = "N", help_heading = "Data", value_parser = clap::value_parser!(u32).range(1..))]
    pub season: Option<u32>,
    /// Sheet of a workbook: its name, or its number from 1 (the first with a table if not given)
    #[arg(long, value_name = "NAME|N", help_heading = "Data")]
    pub sheet: Option<String>,
    /// Column separator: , ; | or tab (default: detected automatically)
    #[arg(long, value_name = "C", value_parser = delimiter, help_heading = "Data")]
    pub delimiter: Option<u8>,
    /// Decimal separator: . or , (default: detected automatically)
    #[arg(long, value_name = "C", value_parser = decimal, help_heading = "Data")]
    pub decimal: Option<Decimal>,
    /// Encoding of the text, as utf-8 or windows-1252 (found by itself if not named)
    #[arg(long, value_name = "NAME", help_heading = "Data")]
    pub encoding: Option<String>,
    /// Further codes of a missing value, separated by commas: -999,k.a.
    #[arg(
        long,
        value_name = "TOKENS",
        value_delimiter = ',',
        allow_hyphen_values = true,
        help_heading = "Data"
    )]
    pub missing: Vec<String>,
    /// Keep the rows with this value in a column (repeatable): area=north
    #[arg(long, value_name = "COLUMN=VALUE", value_parser = pick, help_heading = "Data")]
    pub pick: Vec<(String, String)>,
    /// One row a series and period: the column of their names and that of the values
    #[arg(long, value_name = "SERIES:VALUE", value_parser = long, help_heading = "Data")]
    pub long: Option<(String, String)>,
    /// One row a year, one column a month or quarter, or the reverse: one series (detected where headed so)
    #[arg(long, conflicts_with_all = ["long", "start", "every"], help_heading = "Data")]
    pub wide: bool,
    /// Memory that reading may take, as 500MB or 8GB (half of the machine's if not given)
    #[arg(long, value_name = "LIMIT", help_heading = "Data")]
    pub memory: Option<Memory>,
    /// What to do with missing values between others (refuse if not given; plot: keep)
    #[arg(long, value_name = "RULE", help_heading = "Data")]
    pub gaps: Option<Gaps>,
    /// Name an expression for use in others (repeatable): `term_spread='a - b'`
    #[arg(long = "let", value_name = "NAME=EXPRESSION", help_heading = "Data")]
    pub names: Vec<String>,
}

fn delimiter(text: &str) -> Result<u8, String> {
    match text {
        "tab" | "\\t" | "\t" => Ok(b'\t'),
        _ => match text.as_bytes() {
            [mark] if mark.is_ascii_punctuation() && *mark != b'"' => Ok(*mark),
            _ => Err("write one mark, as ; or |, or tab".to_owned()),
        },
    }
}

fn pick(text: &str) -> Result<(String, String), String> {
    let (column, value) = text.split_once('=').ok_or("write COLUMN=VALUE, as area=north")?;
    Ok((column.trim().to_owned(), value.trim().to_owned()))
}

fn long(text: &str) -> Result<(String, String), String> {
    let (series, value) = text.rsplit_once(':').ok_or("write SERIES_COLUMN:VALUE_COLUMN")?;
    Ok((series.trim().to_owned(), value.trim().to_owned()))
}

fn decimal(text: &str) -> Result<Decimal, String> {
    match text {
        "." => Ok(Decimal::Point),
        "," => Ok(Decimal::Comma),
        _ => Err("write . or ,".to_owned()),
    }
}

/// What to do with missing values between others.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Gaps {
    /// Report their periods and stop
    Refuse,
    /// Keep them, where the method allows for missing values
    Keep,
    /// Carry the last known value forward
    Previous,
    /// Linear interpolation
    Linear,
    /// Linear interpolation plus the seasonal mean
    Seasonal,
    /// Drop their periods and treat the rest as consecutive
    Drop,
}

impl Gaps {
    /// What takes the place of a missing value; none where it stays open or is left out.
    pub fn fill(self) -> Option<Fill> {
        match self {
            Self::Refuse | Self::Keep | Self::Drop => None,
            Self::Previous => Some(Fill::Previous),
            Self::Linear => Some(Fill::Linear),
            Self::Seasonal => Some(Fill::Seasonal),
        }
    }
}

impl DataArgs {
    /// The names of its options.
    pub fn names() -> Vec<String> {
        let syntax = Self::augment_args(clap::Command::new("data"));
        syntax.get_arguments().filter_map(|argument| argument.get_long().map(str::to_owned)).collect()
    }

    /// How the file is to be read.
    pub fn read_options(&self) -> ReadOptions {
        ReadOptions {
            time: TimeOptions {
                column: self.time.clone(),
                order: self.dates,
                start: self.start.clone(),
                every: self.every,
            },
            encoding: self.encoding.clone(),
            sheet: self.sheet.clone(),
            csv: CsvOptions { delimiter: self.delimiter, decimal: self.decimal },
            missing: self.missing.clone(),
            long: LongOptions { columns: self.long.clone(), picks: self.pick.clone() },
            is_wide: self.wide,
            memory: self.memory,
        }
    }
}
