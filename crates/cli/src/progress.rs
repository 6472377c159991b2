//! Progress of long work, on standard error and only where that is a terminal.

use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};

/// A bar for a known number of steps; it goes away with the work.
pub struct Progress(ProgressBar);

impl Progress {
    /// Nothing is shown where `quiet`, or where standard error is no terminal.
    pub fn new(what: &'static str, steps: u64, quiet: bool) -> Self {
        let target = if quiet { ProgressDrawTarget::hidden() } else { ProgressDrawTarget::stderr() };
        let bar = ProgressBar::with_draw_target(Some(steps), target);
        let style = ProgressStyle::with_template("{msg} [{bar:30}] {pos}/{len}, {eta} left");
        bar.set_style(style.unwrap_or_else(|_| ProgressStyle::default_bar()).progress_chars("=> "));
        bar.set_message(what);
        Self(bar)
    }

    /// A line for work that cannot say how far it is; it goes away with the work.
    pub fn waiting(what: String) -> Self {
        let bar = ProgressBar::with_draw_target(None, ProgressDrawTarget::stderr());
        bar.set_style(ProgressStyle::with_template("{msg}").unwrap_or_else(|_| ProgressStyle::default_bar()));
        bar.set_message(what);
        bar.tick();
        Self(bar)
    }

    /// That number of steps are done of those that there are.
    pub fn reach_of(&self, steps: u64, all: u64) {
        self.0.set_length(all);
        self.0.set_position(steps);
    }

    /// One step is done.
    pub fn step(&self) {
        self.0.inc(1);
    }
}

impl Drop for Progress {
    fn drop(&mut self) {
        self.0.finish_and_clear();
    }
}
