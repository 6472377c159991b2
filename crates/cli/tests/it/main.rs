//! The built program, run on files in a temporary folder.

#![allow(clippy::expect_used, clippy::format_collect)]

mod acf;
mod bad_input;
mod breaks;
mod compare;
mod decompose;
mod dialects;
mod explain;
mod figure;
mod fit;
mod forecast;
mod gaps;
mod harness;
mod hostile;
mod inspect;
mod layers;
mod messy;
mod odd_series;
mod orders;
mod outliers;
mod output;
mod panel;
mod plot;
mod randomness;
mod registry;
mod relate;
mod schema;
mod shapes;
mod stationarity;
mod streams;
mod time_column;
mod tour;
mod transform;
mod workbook;
