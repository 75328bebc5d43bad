//! Settings from a file, and told without secrets.
//!
//! The file that `INK_CONFIG` names holds lines of `KEY=VALUE`, the keys being those of the environment: what a systemd
//! unit reads as its `EnvironmentFile`. An option goes before the environment, and the environment before the file.

use std::{collections::BTreeMap, fmt::Write};

use anyhow::{Context, ensure};
use clap::{ArgMatches, Command, parser::ValueSource};

/// Settings of the file, by key.
pub type Settings = BTreeMap<String, String>;

/// Read the file that `INK_CONFIG` names; nothing where it names none.
///
/// # Errors
/// A file that is not there, or a line that is no setting.
pub fn file() -> anyhow::Result<Settings> {
    let Some(path) = std::env::var_os("INK_CONFIG") else { return Ok(Settings::new()) };
    let path = std::path::PathBuf::from(path);
    let text = std::fs::read_to_string(&path).with_context(|| path.display().to_string())?;
    read(&text).with_context(|| path.display().to_string())
}

/// Lines of `KEY=VALUE`; blank ones and those that begin with # say nothing.
pub fn read(text: &str) -> anyhow::Result<Settings> {
    let mut settings = Settings::new();
    for (index, line) in text.lines().enumerate() {
        let line = line.trim();
        if line.is_empty() || line.starts_with('#') {
            continue;
        }
        let (key, value) = line.split_once('=').with_context(|| format!("line {} is not KEY=VALUE", index + 1))?;
        let (key, value) = (key.trim(), value.trim());
        ensure!(key.starts_with("INK_"), "line {}: {key} is not a setting; settings start with INK_", index + 1);
        let quoted = value.strip_prefix('"').and_then(|rest| rest.strip_suffix('"'));
        ensure!(settings.insert(key.to_owned(), quoted.unwrap_or(value).to_owned()).is_none(), "{key} is set twice");
    }
    Ok(settings)
}

/// A command line that takes what it is not told from the file.
pub fn with_file(command: Command, file: &Settings) -> Command {
    command.mut_subcommands(|sub| {
        sub.mut_args(|arg| {
            let told = arg.get_env().and_then(|key| file.get(key.to_str()?)).cloned();
            match told {
                Some(value) => arg.default_value(value).required(false),
                None => arg,
            }
        })
    })
}

/// What is never printed: the key, and the password in an address.
fn without_secrets(id: &str, value: &str) -> String {
    if id == "cookie_key" {
        return "set".to_owned();
    }
    match (value.split_once("://"), value.rsplit_once('@')) {
        (Some((scheme, _)), Some((before, host))) => {
            let person = before.split_once("://").and_then(|(_, rest)| rest.split(':').next()).unwrap_or_default();
            format!("{scheme}://{person}:…@{host}")
        }
        _ => value.to_owned(),
    }
}

/// Each setting, its value, and by what it stands.
pub fn told(command: &Command, matches: &ArgMatches, file: &Settings) -> String {
    let mut told = String::new();
    let Some((name, own)) = matches.subcommand() else { return told };
    let args = command.find_subcommand(name).into_iter().flat_map(Command::get_arguments);
    for arg in args {
        let (id, Some(key)) = (arg.get_id().as_str(), arg.get_env().and_then(|key| key.to_str())) else { continue };
        let values: Vec<String> =
            own.get_raw(id).into_iter().flatten().map(|value| without_secrets(id, &value.to_string_lossy())).collect();
        let by = match own.value_source(id) {
            Some(ValueSource::CommandLine) => "option",
            Some(ValueSource::EnvVariable) => "environment",
            Some(_) if file.contains_key(key) => "file",
            _ => "default",
        };
        let value = if values.is_empty() { "-".to_owned() } else { values.join(",") };
        let _ = writeln!(told, "{key:<22} {value:<40} {by}");
    }
    told
}
