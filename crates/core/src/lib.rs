//! The statistics of Kandrel.
pub mod corr;
pub mod expr;
pub mod lag;
pub mod nulldist;
pub mod num;
pub mod ols;
pub mod series;
pub mod time;
pub mod unitroot;
