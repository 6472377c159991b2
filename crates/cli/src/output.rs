//! Writing files: whole or not at all, never over another without leave.

use std::fs::File;
use std::io::{Error, Write};
use std::path::{Path, PathBuf};

use crate::error::CliError;
use crate::figure::Drawing;
use crate::interrupt;

/// The only one of several, for a figure that draws one series.
pub fn only_one<T>(all: &[T]) -> Result<&T, CliError> {
    match all {
        [one] => Ok(one),
        _ => {
            Err(CliError::call("--figure draws one series").advise("name one series, or leave out --figure"))
        }
    }
}

/// Files to be written together.
#[derive(Default)]
pub struct Files {
    pending: Vec<(PathBuf, Vec<u8>)>,
    /// A figure that stays in memory.
    figure: Option<Drawing>,
}

impl Files {
    /// Adds a file; nothing is written yet.
    pub fn add(&mut self, path: &Path, contents: Vec<u8>) {
        self.pending.push((path.to_path_buf(), contents));
    }

    /// Keeps a figure in memory.
    pub fn keep_figure(&mut self, drawing: Drawing) {
        self.figure = Some(drawing);
    }

    /// The figure that was kept.
    pub fn take_figure(&mut self) -> Option<Drawing> {
        self.figure.take()
    }

    /// Writes all of them. Every name is checked before the first is written.
    pub fn write(self, force: bool) -> Result<(), CliError> {
        for (place, (path, _)) in self.pending.iter().enumerate() {
            check_target(path, force)?;
            if self.pending.iter().take(place).any(|(other, _)| is_same(other, path)) {
                return Err(CliError::call(format!("{} is named for two results", path.display()))
                    .advise("give each its own file"));
            }
        }
        let staged: Vec<Staged> =
            self.pending.iter().map(|(path, contents)| staged(path, contents)).collect::<Result<_, _>>()?;
        let mut placed: Vec<&Path> = Vec::new();
        for ((path, contents), one) in self.pending.iter().zip(staged) {
            let is_new = !path.exists();
            if let Err(error) = place(path, contents, one, force) {
                // They appear together or not at all; what cannot be removed stays.
                for path in placed {
                    drop(std::fs::remove_file(path));
                }
                return Err(unwritable(path, &error));
            }
            if is_new {
                placed.push(path);
            }
        }
        Ok(())
    }
}

/// Whether two paths are of one file, by the folders they lie in.
pub fn is_same(one: &Path, other: &Path) -> bool {
    let whole = |path: &Path| {
        let folder = folder_of(path).canonicalize().unwrap_or_else(|_| folder_of(path).to_path_buf());
        path.file_name().map(|name| folder.join(name))
    };
    one == other || whole(one) == whole(other)
}

/// Refuses a target that exists (without leave) or has no folder.
pub fn check_target(path: &Path, force: bool) -> Result<(), CliError> {
    let shown = path.display();
    if path.is_dir() {
        return Err(CliError::call(format!("{shown} is a folder")).advise("name a file inside it"));
    }
    if path.is_file() && !force {
        return Err(CliError::call(format!("{shown} exists already"))
            .advise("name another file, or overwrite it with --force"));
    }
    let folder = folder_of(path);
    if !folder.is_dir() {
        return Err(
            CliError::call(format!("there is no folder {}", folder.display())).advise("make it first")
        );
    }
    Ok(())
}

fn folder_of(path: &Path) -> &Path {
    path.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."))
}

/// Why a file cannot be written, and what to do.
pub fn unwritable(path: &Path, error: &Error) -> CliError {
    // An error with more to it would name the temporary file, which is nobody's business.
    let reason = if error.raw_os_error().is_some() { error.to_string() } else { error.kind().to_string() };
    CliError::data(format!("{} cannot be written: {reason}", path.display()))
        .advise("check the folder, its permissions and its space")
}

/// Makes a folder, and those above it.
pub fn make_folder(folder: &Path) -> Result<(), CliError> {
    std::fs::create_dir_all(folder).map_err(|error| {
        CliError::data(format!("the folder {} cannot be made: {error}", folder.display()))
            .advise("name another one, or check the permissions of the one above")
    })
}

/// What is to take the place of a target.
enum Staged {
    /// A complete temporary file next to it.
    File(tempfile::NamedTempFile),
    /// Devices and pipes are written to directly.
    Stream,
}

/// Writes one file, whole or not at all.
///
/// # Errors
/// As the folder, the permissions and the space have them.
pub fn write_whole(
    path: &Path,
    force: bool,
    fill: impl FnOnce(&mut File) -> Result<(), Error>,
) -> Result<(), CliError> {
    let file = temporary(path, fill).map_err(|error| unwritable(path, &error))?;
    place(path, &[], Staged::File(file), force).map_err(|error| unwritable(path, &error))
}

fn staged(path: &Path, contents: &[u8]) -> Result<Staged, CliError> {
    if path.exists() && !path.is_file() {
        return Ok(Staged::Stream);
    }
    let file = temporary(path, |file| file.write_all(contents));
    file.map(Staged::File).map_err(|error| unwritable(path, &error))
}

/// A temporary file next to the target, filled; of the mode that a file in its place has.
fn temporary(
    path: &Path,
    fill: impl FnOnce(&mut File) -> Result<(), Error>,
) -> Result<tempfile::NamedTempFile, Error> {
    let mut builder = tempfile::Builder::new();
    builder.prefix(".kandrel-");
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        // As any new file: the user's mask takes away what it should.
        builder.permissions(std::fs::Permissions::from_mode(0o666));
    }
    let mut file = interrupt::remembered(|| builder.tempfile_in(folder_of(path)))?;
    fill(file.as_file_mut())?;
    // A link is replaced, not followed, so its target's mode is none of ours.
    if let Ok(there) = path.symlink_metadata()
        && there.is_file()
    {
        file.as_file().set_permissions(there.permissions())?;
    }
    Ok(file)
}

fn place(path: &Path, contents: &[u8], staged: Staged, force: bool) -> Result<(), Error> {
    let file = match staged {
        Staged::Stream => return std::fs::write(path, contents),
        Staged::File(file) => file,
    };
    let temporary = file.path().to_path_buf();
    let placed = if force { file.persist(path) } else { file.persist_noclobber(path) };
    interrupt::forget(&temporary);
    placed.map(drop).map_err(|error| error.error)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::error::Status;

    fn folder() -> tempfile::TempDir {
        tempfile::tempdir().expect("a temporary folder")
    }

    fn names(folder: &Path) -> Vec<String> {
        let mut names: Vec<String> = std::fs::read_dir(folder)
            .expect("a readable folder")
            .map(|entry| entry.expect("an entry").file_name().to_string_lossy().into_owned())
            .collect();
        names.sort();
        names
    }

    #[test]
    fn files_are_written_together_or_not_at_all() {
        let folder = folder();
        let mut files = Files::default();
        files.add(&folder.path().join("a.csv"), b"1".to_vec());
        files.add(&folder.path().join("missing/b.csv"), b"2".to_vec());
        assert_eq!(files.write(false).expect_err("no such folder").status, Status::Call);
        assert!(names(folder.path()).is_empty());
    }

    #[test]
    fn nothing_is_written_over_another_file_without_leave() {
        let folder = folder();
        let path = folder.path().join("a.csv");
        std::fs::write(&path, "old").expect("a writable folder");
        let write = |force: bool| {
            let mut files = Files::default();
            files.add(&path, b"new".to_vec());
            files.write(force)
        };
        let refusal = write(false).expect_err("it exists").to_string();
        assert!(refusal.contains("exists already") && refusal.contains("--force"), "{refusal}");
        assert_eq!(std::fs::read(&path).expect("still there"), b"old");
        write(true).expect("with leave");
        assert_eq!(std::fs::read(&path).expect("still there"), b"new");
        assert_eq!(names(folder.path()), ["a.csv"]);
    }

    #[test]
    fn one_name_cannot_hold_two_results() {
        let folder = folder();
        let path = folder.path().join("a.svg");
        let mut files = Files::default();
        files.add(&path, Vec::new());
        files.add(&folder.path().join(".").join("a.svg"), Vec::new());
        let refusal = files.write(true).expect_err("named twice").to_string();
        assert!(refusal.contains("named for two results"), "{refusal}");
        assert!(!path.exists());
    }

    #[cfg(unix)]
    #[test]
    fn a_mode_is_kept_and_a_link_is_not_followed() {
        use std::os::unix::fs::{PermissionsExt, symlink};
        let folder = folder();
        let (own, outside, link) = (
            folder.path().join("own.csv"),
            folder.path().join("outside.csv"),
            folder.path().join("link.csv"),
        );
        std::fs::write(&own, "old").expect("writable");
        std::fs::set_permissions(&own, std::fs::Permissions::from_mode(0o600)).expect("own file");
        std::fs::write(&outside, "foreign").expect("writable");
        symlink(&outside, &link).expect("a link");
        let mut files = Files::default();
        files.add(&own, b"new".to_vec());
        files.add(&link, b"new".to_vec());
        files.write(true).expect("with leave");
        assert_eq!(std::fs::metadata(&own).expect("there").permissions().mode() & 0o777, 0o600);
        assert_eq!(std::fs::read(&outside).expect("there"), b"foreign");
        assert_eq!(std::fs::read(&link).expect("there"), b"new");
    }

    #[test]
    fn a_folder_is_no_target() {
        let folder = folder();
        let refusal = check_target(folder.path(), true).expect_err("a folder").to_string();
        assert!(refusal.contains("is a folder"), "{refusal}");
        assert!(check_target(Path::new("new-file-here.csv"), false).is_ok());
    }

    #[test]
    fn a_figure_of_several_series_is_refused() {
        assert_eq!(only_one(&[7]).ok(), Some(&7));
        assert!(only_one(&[1, 2]).is_err() && only_one::<u8>(&[]).is_err());
    }

    #[test]
    fn a_figure_in_memory_is_taken_once() {
        let mut files = Files::default();
        files.keep_figure(Drawing::new(10.0, 10.0, "a title", ""));
        assert_eq!(files.take_figure().map(|drawing| drawing.title).as_deref(), Some("a title"));
        assert!(files.take_figure().is_none());
    }
}
