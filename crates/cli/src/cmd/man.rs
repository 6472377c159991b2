//! `kandrel man`: manual pages.

use std::path::PathBuf;

use crate::Program;
use crate::context::Context;
use crate::error::CliError;
use crate::output::{Files, make_folder};
use clap::{Command, CommandFactory};
use clap_mangen::Man;

pub const ABOUT: &str = "The manual page, or one for each command into a folder";
pub const EXAMPLES: &str = "Examples:\n  kandrel man\n  kandrel man acf\n  kandrel man --into man1";

#[derive(clap::Args)]
pub struct Args {
    /// The command whose page is written (the program's own if not given)
    command: Option<String>,
    /// Folder for all pages
    #[arg(long, value_name = "DIR", conflicts_with = "command", help_heading = "Output")]
    into: Option<PathBuf>,
    /// Overwrite files that exist
    #[arg(long, help_heading = "Output")]
    force: bool,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut whole = Program::command();
    whole.build();
    let Some(folder) = &args.into else {
        let page = match &args.command {
            None => page(whole)?,
            Some(name) => page(named(&whole, name)?)?,
        };
        return Ok(context.stdout.write_all(&page)?);
    };
    make_folder(folder)?;
    let mut files = Files::default();
    let names: Vec<String> = whole.get_subcommands().map(|one| one.get_name().to_owned()).collect();
    for name in names.iter().filter(|name| *name != "help") {
        files.add(&folder.join(format!("kandrel-{name}.1")), page(named(&whole, name)?)?);
    }
    files.add(&folder.join("kandrel.1"), page(whole)?);
    files.write(args.force)
}

/// A command with its whole name.
fn named(whole: &Command, name: &str) -> Result<Command, CliError> {
    let found = whole.get_subcommands().find(|one| one.get_name() == name).cloned();
    let found = found.ok_or_else(|| {
        CliError::call(format!("there is no command {name}")).advise("kandrel --help lists them")
    })?;
    Ok(found.display_name(format!("kandrel-{name}")).bin_name(format!("kandrel {name}")))
}

fn page(command: Command) -> Result<Vec<u8>, CliError> {
    let mut text = Vec::new();
    Man::new(command)
        .render(&mut text)
        .map_err(|error| CliError::computation(format!("the page cannot be written: {error}")))?;
    Ok(text)
}
