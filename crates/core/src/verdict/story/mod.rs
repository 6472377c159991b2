//! Stories of where a series comes from, weighed by exact likelihood.

mod dates;
mod dynamics;
mod fitted;
mod likelihood;
mod memory;
mod weigh;

pub use fitted::fixed_part;
pub use memory::{FractionalNoise, fractional_noise};
pub use weigh::{Evidence, Kind, LongMemory, Story, StoryProbability, StoryWeights, evidence, weigh_stories};
