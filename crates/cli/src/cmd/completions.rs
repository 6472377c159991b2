//! `kandrel completions`: what a shell completes.

use crate::Program;
use crate::context::Context;
use crate::error::CliError;
use clap::CommandFactory;
use clap_complete::{Shell, generate};

pub const ABOUT: &str = "Completions for a shell";
pub const EXAMPLES: &str = "Examples:\n  kandrel completions bash\n  kandrel completions fish";

#[derive(clap::Args)]
pub struct Args {
    /// The shell
    shell: Shell,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut script = Vec::new();
    generate(args.shell, &mut Program::command(), "kandrel", &mut script);
    Ok(context.stdout.write_all(&script)?)
}
