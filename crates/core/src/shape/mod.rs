//! What a look at a series shows, tested rather than guessed: its seasonality, how its
//! variance depends on the level, and the shape of its trend.

mod seasonality;
mod transformation;
mod trend;
mod variance_level;

pub use seasonality::{DetectedSeasonality, seasonality};
pub use transformation::{AdvisedTransformation, Transformation, advised_transformation};
pub use trend::{TrendShape, TrendTest, TrendVerdict, trend, trend_shape};
pub use variance_level::{TransformationAdvice, VarianceLevelRelation, variance_level};
