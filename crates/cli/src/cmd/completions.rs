//! `kandrel completions`: how a shell asks what can follow.

use clap_complete::Shell;
use clap_complete::env::Shells;

use crate::context::Context;
use crate::error::CliError;

pub const ABOUT: &str = "Completions for a shell";
pub const EXAMPLES: &str = "Examples:\n  kandrel completions bash\n  kandrel completions fish";

/// Set by the shell when it asks what can follow.
pub const VARIABLE: &str = "KANDREL_COMPLETE";

/// Bash cuts words at colons, so it hands over the line.
const BASH: &str = "\
_kandrel() {
    COMPREPLY=()
    local word
    while IFS= read -r word; do
        COMPREPLY+=(\"$word\")
    done < <(KANDREL_COMPLETE=bash \"$1\" -- \"${COMP_LINE:0:COMP_POINT}\" 2>/dev/null)
    if [[ \"${COMPREPLY-}\" == *[=/:] ]]; then
        compopt -o nospace 2>/dev/null
    fi
}
complete -o bashdefault -o default -F _kandrel kandrel
";

#[derive(clap::Args)]
pub struct Args {
    /// The shell
    shell: Shell,
}

pub fn run(args: &Args, context: &mut Context<'_>) -> Result<(), CliError> {
    let mut script = Vec::new();
    let shells = Shells::builtins();
    match shells.completer(&args.shell.to_string()).filter(|_| args.shell != Shell::Bash) {
        Some(shell) => shell.write_registration(VARIABLE, "kandrel", "kandrel", "kandrel", &mut script)?,
        None => script.extend_from_slice(BASH.as_bytes()),
    }
    Ok(context.stdout.write_all(&script)?)
}
