//! What a look at a series shows, tested rather than guessed: its rhythm, how its
//! spread goes with its level, and the shape of its trend.

mod rhythm;
mod spread;
mod transformation;
mod trend;

pub use rhythm::{Rhythm, rhythm};
pub use spread::{Spread, SpreadAdvice, spread};
pub use transformation::{AdvisedTransformation, Transformation, advised_transformation};
pub use trend::{TrendShape, TrendTest, TrendVerdict, trend, trend_shape};
