//! The whole diagnosis of one series in one row, for many series at once.
//!
//! # Example
//! ```
//! use kandrel_core::num::rng::NormalStream;
//! use kandrel_core::screen::{ScreenOptions, screen};
//! use kandrel_core::series::Series;
//!
//! let noise = Series::undated("noise", NormalStream::new(5, 0).take(120));
//! let found = screen(&noise, &ScreenOptions { season: 1, quick: true })?;
//! assert_eq!(found.diagnosis.assessment.verdict.integration, 0);
//! # Ok::<(), kandrel_core::screen::ScreenError>(())
//! ```

mod diagnose;

pub use diagnose::{ReviewReason, ScreenError, ScreenOptions, Screened, ScreenedModel, screen};
